import type { Attribute, Condition } from '@/core/decide'
import type { DocumentId } from '@/core/ids'
import type { MadeUp } from '@/core/lens'

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

/** A part that is shown by rule, and what became of it. */
export interface DemoPart {
  readonly document: string
  readonly node: string
  readonly goal: string
  readonly watched?: readonly string[]
  readonly visitors: number
  readonly days: number
  /** In their order; a segment is named by its name. */
  readonly rules: readonly {
    readonly name: string
    readonly words: string
    readonly condition: Condition | { readonly segmentNamed: string }
    /** Of those who are held out, and of those who are shown its version. */
    readonly rates: readonly [held: number, shown: number]
  }[]
}

/** Parts of Pinemoth's pages that are shown by rule, each with weeks of visitors behind it. */
export const demoParts: readonly DemoPart[] = [
  {
    document: 'home',
    node: 'home-lesson-title',
    goal: 'lesson-booked',
    watched: ['plans-seen'],
    visitors: 7000,
    days: 21,
    rules: [
      {
        name: 'Lookers',
        words: 'Try the one you have looked at',
        condition: { segmentNamed: 'Looked at instruments' },
        rates: [0.07, 0.19],
      },
      {
        name: 'In the evening',
        words: 'Lessons until nine tonight',
        condition: { kind: 'hours', from: 18, to: 22 },
        rates: [0.07, 0.075],
      },
    ],
  },
  {
    document: 'home',
    node: 'home-van-title',
    goal: 'reserved',
    visitors: 15_000,
    days: 24,
    rules: [
      {
        name: 'Harrowby',
        words: 'In Harrowby on Tuesdays only',
        condition: { kind: 'region', region: 'XP-HA' },
        rates: [0.17, 0.05],
      },
    ],
  },
  {
    document: 'schools',
    node: 'schools-title',
    goal: 'wrote',
    visitors: 1900,
    days: 12,
    rules: [
      {
        name: 'Neighbours',
        words: 'Thirty violins, tuned where you can watch',
        condition: { segmentNamed: 'Near the workshop' },
        rates: [0.06, 0.09],
      },
      {
        name: 'Lookers',
        words: 'The one you looked at, thirty times',
        condition: { segmentNamed: 'Looked at instruments' },
        rates: [0.06, 0.09],
      },
    ],
  },
]

/** Visitors as whom the staff look at the site. */
export const demoVisitors: readonly { readonly name: string; readonly visitor: Partial<MadeUp> }[] = [
  {
    name: 'Parent on a phone, from the school letter',
    visitor: {
      ...{ device: 'phone', region: 'XP-ST', hour: 19 },
      utm: { source: 'school-letter', medium: 'paper', campaign: 'First notes', term: '', content: '' },
    },
  },
  { name: 'Neighbour in Harrowby', visitor: { region: 'XP-HA', visits: 3, hour: 11 } },
  {
    name: 'Looked at a cello, now unsure',
    visitor: { device: 'tablet', pagesSeen: ['cello', 'plans'] as DocumentId[], hour: 21, visits: 2 },
  },
]
