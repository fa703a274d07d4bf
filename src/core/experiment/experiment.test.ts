import { ORIGINAL } from '../decide'
import type { ContentDocument, Edit } from '../document'
import { goalSchema } from '../goals'
import type { DocumentId, NodeId, RoundId, TestId, VersionId } from '../ids'
import {
  armName,
  changesOf,
  allChecks,
  combinations,
  commands,
  designSchema,
  evenWeights,
  forecast,
  isOpenToChange,
  levelsInUse,
  next,
  read,
  readiness,
  statuses,
  touches,
  versionSchema,
  whatChanged,
} from '.'
import type { ArmCounts, Evidence, Finding, ReadinessFacts, Round, ShownPage } from '.'

const bold = 'bold' as VersionId
const arm = (version: VersionId, exposed: number, converters: number, assigned = exposed): ArmCounts => ({
  version,
  weight: 5000,
  assigned,
  exposed,
  converters,
})
const evidence = (original: [number, number], variant: [number, number], change: Partial<Evidence> = {}): Evidence => ({
  arms: [arm(ORIGINAL, ...original), arm(bold, ...variant)],
  days: 14,
  smallestEffect: 0.05,
  plannedTotal: 20_000,
  ...change,
})
const reading = (of: Evidence) => read(of).variants[0]

describe('the reading of a variant', () => {
  test.each<[string, Evidence, string, string | null]>([
    ['few exposed', evidence([90, 20], [95, 40]), 'tooEarly', 'fewExposed'],
    ['few converters', evidence([5000, 9], [5000, 60]), 'tooEarly', 'fewConverters'],
    ['half a day', evidence([10_000, 1000], [10_000, 1400], { days: 0.5 }), 'tooEarly', 'lessThanADay'],
    ['an interval across the line', evidence([1000, 100], [1000, 110]), 'tooEarly', 'unclear'],
    ['a clear gain', evidence([10_000, 1000], [10_000, 1200]), 'better', null],
    ['a clear loss', evidence([10_000, 1200], [10_000, 1000]), 'worse', null],
    ['nothing worth having', evidence([400_000, 80_000], [400_000, 80_100]), 'noDifference', null],
    ['a split that is off', evidence([10_000, 1000], [9_000, 1200]), 'notToBeTrusted', null],
    ['nobody yet', evidence([0, 0], [0, 0]), 'tooEarly', 'fewExposed'],
  ])('%s', (_, of, word, wait) => {
    expect(reading(of)).toMatchObject({ reading: word, wait })
  })

  test('an uneven assignment is seen even where the exposures are even', () => {
    const arms = [arm(ORIGINAL, 5000, 500, 6000), arm(bold, 5000, 700, 5000)]
    expect(reading(evidence([0, 0], [0, 0], { arms }))?.reading).toBe('notToBeTrusted')
  })

  test('exchanging original and variant mirrors the difference, and the better one becomes the worse', () => {
    const forth = reading(evidence([10_000, 1000], [10_000, 1200]))
    const back = reading(evidence([10_000, 1200], [10_000, 1000]))
    expect(back?.differenceInterval?.map((limit) => -limit).reverse()).toEqual(
      forth?.differenceInterval?.map((limit) => expect.closeTo(limit, 12)),
    )
    expect([forth?.reading, back?.reading]).toEqual(['better', 'worse'])
  })

  test('more comparisons widen every interval', () => {
    const two = evidence([5000, 500], [5000, 560])
    const three = { ...two, arms: [...two.arms, arm('third' as VersionId, 5000, 500)] }
    expect(reading(three)?.liftInterval?.[0]).toBeLessThan(reading(two)?.liftInterval?.[0] ?? 0)
  })

  test.each([
    [0, 0],
    [0, 40],
    [1, 1],
    [400, 400],
    [1, 399],
  ])('%d and %d converters of 400 give no number that is not one', (a, b) => {
    for (const value of JSON.stringify(read(evidence([400, a], [400, b]))).matchAll(/-?\d[\d.e+-]*/g))
      expect(Number(value[0])).not.toBeNaN()
    for (const interval of [
      reading(evidence([400, a], [400, b]))?.liftInterval,
      reading(evidence([400, a], [400, b]))?.differenceInterval,
    ]) {
      expect(interval?.every(Number.isFinite) ?? true).toBe(true)
    }
  })
})

