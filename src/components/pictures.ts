/** The pictures that ship with the site, by name. A test holds this list against the media folder. */
export const pictureNames = [
  'accordion',
  'cello',
  'clarinet',
  'drum',
  'flute',
  'guitar',
  'harp',
  'marimba',
  'trumpet',
  'violin',
  'shelves',
  'lesson',
  'children',
  'workshop',
  'letter',
  'town',
] as const

/** The films that ship with it. */
export const filmNames = ['bow'] as const
