import type { Attribute, Condition } from '@/core/decide'

/** What the pages of Pinemoth may say of whoever is signed in there. */
export const demoAttributes: readonly Attribute[] = [
  { name: 'membership', values: ['player', 'family', 'school'] },
  { name: 'signed-in', values: ['yes'] },
]

/** Kinds of visitors whom the staff of Pinemoth speak of. */
export const demoSegments: readonly { readonly name: string; readonly condition: Condition }[] = [
  { name: 'Looked at instruments', condition: { kind: 'pageTypeSeen', pageType: 'Instrument' } },
  {
    name: 'Near the workshop',
    condition: {
      kind: 'any',
      of: [
        { kind: 'region', region: 'XP-FE' },
        { kind: 'region', region: 'XP-HA' },
      ],
    },
  },
  {
    name: 'Far away, on a phone',
    condition: {
      kind: 'all',
      of: [
        { kind: 'device', device: 'phone' },
        { kind: 'none', of: [{ kind: 'region', region: 'XP' }] },
      ],
    },
  },
]

/** What teachers are shown of the page for schools, by the names of segments, in the order of the rules. */
export const demoRules: readonly { readonly segment: string; readonly name: string; readonly words: string }[] = [
  { segment: 'Near the workshop', name: 'Neighbours', words: 'Thirty violins, tuned where you can watch' },
  { segment: 'Looked at instruments', name: 'Lookers', words: 'The one you looked at, thirty times' },
]
