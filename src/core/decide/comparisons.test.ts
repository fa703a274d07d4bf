import type { DocumentId, GoalId, SegmentId, TestId, VersionId } from '../ids'
import {
  comparisonNamed,
  comparisonNames,
  comparisonSchema,
  conditionWords,
  noUtm,
  ORIGINAL,
  straight,
  stranger,
  type Comparison,
  type ComparisonName,
  type Surroundings,
  type Visitor,
} from '.'

const [harp, plans] = ['harp', 'plans'] as [DocumentId, DocumentId]
const site: Surroundings = {
  pages: [
    { id: harp, title: 'The harp' },
    { id: plans, title: 'Plans' },
  ],
  pageTypes: ['Instrument', 'Plan'],
  goals: [
    { id: 'reserved' as GoalId, name: 'Reserved' },
    { id: 'asked' as GoalId, name: 'Asked' },
  ],
  attributes: [
    { name: 'membership', values: ['player', 'family'] },
    { name: 'school', values: ['yes'] },
    { name: 'empty', values: [] },
  ],
  tests: [
    {
      id: 't-1' as TestId,
      name: 'Words',
      versions: [
        { id: ORIGINAL, name: 'Original' },
        { id: 'bold' as VersionId, name: 'Bold' },
      ],
    },
    { id: 't-2' as TestId, name: 'Looks', versions: [{ id: 'calm' as VersionId, name: 'Calm' }] },
  ],
  segments: [
    { id: 'parents' as SegmentId, name: 'Parents' },
    { id: 'far' as SegmentId, name: 'Far away' },
  ],
  regions: [
    { code: 'XP-FE', name: 'Fenmouth' },
    { code: 'GB-WLS', name: 'Wales' },
  ],
}
const empty: Surroundings = { pages: [], pageTypes: [], goals: [], attributes: [], tests: [], segments: [], regions: [] }

const cameBy = (marks: Partial<Visitor['beginning']['utm']>, more: Partial<Visitor['beginning']> = {}): Partial<Visitor> => ({
  beginning: { ...straight, utm: { ...noUtm, ...marks }, ...more },
})
const from = (source: string, referrer = ''): Partial<Visitor> => ({ beginning: { ...straight, source, referrer } })
const seen = (page: DocumentId, pageType: string): Partial<Visitor> => ({ pagesSeen: [{ page, pageType }] })
const ever = (page: DocumentId, pageType: string, visits = 1, daysAgo = 3): Partial<Visitor> => ({
  pagesEver: [{ page, pageType, visits, daysAgo }],
})
const at = (moment: Partial<Visitor['moment']>): Partial<Visitor> => ({ moment: { ...stranger.moment, ...moment } })
const said = (...pairs: [string, string][]): Partial<Visitor> => ({ attributes: new Map(pairs) })
const keeps = (...pairs: [string, string][]): Partial<Visitor> => ({ kept: new Map(pairs as [TestId, VersionId][]) })

interface Truth {
  readonly of: object
  readonly says: string
  /** For whom it holds and for whom it does not: strangers, but for this. */
  readonly holds: readonly Partial<Visitor>[]
  readonly not: readonly Partial<Visitor>[]
  /** The word that is changed, counted from none, what it is changed to, and what comes of it: nothing where it is refused. */
  readonly changes: readonly (readonly [number, unknown, object | null])[]
  readonly begins: object | null
  /** On a site that has nothing yet. */
  readonly bare: object | null
  readonly remembered?: false
}