describe('a forecast', () => {
  const design = {
    arms: [
      { version: ORIGINAL, weight: 5000, levels: [] },
      { version: bold, weight: 5000, levels: [] },
    ],
    share: 10_000,
    smallestEffect: 0.1,
  }

  test('for one look it is the textbook sample size: 29,498 visitors at 10% for a tenth more', () => {
    const { daysForOneLook, days, plannedTotal } = forecast(design, { visitorsPerDay: 1000, baseRate: 0.1 })
    expect(daysForOneLook).toBe(30)
    expect(days).toBe(Math.ceil(plannedTotal / 1000))
    expect(plannedTotal / 29_496).toBeGreaterThan(1.5)
  })

  test('half the share takes twice as long, and more weeks find smaller gains', () => {
    const whole = forecast(design, { visitorsPerDay: 1000, baseRate: 0.1 })
    const half = forecast({ ...design, share: 5000 }, { visitorsPerDay: 1000, baseRate: 0.1 })
    expect((half.days ?? 0) / (whole.days ?? 1)).toBeCloseTo(2, 1)
    const gains = whole.seen.map(({ gain }) => gain ?? Infinity)
    expect(gains).toEqual([...gains].sort((a, b) => b - a))
  })

  test('without traffic there are no days, and without numbers it says that the rate is assumed', () => {
    expect(forecast(design, { visitorsPerDay: 0, baseRate: null })).toMatchObject({ days: null, measured: false })
  })
})

describe('the life of a test', () => {
  test('takes each command where it fits and nowhere else', () => {
    const table = statuses.map((status) => [status, commands.filter((command) => next(status, command) !== null)])
    expect(Object.fromEntries(table)).toEqual({
      draft: ['start'],
      running: ['pause', 'end', 'settle'],
      paused: ['goOn', 'end', 'settle'],
      ended: ['settle'],
      settled: ['undo'],
    })
  })

  test('is open to change only while nobody is drawn by it', () => {
    expect(statuses.filter(isOpenToChange)).toEqual(['draft', 'paused'])
  })
})

