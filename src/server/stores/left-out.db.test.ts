import { act, administrator, attempt, editor, freshDatabase } from '../test-database'
import type { Database } from '../database/connect'
import { readRelease } from './releases'
import { addLeftOut, leftOutLately, pruneLeftOut } from './left-out'

let db: Database
beforeAll(async () => {
  db = await freshDatabase()
})
afterAll(() => db.destroy())

test('what was shown to those who are left out adds up over days and processes, and is looked at for a week', async () => {
  await addLeftOut(db, new Map([['bot', 3]]))
  await Promise.all([
    addLeftOut(
      db,
      new Map([
        ['bot', 2],
        ['address', 1],
      ]),
    ),
    addLeftOut(db, new Map([['prefetch', 0]])),
  ])
  await db.raw(
    "INSERT INTO left_out (day, reason, times) VALUES (UTC_DATE() - INTERVAL 6 DAY, 'bot', 10), (UTC_DATE() - INTERVAL 7 DAY, 'bot', 100), (UTC_DATE() - INTERVAL 70 DAY, 'bot', 1000)",
  )
  expect(await leftOutLately(db)).toEqual(
    new Map([
      ['bot', 15],
      ['address', 1],
    ]),
  )
  const { lately } = await act(db, editor, 'setting.leftOut', {})
  expect(lately).toEqual(
    expect.arrayContaining([
      { reason: 'bot', times: 15 },
      { reason: 'noConsent', times: 0 },
    ]),
  )
  expect(await pruneLeftOut(db)).toBe(1)
})

test('who is left out is the administrator’s to say, goes live with the next release, and what is no address is refused', async () => {
  const addresses = ['203.0.113.0/24']
  const leavingOut = { bots: true, studioUsers: true, prefetches: false, addresses }
  expect((await attempt(db, editor, 'setting.save', { leavingOut })).status).toBe(403)
  const { release } = await act(db, administrator, 'setting.save', { leavingOut })
  expect((await readRelease(db, release))?.release.leavingOut).toEqual(leavingOut)
  const refused = await attempt(db, administrator, 'setting.save', {
    leavingOut: { ...leavingOut, addresses: ['203.0.113.0/99'] },
  })
  expect(refused).toMatchObject({ status: 400, body: { fault: expect.stringContaining('an address such as') } })
})
