import { deeds, lastByItself, type Deed, type TestNow } from './by-itself'
import { statuses } from './lifecycle'

const day = (number: number) => new Date(Date.UTC(2026, 0, number))
const own = { at: day(9), undone: false, byItself: true }
/** As it is right after each. */
const after: { readonly [Which in Deed]: TestNow } = {
  started: { status: 'running', startedAt: day(9), decision: null },
  notStarted: { status: 'draft', startedAt: null, decision: null },
  ended: { status: 'ended', startedAt: day(2), decision: null },
  settled: { status: 'settled', startedAt: day(2), decision: own },
}
const told = (kind: Deed) => ({ kind, at: day(9) })

test.each(deeds)('what a test did by itself (%s) is told until its state is another', (kind) => {
  expect(lastByItself(told(kind), after[kind])).toEqual(told(kind))
  for (const status of statuses)
    if (status !== after[kind].status && !(kind === 'started' && status === 'paused'))
      expect(lastByItself(told(kind), { ...after[kind], status })).toBeNull()
  // It was run again later.
  expect(lastByItself(told(kind), { ...after[kind], startedAt: day(20) })).toBeNull()
})

test('a decision that was taken back, or made by a person since, is not told as the test’s own', () => {
  const settled = (decision: TestNow['decision'], status: TestNow['status'] = 'settled') =>
    lastByItself(told('settled'), { ...after.settled, status, decision })
  expect(settled({ ...own, undone: true }, 'ended')).toBeNull()
  expect(settled({ ...own, undone: true })).toBeNull()
  expect(settled({ at: day(12), undone: false, byItself: false })).toBeNull()
  // It waited for a person, who decided and took that back.
  const decided = { at: day(12), undone: true, byItself: false }
  expect(lastByItself(told('ended'), { ...after.ended, decision: decided })).toBeNull()
})
