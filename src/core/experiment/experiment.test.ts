import { ORIGINAL } from '../decide'
import type { ContentDocument, Edit } from '../document'
import { goalSchema } from '../goals'
import type { DocumentId, NodeId, RoundId, TestId, VersionId } from '../ids'
import {
  affectsResult,
  commands,
  designSchema,
  evenWeights,
  forecast,
  isOpenToChange,
  next,
  read,
  readiness,
  statuses,
  touches,
  versionSchema,
} from '.'
import type { ArmCounts, Evidence, Finding, ReadinessFacts, Round } from '.'

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
      { version: ORIGINAL, weight: 5000 },
      { version: bold, weight: 5000 },
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
const words = (value: string): Edit => ({ kind: 'set', node: 'title' as NodeId, prop: 'words', value })
const pressed = goalSchema.parse({ id: 'pressed', name: 'Pressed', wiring: { kind: 'click', document: 'home', node: 'button' } })
const facts: ReadinessFacts = {
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
      passed: ['variants', 'part', 'goal', 'split', 'overlap', 'difference', 'question', 'time'],
    })
  })

  test.each<[string, ReadinessFacts, Finding['code']]>([
    ['no variant', change({ arms: [{ version: ORIGINAL, weight: 10_000 }] }), 'noVariant'],
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
    ['a goal that a variant hides', change({}, edited({ kind: 'remove', node: 'button' as NodeId })), 'goalGone'],
    [
      'weights above the whole',
      change({
        arms: [
          { version: ORIGINAL, weight: 5000 },
          { version: bold, weight: 6000 },
        ],
      }),
      'weightsOff',
    ],
    [
      'a variant for nobody',
      change({
        arms: [
          { version: ORIGINAL, weight: 10_000 },
          { version: bold, weight: 0 },
        ],
      }),
      'weightZero',
    ],
    ['a share of nobody', change({ share: 0 }), 'shareZero'],
    [
      'another test on the same part',
      change(
        {},
        { others: [{ test: 't-9' as TestId, name: 'Other', document: page.id, touches: touches('title' as NodeId, []) }] },
      ),
      'testMeetsTest',
    ],
  ])('blocks %s', (_, of, code) => {
    expect(readiness(of).blocks.map((finding) => finding.code)).toContain(code)
  })

  test.each<[string, ReadinessFacts, Finding['code']]>([
    [
      'two kinds of difference',
      change({}, edited(words('New'), { kind: 'set', node: 'title' as NodeId, prop: 'size', value: 'large' })),
      'severalKinds',
    ],
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
    plannedTotal: 1000,
  }
  expect(affectsResult(round, { ...facts.design, name: 'Better name' }, facts.versions, [pressed])).toBe(false)
  expect(affectsResult(round, { ...facts.design, share: 5000 }, facts.versions, [pressed])).toBe(true)
  expect(
    affectsResult(round, facts.design, [versionSchema.parse({ id: 'bold', name: 'Bold', edits: [words('Other')] })], [pressed]),
  ).toBe(true)
})

test.each([1, 2, 3, 7])('even weights of %d arms add up to the whole', (count) => {
  expect(evenWeights(count).reduce((sum, weight) => sum + weight)).toBe(10_000)
})
