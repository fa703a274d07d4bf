import { ORIGINAL } from '../decide'
import type { GoalId, VersionId } from '../ids'
import { findingWords, read, sentence, waitingSentence, type ArmCounts, type Names } from '.'

const names: Names = {
  version: (id) => (id === ORIGINAL ? 'Original' : id === 'short' ? 'Shorter headline' : 'Longer headline'),
  goal: () => 'Reserved',
  page: () => 'Front',
}
const arm = (version: string, exposed: number, converters: number): ArmCounts => ({
  version: version as VersionId,
  weight: 5000,
  assigned: exposed,
  exposed,
  converters,
})
const said = (arms: ArmCounts[], going: boolean) =>
  sentence(read({ epochs: [arms], days: 14, smallestEffect: 0.05, plannedTotal: 20_000 }), {
    goal: 'Reserved',
    names,
    going,
    waiting: waitingSentence({ kind: 'days', days: 12 }, '5%'),
  })
const say = (...arms: ArmCounts[]) => said(arms, true)

describe('the sentence of a result', () => {
  test('that is clear says by how much, within which bounds, and what to do', () => {
    expect(say(arm(ORIGINAL, 10_000, 1000), arm('short', 10_000, 1200))).toMatch(
      /^‘Shorter headline’ is better: 12% reach “Reserved” instead of 10%; the true gain is between \+\d+(\.\d)?% and \+\d+(\.\d)?%\. Safe to stop\.$/,
    )
    expect(say(arm(ORIGINAL, 10_000, 1200), arm('short', 10_000, 1000))).toMatch(
      /is worse: .* between −.* and −.*Keep the original\.$/,
    )
  })

  test('that is not clear yet never calls a winner, and says how long', () => {
    const words = say(arm(ORIGINAL, 1000, 100), arm('short', 1000, 118))
    expect(words).toBe(
      'We cannot say yet what ‘Shorter headline’ does: so far 11.8% reach “Reserved” instead of 10%. Let it run. At the traffic of the last two weeks, a difference of 5% would be seen after about 12 more days.',
    )
  })

  test.each([
    [arm(ORIGINAL, 90, 10), arm('short', 80, 30), /before 100 visitors have seen each version: about 43 more are needed/],
    [arm(ORIGINAL, 400, 2), arm('short', 400, 5), /before 10 visitors of one version .*: about 800 more visitors are needed/],
    [arm(ORIGINAL, 400, 1), arm('short', 400, 12), /We cannot say yet/],
  ])('of few has no interval, and says how many more it takes (%#)', (original, variant, words) => {
    const found = say(original, variant)
    expect(found).toMatch(words)
    expect(found).not.toMatch(/between|true/)
  })

  test('never shows a limit beyond three times as much', () => {
    const words = say(arm(ORIGINAL, 1000, 15), arm('short', 1000, 75))
    expect(words).toMatch(/is better: .*the true gain is \+\d+(\.\d)?% or more/)
    for (const [, number] of words.matchAll(/\+([\d,.]+)%/g)) expect(Number(number?.replace(',', ''))).toBeLessThanOrEqual(200)
  })

  test('of a test that has ended asks nobody to wait, or to stop', () => {
    const early = said([arm(ORIGINAL, 1000, 100), arm('short', 1000, 118)], false)
    expect(early).toMatch(/^It ended too early to judge ‘Shorter headline’/)
    const clear = said([arm(ORIGINAL, 10_000, 1000), arm('long', 10_000, 1010), arm('short', 10_000, 1300)], false)
    expect(clear).toMatch(/cannot be judged\.$/)
    expect(early + clear).not.toMatch(/wait|let it run|still|stop/i)
  })

  test('whose split is off shows no lift at all', () => {
    const words = say(arm(ORIGINAL, 10_000, 1000), arm('short', 9000, 1300))
    expect(words).toMatch(/not to be trusted/)
    expect(words).not.toMatch(/%/)
  })

  test('of several variants names the better one first and the others after it', () => {
    const words = say(arm(ORIGINAL, 10_000, 1000), arm('long', 10_000, 1010), arm('short', 10_000, 1300))
    expect(words).toMatch(/^‘Shorter headline’ is better.*‘Longer headline’ is still too early to read\.$/)
  })
})

test('a finding that names a step says what the step works on', () => {
  const found = findingWords({ code: 'goalUnpublished', goal: 'g' as GoalId, document: 'done' as never }, names)
  expect(found).toEqual({
    words: '“Reserved” counts on “Front”, which is not published: it could never be reached.',
    settle: { label: 'Publish that page', step: 'publishPage', subject: 'done' },
  })
})