const page: ContentDocument = {
  id: 'home' as DocumentId,
  kind: 'page',
  root: 'root' as NodeId,
  nodes: {
    root: { type: 'page', props: {}, children: ['title', 'button'] as NodeId[] },
    title: { type: 'heading', props: { words: 'Play it first' }, children: [] },
    button: { type: 'button', props: {}, children: [] },
  },
}
const sectioned: ContentDocument = {
  ...page,
  nodes: {
    ...page.nodes,
    root: { type: 'page', props: {}, children: ['part', 'button'] as NodeId[] },
    part: { type: 'section', props: {}, children: ['title'] as NodeId[] },
  },
}
const words = (value: string): Edit => ({ kind: 'set', node: 'title' as NodeId, prop: 'words', value })
const pressed = goalSchema.parse({ id: 'pressed', name: 'Pressed', wiring: { kind: 'click', document: 'home', node: 'button' } })
const menu: ContentDocument = {
  id: 'menu' as DocumentId,
  kind: 'menu',
  root: 'menu-root' as NodeId,
  nodes: { 'menu-root': { type: 'menuTree', props: {}, children: [] } },
}
const route = (value: string): Edit => ({ kind: 'set', node: 'root' as NodeId, prop: 'route', value })
/** The page as both versions show it, each with what is other than usual. */
const shownAs = (original: Partial<ShownPage> = {}, variant: Partial<ShownPage> = {}): ReadinessFacts['shown'] => ({
  pages: [[ORIGINAL, original] as const, [bold, variant] as const].map(([version, other]) => ({
    page: page.id,
    version,
    blank: false,
    placed: new Set(['root', 'title', 'button']),
    seen: new Set(['title', 'button']),
    pressed: new Set(['button']),
    sent: new Set<string>(),
    markers: new Set<string>(),
    links: [{ address: '/plans', words: 'Plans', answers: true }],
    ...other,
  })),
  hides: [],
  fault: null,
})
const marked = goalSchema.parse({ id: 'pressed', name: 'Pressed', wiring: { kind: 'marker', marker: 'reserve' } })
const leading = (address: string, answers = true) => ({ links: [{ address, words: 'Plans', answers }] })
const facts: ReadinessFacts = {
  shown: shownAs(),
  design: designSchema.parse({
    name: 'Heading',
    problem: 'Nobody reserves',
    change: 'Say what it costs',
    expected: '',
    document: 'home',
    node: 'title',
    arms: [
      { version: 'original', weight: 5000 },
      { version: 'bold', weight: 5000 },
    ],
    share: 10_000,
    primary: 'pressed',
    watched: [],
    smallestEffect: 0.05,
  }),
  versions: [{ id: bold, name: 'Bold', edits: [words('Borrow a cello')] }],
  goals: [pressed],
  published: new Map([[page.id, page]]),
  places: new Map(),
  scripts: { allowed: false, versions: [] },
  others: [],
  forecast: null,
}
const change = (design: Partial<ReadinessFacts['design']>, rest: Partial<ReadinessFacts> = {}): ReadinessFacts => ({
  ...facts,
  ...rest,
  design: { ...facts.design, ...design },
})
const edited = (...edits: Edit[]): Partial<ReadinessFacts> => ({ versions: [{ id: bold, name: 'Bold', edits }] })