const truths: { readonly [Name in ComparisonName]: Truth } = {
  pageTypeSeen: {
    ...{ of: { pageType: 'Instrument', within: 'ever' }, says: 'saw a page of type Instrument in this visit or before' },
    ...{ holds: [ever(harp, 'Instrument')], not: [seen(harp, 'Instrument'), ever(plans, 'Plan'), {}] },
    changes: [
      [0, 'Plan', { pageType: 'Plan' }],
      [1, 'visit', { within: 'visit' }],
      [1, 'later', null],
    ],
    ...{ begins: { pageType: 'Instrument' }, bare: { pageType: 'Page' } },
  },
  pageSeen: {
    ...{ of: { page: 'harp' }, says: 'saw the page “The harp” in this visit' },
    ...{ holds: [seen(harp, '')], not: [seen(plans, ''), ever(harp, ''), {}] },
    changes: [
      [0, 'plans', { page: 'plans' }],
      [0, 'gone', null],
      [1, 'ever', { within: 'ever' }],
    ],
    ...{ begins: { page: 'harp' }, bare: null },
  },
  seenOften: {
    of: { what: { kind: 'type', pageType: 'Instrument' }, visits: 2, days: 1 },
    says: 'looked at any page of type Instrument in at least 2 visits, the last of them at most 1 day ago',
    holds: [
      ever(harp, 'Instrument', 2, 1),
      {
        pagesEver: [
          { page: harp, pageType: 'Instrument', visits: 1, daysAgo: 9 },
          { page: plans, pageType: 'Instrument', visits: 1, daysAgo: 0 },
        ],
      },
    ],
    not: [ever(harp, 'Instrument', 2, 2), ever(harp, 'Instrument', 1, 1), ever(harp, 'Plan', 9, 0), {}],
    changes: [
      [0, 'page harp', { what: { kind: 'page', page: 'harp' } }],
      [0, 'type Plan', { what: { kind: 'type', pageType: 'Plan' } }],
      [0, 'page gone', null],
      [1, 1, { visits: 1 }],
      [1, 0, null],
      [1, 51, null],
      [2, 365, { days: 365 }],
      [2, 366, null],
    ],
    ...{ begins: { what: { kind: 'type', pageType: 'Instrument' }, visits: 2, days: 30 }, bare: null, remembered: false },
  },
  onPageType: {
    ...{ of: { pageType: 'Instrument' }, says: 'is on a page of type Instrument' },
    ...{ holds: [{ at: { page: harp, pageType: 'Instrument' } }], not: [{ at: { page: plans, pageType: 'Plan' } }, {}] },
    changes: [
      [0, 'Plan', { pageType: 'Plan' }],
      [0, 'Poem', null],
    ],
    ...{ begins: { pageType: 'Instrument' }, bare: null, remembered: false },
  },
  goalReached: {
    ...{ of: { goal: 'reserved', reached: false }, says: 'the goal “Reserved” was not reached yet' },
    ...{ holds: [{}, { goalsReached: ['asked' as GoalId] }], not: [{ goalsReached: ['reserved' as GoalId] }] },
    changes: [
      [0, 'asked', { goal: 'asked' }],
      [0, 'gone', null],
      [1, 'reached', { reached: true }],
    ],
    ...{ begins: { goal: 'reserved', reached: true }, bare: null },
  },
  given: {
    ...{ of: { test: 't-1', version: 'bold', given: true }, says: 'was given ‘Bold’ in “Words” before' },
    holds: [keeps(['t-1', 'bold']), keeps(['t-1-g2', 'bold'])],
    not: [keeps(['t-1', 'original']), keeps(['t-10', 'bold']), keeps(['t-2', 'bold']), {}],
    changes: [
      [0, 't-2 calm', { test: 't-2', version: 'calm' }],
      [0, 't-1 original', { version: 'original' }],
      [0, 't-2 bold', null],
      [1, 'not', { given: false }],
    ],
    ...{ begins: { test: 't-1', version: 'bold', given: true }, bare: null },
  },
  returning: {
    ...{ of: { returning: true }, says: 'is here again', holds: [{ visits: 2 }], not: [{ visits: 1 }] },
    changes: [
      [0, 'new', { returning: false }],
      [0, 'old', null],
    ],
    ...{ begins: { returning: false }, bare: { returning: false } },
  },
  visits: {
    ...{ of: { are: 'atMost', times: 1 }, says: 'has come at most 1 time, this visit counted' },
    ...{ holds: [{ visits: 1 }], not: [{ visits: 2 }] },
    changes: [
      [0, 'atLeast', { are: 'atLeast' }],
      [1, 1000, { times: 1000 }],
      [1, 1001, null],
      [1, 0, null],
      [1, 1.5, null],
    ],
    ...{ begins: { are: 'atLeast', times: 3 }, bare: { are: 'atLeast', times: 3 } },
  },
  device: {
    ...{ of: { device: 'tablet' }, says: 'comes with a tablet', holds: [{ device: 'tablet' }], not: [{ device: 'phone' }] },
    changes: [
      [0, 'computer', { device: 'computer' }],
      [0, 'watch', null],
    ],
    ...{ begins: { device: 'phone' }, bare: { device: 'phone' } },
  },
  region: {
    ...{ of: { region: 'GB' }, says: 'is in United Kingdom' },
    ...{ holds: [{ region: 'GB' }, { region: 'GB-WLS' }], not: [{ region: 'GBX' }, { region: 'XP-FE' }, { region: null }] },
    changes: [[0, 'XP-FE', { region: 'XP-FE' }]],
    ...{ begins: { region: 'XP-FE' }, bare: null },
  },
  language: {
    ...{ of: { language: 'cy' }, says: 'reads in Welsh', holds: [{ language: 'cy' }], not: [{ language: 'en' }, {}] },
    changes: [[0, 'de', { language: 'de' }]],
    ...{ begins: { language: 'en' }, bare: { language: 'en' } },
  },
  source: {
    ...{ of: { source: 'letter' }, says: 'came from a source named “letter”' },
    ...{ holds: [from('letter'), from('Letter')], not: [from('letters'), {}] },
    changes: [
      [0, 'direct', { source: 'direct' }],
      [0, 'elsewhere', null],
      [1, ' board ', { source: 'board' }],
      [1, ' ', null],
      [1, 'b'.repeat(41), null],
    ],
    ...{ begins: { source: 'search' }, bare: { source: 'search' } },
  },
  campaign: {
    ...{ of: { campaign: 'Spring' }, says: 'came by the campaign “Spring”' },
    ...{ holds: [cameBy({ campaign: 'spring' })], not: [cameBy({ campaign: 'autumn' }), cameBy({ source: 'spring' }), {}] },
    changes: [
      [0, 'Autumn', { campaign: 'Autumn' }],
      [0, '', null],
      [0, 'c'.repeat(81), null],
    ],
    ...{ begins: { campaign: 'name' }, bare: { campaign: 'name' } },
  },
  utm: {
    ...{ of: { field: 'medium', text: 'Post' }, says: 'came by an address marked utm_medium “Post”' },
    ...{ holds: [cameBy({ medium: 'post' })], not: [cameBy({ source: 'post' }), {}] },
    changes: [
      [0, 'term', { field: 'term' }],
      [0, 'other', null],
      [1, 'air', { text: 'air' }],
    ],
    ...{ begins: { field: 'medium', text: 'email' }, bare: { field: 'medium', text: 'email' } },
  },
  referrer: {
    ...{ of: { host: 'guild.example' }, says: 'came from a page of “guild.example”' },
    holds: [from('', 'guild.example'), from('', 'Shop.Guild.example:8080')],
    not: [from('', 'notguild.example'), from('', 'guild.example.org'), {}],
    changes: [[0, 'Strings.Example', { host: 'strings.example' }]],
    ...{ begins: { host: 'guild.example' }, bare: { host: 'guild.example' } },
  },
  weekday: {
    ...{ of: { days: [1, 6, 7] }, says: 'comes on Monday, Saturday or Sunday' },
    ...{ holds: [at({ weekday: 6 })], not: [at({ weekday: 2 })] },
    changes: [
      [0, ['7', '3', '3', '8', '0', 'x'], { days: [3, 7] }],
      [0, [], null],
    ],
    ...{ begins: { days: [6, 7] }, bare: { days: [6, 7] } },
  },
  hours: {
    ...{ of: { from: 22, to: 6 }, says: 'comes between 22 and 6 o’clock' },
    ...{ holds: [at({ hour: 22 }), at({ hour: 0 }), at({ hour: 5 })], not: [at({ hour: 21 }), at({ hour: 6 })] },
    changes: [
      [0, 23, { from: 23 }],
      [0, 24, null],
      [0, -1, null],
      [1, 24, { to: 24 }],
      [1, 25, null],
    ],
    ...{ begins: { from: 18, to: 22 }, bare: { from: 18, to: 22 } },
  },
  dates: {
    ...{ of: { from: '2026-03-02', until: null }, says: 'comes from 2 Mar 2026 until any day' },
    ...{ holds: [at({ day: '2026-03-02' }), at({ day: '2027-01-01' })], not: [at({ day: '2026-03-01' })] },
    changes: [
      [0, null, { from: null }],
      [0, 'today', null],
      [1, '2026-03-05', { until: '2026-03-05' }],
    ],
    ...{ begins: { from: null, until: null }, bare: { from: null, until: null }, remembered: false },
  },
  attribute: {
    ...{ of: { name: 'membership', is: false, value: 'family' }, says: 'as the site says, their membership is not family' },
    ...{ holds: [{}, said(['membership', 'player']), said(['school', 'family'])], not: [said(['membership', 'family'])] },
    changes: [
      [0, 'school', { name: 'school', value: 'yes' }],
      [0, 'empty', null],
      [0, 'gone', null],
      [1, 'is', { is: true }],
      [2, 'player', { value: 'player' }],
      [2, 'yes', null],
    ],
    ...{ begins: { name: 'membership', is: true, value: 'player' }, bare: null },
  },
  segment: {
    ...{ of: { segment: 'parents', fits: false }, says: 'the segment “Parents” does not fit them' },
    // What it asks is put in its place before anybody is asked.
    ...{ holds: [], not: [{}] },
    changes: [
      [0, 'far', { segment: 'far' }],
      [0, 'gone', null],
      [1, 'fits', { fits: true }],
    ],
    ...{ begins: { segment: 'parents', fits: true }, bare: null },
  },
}

