import { ORIGINAL } from '../../decide'
import type { Edit } from '../../document'
import { allChecks, findingWords, passedWords, type Finding, type Settling } from './index'
import { kindsOfDifference } from './difference'

const names = { version: (id: string) => id, goal: (id: string) => id, page: (id: string) => id }
type Of<Code extends Finding['code']> = Omit<Extract<Finding, { code: Code }>, 'code'>
/** A finding, what its sentence says, and the step that settles it with what that works on. */
type Line<Code extends Finding['code']> = readonly [Of<Code>, RegExp, Settling['step'] | null, string?]

const edit = { kind: 'set', node: 'title', prop: 'words', value: 'x' } as Edit
const onBold = { version: 'bold' as never }
const onPressed = { goal: 'pressed' as never }
const onHome = { document: 'home' as never }

/** Every finding that there is: one that nobody has written down here does not compile. */
const told: { readonly [Code in Finding['code']]: readonly Line<Code>[] } = {
  noVariant: [[{}, /nothing to compare/, 'openPage']],
  variantSame: [[onBold, /‘bold’ does not differ/, 'leaveOut', 'bold']],
  variantsSame: [[{ ...onBold, as: 'original' as never }, /Nobody can tell ‘bold’ from ‘original’/, 'leaveOut', 'bold']],
  sameForAll: [[{ ...onBold, rule: 'Known' }, /a rule shows ‘Known’, and with that ‘bold’ looks like/, 'openPage']],
  sameForSome: [[{ ...onBold, rule: 'Known' }, /shown ‘Known’ by a rule cannot tell ‘bold’/, 'openPage']],
  editUnfit: [
    [
      { ...onBold, edit, refusal: { code: 'gone', node: 'title' } as never },
      /‘bold’ changes a component that is no longer/,
      'openPage',
    ],
  ],
  partUnpublished: [
    [{ ...onHome, pagePublished: true }, /in the draft but not on the published page/, 'publishPage', 'home'],
    [{ ...onHome, pagePublished: false }, /“home” is not published/, 'publishPage', 'home'],
  ],
  partNowhere: [[onHome, /“home” stands on no published page/, 'openPage']],
  routeForgotten: [[{}, /Keep the version for this visit/, null]],
  routeGone: [[onBold, /‘bold’ sends visitors to a page that is not published/, 'openPage']],
  routeLoops: [[{ ...onBold, ...onHome }, /‘bold’ sends visitors to “home”, which sends them on again/, 'openPage']],
  routeCircle: [[{ circle: ['A', 'B', 'A'] }, /in a circle: “A” to “B” to “A”/, 'openPage']],
  notLooked: [[{ fault: 'It took too long.' }, /could not be looked at: It took too long\./, null]],
  addressChanged: [[onBold, /‘bold’ changes the address/, 'openPage']],
  pageBlank: [
    [{ ...onBold, ...onHome }, /“home” shows nothing in ‘bold’/, 'leaveOut', 'bold'],
    [{ version: ORIGINAL, ...onHome }, /shows nothing in ‘original’/, 'openPage'],
  ],
  linkDead: [
    [{ ...onBold, ...onHome, words: 'Plans' }, /In ‘bold’ “Plans” on “home” leads nowhere/, 'openPage'],
    [{ ...onBold, ...onHome, words: '' }, /In ‘bold’ a link without words on “home”/, 'openPage'],
  ],
  noGoal: [[{}, /Choose a goal/, 'chooseGoal']],
  goalUnpublished: [[{ ...onPressed, ...onHome }, /“pressed” counts on “home”, which is not published/, 'publishPage', 'home']],
  goalGone: [[{ ...onPressed, ...onBold }, /“pressed” cannot be reached from ‘bold’: its component is not there/, 'chooseGoal']],
  goalDead: [[{ ...onPressed, ...onBold, doing: 'sent' }, /nothing of it can be sent/, 'openPage']],
  goalNoWay: [[{ ...onBold, ...onPressed }, /to which the original leads, by a link or a form, and ‘bold’ does not/, 'openPage']],
  goalNowhere: [[onPressed, /“pressed” is not wired/, 'openGoal', 'pressed']],
  markerGone: [[{ ...onPressed, ...onBold, marker: 'reserve' }, /“reserve”, and nothing in ‘bold’/, 'putMarker', 'reserve bold']],
  markerInVariantsOnly: [[{ ...onPressed, marker: 'reserve' }, /“reserve”, and only the original has nothing/, 'openPage']],
  audienceNobody: [[{}, /Nobody can take part/, 'everybody']],
  weightsOff: [[{ total: 9000 }, /adds up to 90%/, 'evenSplit']],
  weightZero: [[onBold, /Nobody would see ‘bold’/, 'evenSplit']],
  groupFull: [
    [{ free: 0, by: ['Menu'] }, /none are free.*lower the share of “Menu”: that begins its next round/, null],
    [{ free: 2500, by: [] }, /25% are free/, 'freeShare', '2500'],
  ],
  groupTaken: [
    [{ fair: 5000, others: 0 }, /no other test of the group can/, 'fairShare', '5000'],
    [{ fair: 3333, others: 2 }, /the 2 other tests of the group cannot run/, 'fairShare', '3333'],
  ],
  shareZero: [[{}, /take part is 0%/, 'wholeShare']],
  testMeetsTest: [[{ test: 't-2' as never, name: 'Other' }, /“Other” is already testing/, 'pauseOther', 't-2']],
  noSuchTime: [[{ which: 'end' }, /The end is set to a day that does not exist/, null]],
  endsBeforeStart: [[{}, /end before it starts/, null]],
  endIsPast: [[{}, /end is past already/, null]],
  partOfAWeek: [
    [{ days: 10 }, /after 10 days, which are no whole weeks/, null],
    [{ days: 1 }, /after 1 day,/, null],
  ],
  scriptsOff: [[onBold, /‘bold’ brings a script, and scripts are switched off/, 'allowScripts']],
  hasScript: [[onBold, /‘bold’ runs a script of its own/, 'openPage']],
  severalKinds: [[{ ...onBold, kinds: 3 }, /‘bold’ differs in 3 kinds/, null]],
  leadsElsewhere: [
    [{ ...onBold, address: '/plans', alone: true }, /leads to \/plans, where the original does not/, null],
    [{ ...onBold, address: '/plans', alone: false }, /looks different and leads to another place too \(\/plans\)/, null],
  ],
  noQuestion: [[{}, /question is not written down/, 'writeQuestion']],
  takesLong: [
    [{ waiting: { kind: 'unknown' } }, /no visitors yet/, null],
    [{ waiting: { kind: 'tooFew', visitors: 100 } }, /too few visitors here/, null],
    [{ waiting: { kind: 'days', days: 90 } }, /takes about 90 more days/, null],
  ],
}

