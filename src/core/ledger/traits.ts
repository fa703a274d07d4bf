import type { Visit } from './visit'

/**
 * What is known of visitors where they were first exposed: by each of these, and never by two at once, a test’s numbers are
 * divided. They are of that moment for good, whatever the visitor comes with later.
 */
export const traits = ['device', 'source', 'region', 'language', 'returning'] as const
export type Trait = (typeof traits)[number]
/** Beside them: whether a named segment fitted, as was written down when the version was given. */
export const SEGMENT = 'segment'
export type Traits = { readonly [Of in Trait]: string | null }

/** Nobody has been heard of where there is no visit: events of a rehearsal, or from elsewhere. */
export function traitsIn(visit: Visit | null): Traits {
  if (visit === null) return { device: null, source: null, region: null, language: null, returning: null }
  const { device, source, region, language, number } = visit
  return { device, source, region, language, returning: number > 1 ? 'returning' : 'new' }
}