const made = (kind: ComparisonName, of: object): Comparison => comparisonSchema.parse({ kind, ...of })

describe.each(comparisonNames.map((name) => [name, truths[name]] as const))('the comparison “%s”', (name, truth) => {
  const { holds, sentence, begins, remembered } = comparisonNamed(name)
  const own = made(name, truth.of)

  test('holds for these visitors and for no others', () => {
    const held = (some: Partial<Visitor>) => holds(own, { ...stranger, ...some })
    expect(truth.holds.map(held)).toEqual(truth.holds.map(() => true))
    expect(truth.not.map(held)).toEqual(truth.not.map(() => false))
  })

  test('reads as a sentence whose words are changed where they stand, into what can be kept', () => {
    expect(conditionWords(own, site)).toBe(truth.says)
    const words = sentence(own, site).filter((word) => typeof word !== 'string')
    for (const [index, to, becomes] of truth.changes) {
      const word = words[index]
      const changed = word?.put(to as never)
      expect([index, to, changed]).toEqual([index, to, becomes === null ? null : made(name, { ...truth.of, ...becomes })])
      if (word !== undefined && 'options' in word && becomes !== null && typeof to === 'string')
        expect(word.options.map(({ value }) => value)).toContain(to)
    }
    // What it says now is one of what it can say.
    for (const word of words)
      if (word.control === 'choice') expect(word.options.filter(({ value }) => value === word.value)).toHaveLength(1)
  })

  test('begins with what the site has, and says whether what is remembered can answer it', () => {
    expect(begins(site)).toEqual(truth.begins === null ? null : made(name, truth.begins))
    expect(begins(empty)).toEqual(truth.bare === null ? null : made(name, truth.bare))
    expect(remembered).toBe(truth.remembered ?? true)
  })
})

