import { numbersOf, ORIGINAL, type Condition } from '../decide'
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
  drawOf,
  generationAfter,
  isOpenToChange,
  keptKey,
  levelsInUse,
  moveBorder,
  next,
  readiness,
  statuses,
  testKeptAs,
  touches,
  versionSchema,
  changeWords,
  whatAffects,
  whatBegins,
  whatChanged,
} from '.'
import type { Finding, ReadinessFacts, Round } from '.'
import { at, bold, change, facts, page, pressed, shownAs, words } from './readiness/a-ready-test'

describe('the life of a test', () => {
  test('takes each command where it fits and nowhere else', () => {
    const table = statuses.map((status) => [status, commands.filter((command) => next(status, command) !== null)])
    expect(Object.fromEntries(table)).toEqual({
      draft: ['schedule', 'start'],
      scheduled: ['unschedule', 'start'],
      running: ['pause', 'end', 'settle'],
      paused: ['goOn', 'end', 'settle'],
      ended: ['settle', 'again'],
      settled: ['undo', 'again'],
    })
  })

  test('is open to change only while nobody is drawn by it', () => {
    expect(statuses.filter(isOpenToChange)).toEqual(['draft', 'paused'])
  })
})

const sectioned: ContentDocument = {
  ...page,
  nodes: {
    ...page.nodes,
    root: { type: 'page', props: {}, children: ['part', 'button'] as NodeId[] },
    part: { type: 'section', props: {}, children: ['title'] as NodeId[] },
  },
}
const menu: ContentDocument = {
  id: 'menu' as DocumentId,
  kind: 'menu',
  root: 'menu-root' as NodeId,
  nodes: { 'menu-root': { type: 'menuTree', props: {}, children: [] } },
}
const route = (value: string): Edit => ({ kind: 'set', node: 'root' as NodeId, prop: 'route', value })
const marked = goalSchema.parse({ id: 'pressed', name: 'Pressed', wiring: { kind: 'marker', marker: 'reserve' } })
const leading = (address: string, answers = true) => ({ links: [{ address, words: 'Plans', answers }] })
const returning: Condition = { kind: 'returning', returning: true }
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
    [
      'a variant of which nothing is seen',
      change({}, { shown: { ...shownAs(), same: [{ version: bold, as: ORIGINAL }] } }),
      'variantSame',
    ],
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
    ['a share that its group has not', change({ group: 'Prices' }, { takenOfGroup: [[0, 5000]] }), 'groupFull'],
    ['a share of nobody', change({ share: 0 }), 'shareZero'],
    ['a day that does not exist', change({ schedule: at('2026-12-02T09:00', '2027-02-30T09:00') }), 'noSuchTime'],
    ['an end before the start', change({ schedule: at('2026-12-20T09:00', '2026-12-13T09:00') }), 'endsBeforeStart'],
    ['an end that is past', change({ schedule: at(null, '2026-11-30T09:00') }), 'endIsPast'],
    [
      'another test on the same part',
      change({}, { others: [{ test: 't-9' as TestId, name: 'Other', touches: touches(facts.design, [], facts.published) }] }),
      'testMeetsTest',
    ],
    ['a route to a page that is not there', change({}, edited(route('page:gone'))), 'routeGone'],
    ['a route whose visitors are forgotten', change({ keeping: 'view' }, edited(route('page:gone'))), 'routeForgotten'],
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
      change(
        {},
        { shown: { pages: [], hides: [], sameByRule: [], ways: [], same: [], circle: null, fault: 'It took too long.' } },
      ),
      'notLooked',
    ],
    [
      'another address of the page',
      change({ node: page.root }, edited({ kind: 'set', node: page.root, prop: 'path', value: '/other' })),
      'addressChanged',
    ],
    [
      'a copy of what a rule shows those whom the test is for',
      change(
        { audience: returning },
        { shown: { ...shownAs(), sameByRule: [{ version: bold, rule: 'Known', condition: returning }] } },
      ),
      'sameForAll',
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
    [
      'what some cannot tell from the original, as a rule comes first',
      change({}, { shown: { ...shownAs(), sameByRule: [{ version: bold, rule: 'Known', condition: returning }] } }),
      'sameForSome',
    ],
    ['another place that it leads to', change({}, { shown: shownAs({}, leading('/other')) }), 'leadsElsewhere'],
    ['a link that led nowhere before', change({}, { shown: shownAs(leading('#', false), leading('#', false)) }), 'linkDead'],
    ['a script', change({}, { scripts: { allowed: true, versions: [bold] } }), 'hasScript'],
    ['no question', change({ problem: '' }), 'noQuestion'],
    ['ten days', change({ schedule: at('2026-12-02T09:00', '2026-12-12T09:00') }), 'partOfAWeek'],
    [
      'too little traffic',
      change({}, { forecast: forecast(facts.design, { visitorsPerDay: 10, recent: [], baseRate: 0.05 }) }),
      'takesLong',
    ],
  ])('advises against %s', (_, of, code) => {
    const { advises, blocks } = readiness(of)
    expect([advises.map((finding) => finding.code), blocks]).toEqual([[code], []])
  })
})