describe('readiness', () => {
  test('of a sound test blocks nothing and says what was looked at', () => {
    expect(readiness(facts)).toEqual({
      blocks: [],
      advises: [],
      passed: allChecks,
    })
  })

  test.each<[string, ReadinessFacts, Finding['code']]>([
    ['an audience of nobody', change({ audience: { kind: 'any', of: [] } }), 'audienceNobody'],
    ['no variant', change({ arms: [{ version: ORIGINAL, weight: 10_000, levels: [] }] }), 'noVariant'],
    ['a variant without edits', change({}, edited()), 'variantSame'],
    ['a variant that sets what is there', change({}, edited(words('Play it first'))), 'variantSame'],
    ['an edit that no longer fits', change({}, edited({ kind: 'remove', node: 'gone' as NodeId })), 'editUnfit'],
    ['a part that is not published', change({ node: 'gone' as NodeId }), 'partUnpublished'],
    ['no goal', change({ primary: null }), 'noGoal'],
    [
      'a goal on a page that is not published',
      change({}, { goals: [{ ...pressed, wiring: { kind: 'page', document: 'thanks' as DocumentId } }] }),
      'goalUnpublished',
    ],
    [
      'a goal that a variant hides',
      change({}, { ...edited({ kind: 'remove', node: 'button' as NodeId }), shown: shownAs({}, { pressed: new Set() }) }),
      'goalGone',
    ],
    [
      'weights above the whole',
      change({
        arms: [
          { version: ORIGINAL, weight: 5000, levels: [] },
          { version: bold, weight: 6000, levels: [] },
        ],
      }),
      'weightsOff',
    ],
    [
      'a variant for nobody',
      change({
        arms: [
          { version: ORIGINAL, weight: 10_000, levels: [] },
          { version: bold, weight: 0, levels: [] },
        ],
      }),
      'weightZero',
    ],
    ['a share of nobody', change({ share: 0 }), 'shareZero'],
    [
      'another test on the same part',
      change({}, { others: [{ test: 't-9' as TestId, name: 'Other', touches: touches(facts.design, [], facts.published) }] }),
      'testMeetsTest',
    ],
    ['a route to a page that is not there', change({}, edited(route('page:gone'))), 'routeGone'],
    ['a route back to the page itself', change({}, edited(route('page:home'))), 'routeLoops'],
    [
      'a menu that stands on no page',
      change({ document: menu.id, node: menu.root }, { published: new Map([[menu.id, menu]]) }),
      'partNowhere',
    ],
    [
      'another test on something in a section that a variant takes away',
      change(
        { node: page.root },
        {
          ...edited({ kind: 'remove', node: 'part' as NodeId }),
          published: new Map([[page.id, sectioned]]),
          others: [{ test: 't-9' as TestId, name: 'Other', touches: [{ document: page.id, node: 'title' as NodeId }] }],
        },
      ),
      'testMeetsTest',
    ],
    [
      'another test whose part is not shown in a version',
      change(
        {},
        { others: [{ test: 't-9' as TestId, name: 'Other', touches: [] }], shown: { ...shownAs(), hides: ['t-9' as TestId] } },
      ),
      'testMeetsTest',
    ],
    ['a goal that is there and cannot be pressed', change({}, { shown: shownAs({}, { pressed: new Set() }) }), 'goalDead'],
    [
      'a marker on something that shows nothing',
      change({}, { goals: [marked], shown: shownAs({ markers: new Set(['reserve']) }) }),
      'markerGone',
    ],
    [
      'a marker that only the original lacks',
      change({}, { goals: [marked], shown: shownAs({}, { markers: new Set(['reserve']) }) }),
      'markerInVariantsOnly',
    ],
    ['a link that leads nowhere', change({}, { shown: shownAs({}, leading('#', false)) }), 'linkDead'],
    ['a page that shows nothing', change({}, { shown: shownAs({}, { blank: true }) }), 'pageBlank'],
    [
      'pages that could not be looked at',
      change({}, { shown: { pages: [], hides: [], fault: 'It took too long.' } }),
      'notLooked',
    ],
    [
      'another address of the page',
      change({ node: page.root }, edited({ kind: 'set', node: page.root, prop: 'path', value: '/other' })),
      'addressChanged',
    ],
    ['a script where none may run', change({}, { scripts: { allowed: false, versions: [bold] } }), 'scriptsOff'],
  ])('blocks %s', (_, of, code) => {
    expect(readiness(of).blocks.map((finding) => finding.code)).toContain(code)
  })

  test.each<[string, ReadinessFacts, Finding['code']]>([
    [
      'two kinds of difference',
      change({}, edited(words('New'), { kind: 'set', node: 'title' as NodeId, prop: 'size', value: 'large' })),
      'severalKinds',
    ],
    ['another place that it leads to', change({}, { shown: shownAs({}, leading('/other')) }), 'leadsElsewhere'],
    ['a link that led nowhere before', change({}, { shown: shownAs(leading('#', false), leading('#', false)) }), 'linkDead'],
    ['a script', change({}, { scripts: { allowed: true, versions: [bold] } }), 'hasScript'],
    ['no question', change({ problem: '' }), 'noQuestion'],
    ['too little traffic', change({}, { forecast: forecast(facts.design, { visitorsPerDay: 10, baseRate: 0.05 }) }), 'takesLong'],
  ])('advises against %s', (_, of, code) => {
    const { advises, blocks } = readiness(of)
    expect([advises.map((finding) => finding.code), blocks]).toEqual([[code], []])
  })
})