test('what is gone is named as gone, once, and can still be changed', () => {
  const says = (kind: ComparisonName, of: object) => conditionWords(made(kind, of), site)
  expect(says('pageSeen', { page: 'gone' })).toBe('saw the page “a page that is gone” in this visit')
  expect(says('goalReached', { goal: 'gone', reached: true })).toBe('the goal “a goal that is gone” was reached before')
  expect(says('segment', { segment: 'gone', fits: true })).toBe('the segment “a segment that is gone” fits them')
  expect(says('given', { test: 't-9', version: 'x', given: false })).toBe('was given a version of a test that is gone never')
  expect(says('attribute', { name: 'gone', is: true, value: 'x' })).toBe('as the site says, their gone is x')
  const often = (what: object, visits = 1, days = 30) => says('seenOften', { what, visits, days })
  expect(often({ kind: 'page', page: 'gone' })).toBe('looked at a page that is gone in at least 1 visit, at most 30 days ago')
  expect(often({ kind: 'type', pageType: 'Poem' })).toBe(
    'looked at any page of type Poem in at least 1 visit, at most 30 days ago',
  )
  expect(says('region', { region: 'XP' })).toBe('is in anywhere in XP')
  expect(says('region', { region: 'FR-75' })).toBe('is in FR-75')
  expect(says('weekday', { days: [3] })).toBe('comes on Wednesday')
  expect(says('source', { source: 'search' })).toBe('came from a search')
  expect(says('visits', { are: 'atLeast', times: 3 })).toBe('has come at least 3 times, this visit counted')
})

test('days and hours are held at both their ends', () => {
  const on = (of: object, day: string) => comparisonNamed('dates').holds(made('dates', of), { ...stranger, ...at({ day }) })
  const march = { from: '2026-03-02', until: '2026-03-04' }
  expect(['2026-03-01', '2026-03-02', '2026-03-04', '2026-03-05'].map((day) => on(march, day))).toEqual([
    false,
    true,
    true,
    false,
  ])
  expect(comparisonSchema.safeParse({ kind: 'dates', from: '2026-03-05', until: '2026-03-04' }).success).toBe(false)
  expect(comparisonSchema.safeParse({ kind: 'dates', from: '2026-03-04', until: '2026-03-04' }).success).toBe(true)
  const within = (hour: number) =>
    comparisonNamed('hours').holds(made('hours', { from: 9, to: 17 }), { ...stranger, ...at({ hour }) })
  expect([8, 9, 16, 17].map(within)).toEqual([false, true, true, false])
})

test('where the only page type is missing a page is looked at, and where a test has one version that is meant', () => {
  expect(comparisonNamed('seenOften').begins({ ...empty, pages: site.pages })).toMatchObject({
    what: { kind: 'page', page: 'harp' },
  })
  expect(comparisonNamed('given').begins({ ...empty, tests: site.tests.slice(1) })).toMatchObject({
    test: 't-2',
    version: 'calm',
  })
  expect(comparisonNamed('attribute').begins({ ...empty, attributes: site.attributes.slice(2) })).toBeNull()
  expect(comparisonNamed('given').begins({ ...empty, tests: [{ id: 't-3' as TestId, name: '', versions: [] }] })).toBeNull()
})