const lines = Object.entries(told).flatMap(([code, all]) =>
  (all as readonly Line<Finding['code']>[]).map(([of, says, step, subject]) => ({
    code,
    of,
    says,
    step,
    subject: subject ?? null,
  })),
)

test.each(lines)('$code says what is wrong and what settles it: $says', ({ code, of, says, step, subject }) => {
  const { words, settle } = findingWords({ code, ...of } as Finding, names)
  expect(words).toMatch(says)
  if (step === null) return expect(settle).toBeNull()
  expect(settle).toMatchObject({ step, subject })
  expect(settle?.label).not.toBe('')
})

test('what has no words is said by nobody, whatever it is called', () => {
  for (const code of ['constructor', 'gone'])
    expect(() => findingWords({ code } as never, names)).toThrow(`nothing says “${code}”`)
})

test('every check says what it found in order', () => {
  expect(allChecks.map(passedWords).every((words) => words.length > 10)).toBe(true)
  expect(new Set(allChecks.map(passedWords)).size).toBe(allChecks.length)
})

test('edits of one kind, or of one property of one component, are one kind of difference', () => {
  const add = { kind: 'insert' } as Edit
  expect(kindsOfDifference([add, add])).toBe(1)
  expect(kindsOfDifference([edit, edit])).toBe(1)
  expect(kindsOfDifference([edit, { ...edit, prop: 'size' } as Edit, add])).toBe(3)
  expect(kindsOfDifference([edit, { ...edit, node: 'other' } as Edit])).toBe(2)
})