test('going on after a change that affects the result opens a new round; a new name does not', () => {
  const round: Round = {
    id: 'r-1' as RoundId,
    test: 't-1' as TestId,
    number: 1,
    design: facts.design,
    versions: [...facts.versions],
    goals: [pressed],
    salt: 't-1',
    drawnAgain: 0,
    plannedTotal: 1000,
    pages: [],
    because: '',
  }
  expect(whatChanged(round, { ...facts.design, name: 'Better name' }, facts.versions, [pressed])).toEqual([])
  expect(whatChanged(round, { ...facts.design, share: 5000 }, facts.versions, [pressed])).toEqual([
    'the share of visitors was changed',
  ])
  const [original] = facts.design.arms
  const alone = { ...facts.design, arms: original === undefined ? [] : [original] }
  expect(whatChanged(round, alone, facts.versions, [pressed])).toEqual(['a variant was turned off'])
  const other = [versionSchema.parse({ id: 'bold', name: 'Bold', edits: [words('Other')] })]
  expect(whatChanged(round, facts.design, other, [pressed])).toEqual(['a variant was changed'])
  expect(whatChanged(round, facts.design, facts.versions, [{ ...pressed, worth: 9 }])).toEqual(['the goals were changed'])
  expect(whatChanged(round, { ...facts.design, arms: [...facts.design.arms].reverse() }, facts.versions, [pressed])).toEqual([
    'the split was changed',
  ])
  const guarded = { ...facts.design, guards: [{ goal: pressed.id, margin: 0.05 }], smallestEffect: 0.2 }
  expect(whatChanged(round, guarded, facts.versions, [pressed])).toEqual([
    'the guards were changed',
    'the smallest difference worth having was changed',
  ])
})

test.each([1, 2, 3, 7])('even weights of %d arms add up to the whole', (count) => {
  expect(evenWeights(count).reduce((sum, weight) => sum + weight)).toBe(10_000)
})

describe('a test of several parts', () => {
  const brass = 'brass' as VersionId
  const short = 'short' as VersionId
  const cells = combinations([
    [ORIGINAL, bold, short],
    [ORIGINAL, brass],
  ])
  const design = designSchema.parse({
    ...facts.design,
    further: [{ document: 'home', node: 'button' }],
    arms: cells.map((cell, index) => ({ ...cell, weight: evenWeights(cells.length)[index] })),
  })
  const colour: Edit = { kind: 'set', node: 'button' as NodeId, prop: 'colour', value: 'brass' }
  const versions = [
    { id: bold, name: 'Bold', edits: [words('Borrow a cello')] },
    { id: short, name: 'Short', edits: [words('Borrow')] },
    { id: brass, name: 'Brass', edits: [colour] },
  ]
  const both = cells.find(({ levels }) => levels.join() === [bold, brass].join())?.version ?? ORIGINAL

  test('has every combination once, the original of all first, with the same ids wherever it is made', () => {
    expect(cells.map(({ levels }) => levels.join('+'))).toEqual([
      'original+original',
      'original+brass',
      'bold+original',
      'bold+brass',
      'short+original',
      'short+brass',
    ])
    expect(cells[0]?.version).toBe(ORIGINAL)
    expect(new Set(cells.map(({ version }) => version)).size).toBe(6)
    expect(combinations([[bold], [brass]])[0]?.version).toBe(both)
  })

  test('an arm is named by its parts and carries the edits of each', () => {
    expect(armName(design, versions, both)).toBe('Bold × Brass')
    expect(armName(design, versions, ORIGINAL)).toBe('Original')
    expect(changesOf(design, versions, both)).toEqual([{ document: 'home', edits: [words('Borrow a cello'), colour] }])
    expect(changesOf(design, versions, ORIGINAL)).toEqual([])
  })

  test('without some of its combinations still tells which versions each part has', () => {
    const fewer = { ...design, arms: design.arms.filter(({ levels }) => !levels.includes(short)) }
    expect([levelsInUse(fewer, 0), levelsInUse(fewer, 1)]).toEqual([
      [ORIGINAL, bold],
      [ORIGINAL, brass],
    ])
  })

  test('takes longer than a test of one part, as the forecast follows the number of combinations', () => {
    const traffic = { visitorsPerDay: 1000, baseRate: 0.1 }
    expect(forecast(design, traffic).days ?? 0).toBeGreaterThan(2 * (forecast(facts.design, traffic).days ?? 0))
  })
})
