import { matches, type Condition } from '@/core/decide'
import { subjects, unknownVisitor, visitorSchema } from '@/core/ledger'
import type { GoalId } from '@/core/ids'
import type { Database } from '../database/connect'
import { act, editor, freshDatabase } from '../test-database'
import { reachedSince } from './heard'
import { recentVisitors, recentVisitorsCloser } from './recent-visitors'

const CAME = 4200
let db: Database
beforeAll(async () => {
  db = await freshDatabase()
  await cameLately(CAME)
})
afterAll(() => db.destroy())

/** One in four by a phone and from a letter, one in five of all has reserved; one came long ago. */
async function cameLately(many: number) {
  const ids = Array.from({ length: many }, (_, n) => Buffer.from(n.toString(16).padStart(32, '0'), 'hex'))
  const rows = ids.map((visitor, n) => {
    const lastAt = new Date(Date.now() - (n === 7 ? 60 : 1) * 86_400_000)
    const phone = n % 4 === 0
    const state = visitorSchema.encode({
      ...unknownVisitor(),
      presence: { day: null, known: new Set(n % 5 === 0 ? ['front', subjects.goal('reserved' as GoalId)] : ['front']) },
      visit: {
        ...{ number: 1, beganAt: lastAt.getTime(), lastAt: lastAt.getTime(), stayed: true },
        ...{ document: 'front', lastDocument: 'front', documents: ['front'] },
        ...{ source: 'direct', device: phone ? 'phone' : 'computer', language: null, region: null },
        ...{ utm: phone ? { campaign: 'First notes' } : {}, referrer: '', attributes: [] },
      },
    })
    return { crowd: 0, visitor, state: JSON.stringify(state), last_at: lastAt, last_seq: n }
  })
  await db.batchInsert('ledger_visitors', rows, 500)
  const firsts = ids.flatMap((visitor, n) => (n % 5 === 0 ? [{ subject: 'g:reserved', visitor, day: '2026-11-02' }] : []))
  await db.batchInsert('firsts', firsts, 500)
}

test('a sample is enough to answer by; whoever asks on is told of more, and of all in the end', async () => {
  expect(await recentVisitors(db)).toHaveLength(2000)
  const audience: Condition = { kind: 'all', of: [{ kind: 'device', device: 'phone' }] }
  const first = await act(db, editor, 'test.audience', { audience })
  expect(first).toMatchObject({ kind: 'share', awaited: 20_000 })
  let last = first
  for (let asked = 0; asked < 100 && last.kind === 'share' && last.awaited != null; asked++) {
    await new Promise((next) => setTimeout(next, 50))
    last = await act(db, editor, 'test.audience', { audience })
  }
  // The one of long ago is not among them.
  expect(last).toMatchObject({ kind: 'share', of: CAME - 1, share: CAME / 4 / (CAME - 1), awaited: null })
})

test('goals, and the marks of an address, are remembered', async () => {
  const { visitors } = await recentVisitorsCloser(db)
  const share = (condition: Condition) => visitors.filter((visitor) => matches(condition, visitor)).length / visitors.length
  expect(share({ kind: 'goalReached', goal: 'reserved' as GoalId, reached: true })).toBeCloseTo(0.2, 2)
  expect(share({ kind: 'campaign', campaign: 'first notes' })).toBeCloseTo(0.25, 2)
})

test('who reached a goal is heard of by those who ask, the last of them last, and nobody else is', async () => {
  const found = await reachedSince(db, ['reserved' as GoalId], '2026-11-01', 100)
  expect([found.length, new Set(found.map(({ goal }) => goal))]).toEqual([100, new Set(['reserved'])])
  expect(await reachedSince(db, ['reserved' as GoalId], '2026-11-03', 100)).toEqual([])
  expect(await reachedSince(db, ['constructor' as GoalId], '2026-11-01', 100)).toEqual([])
})