const firstRound: Round = {
  id: 'r-1' as RoundId,
  test: 't-1' as TestId,
  number: 1,
  design: facts.design,
  versions: [...facts.versions],
  goals: [pressed],
  salt: 't-1',
  lots: null,
  segments: [],
  drawnAgain: 0,
  generation: 0,
  plannedTotal: 1000,
  pages: [],
  because: '',
}

test('what is compared begins a round when it is changed, how visitors are divided an epoch, and a name nothing', () => {
  const round = firstRound
  const begins = (change: Partial<Round['design']>, versions = facts.versions, goals = [pressed]) => {
    const changes = whatChanged(round, { ...facts.design, ...change }, versions, goals)
    return [whatBegins(changes), changeWords(changes)]
  }
  expect(begins({ name: 'Better name' })).toEqual([null, ''])
  expect(begins({ share: 5000 })).toEqual(['round', 'the share of visitors was lowered'])
  expect(whatAffects({ ...facts.design, share: 5000 }, facts.design)).toEqual([
    { words: 'the share of visitors was raised', begins: 'epoch' },
  ])
  expect(begins({ arms: facts.design.arms.slice(0, 1) })).toEqual(['epoch', 'a variant was switched off'])
  const weights = facts.design.arms.map((arm, index) => ({ ...arm, weight: index === 0 ? 2000 : 8000 }))
  expect(begins({ arms: weights })).toEqual(['epoch', 'the split was changed'])
  const other = [versionSchema.parse({ id: 'bold', name: 'Bold', edits: [words('Other')] })]
  expect(begins({ arms: weights }, other)).toEqual(['round', 'the split was changed, a variant was changed'])
  const both = [facts.versions[0] ?? other[0], versionSchema.parse({ id: 'a-second', name: 'Second', edits: [] })].flatMap(
    (one) => one ?? [],
  )
  expect(whatChanged({ ...round, versions: both }, facts.design, [...both].reverse(), [pressed])).toEqual([])
  expect(begins({}, facts.versions, [{ ...pressed, worth: 9 }])).toEqual(['round', 'the goals were changed'])
  expect(begins({ guards: [{ goal: pressed.id, margin: 0.05 }], smallestEffect: 0.2 })).toEqual([
    'round',
    'the guards were changed, the smallest difference worth having was changed',
  ])
})

test.each([1, 2, 3, 7])('even weights of %d arms add up to the whole', (count) => {
  expect(evenWeights(count).reduce((sum, weight) => sum + weight)).toBe(10_000)
})

test('a round with another split than that of those who come back draws everybody anew; with the same they keep what they had', () => {
  const arms = (...weights: number[]) =>
    weights.map((weight, at) => ({ version: at === 0 ? ORIGINAL : bold, weight, levels: [] }))
  const before = (...epochs: ReturnType<typeof arms>[]) => ({
    round: { generation: 3 },
    epochs: epochs.map((of) => ({ arms: of })),
  })
  expect(generationAfter(undefined, { arms: arms(5000, 5000) })).toBe(0)
  expect(generationAfter(before(arms(5000, 5000)), { arms: arms(5000, 5000) })).toBe(3)
  expect(generationAfter(before(arms(5000, 5000)), { arms: arms(2000, 8000) })).toBe(4)
  expect(generationAfter(before(arms(5000, 5000), arms(2000, 8000)), { arms: arms(2000, 8000) })).toBe(4)
  const test1 = 't-1' as TestId
  expect([keptKey({ test: test1, generation: 0 }), keptKey({ test: test1, generation: 2 })]).toEqual(['t-1', 't-1-g2'])
  expect(testKeptAs('t-1-g2' as TestId)).toBe('t-1')
  const drawn = drawOf({ ...firstRound, generation: 2, drawnAgain: 1 }, { paused: false })
  // Who is in the share does not move.
  expect([drawn.numbers, drawn.keptAs]).toEqual([numbersOf('t-1', 200_001), 't-1-g2'])
})

test('a border of the split moves between its neighbours alone, and nobody vanishes', () => {
  expect(moveBorder([5000, 3000, 2000], 0, 6000)).toEqual([6000, 2000, 2000])
  expect(moveBorder([5000, 3000, 2000], 1, 6000)).toEqual([5000, 1000, 4000])
  expect(moveBorder([5000, 3000, 2000], 0, 20_000)).toEqual([7900, 100, 2000])
  expect(moveBorder([5000, 3000, 2000], 0, -5)).toEqual([100, 7900, 2000])
  expect(moveBorder([0, 0, 10_000], 0, 40)).toEqual([0, 0, 10_000])
  expect(() => moveBorder([10_000], 0, 1)).toThrow(RangeError)
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
    const traffic = { visitorsPerDay: 20_000, recent: [], baseRate: 0.1 }
    const [six, two] = [forecast(design, traffic).waiting, forecast(facts.design, traffic).waiting]
    expect(six.kind === 'days' && two.kind === 'days' && six.days > 2 * two.days).toBe(true)
  })
})
