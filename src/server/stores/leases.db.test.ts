import { inTransaction, type Database } from '../database/connect'
import { freshDatabase } from '../test-database'
import { SHARDS } from './events'
import { expectHeld, leaseNames, leave, renewLeases } from './leases'

let db: Database
beforeEach(async () => {
  db = await freshDatabase()
})
afterEach(() => db.destroy())

/** As if nothing had been heard of a process since its leases ran out. */
async function silent(name: string): Promise<void> {
  await db('leases')
    .where({ owner: name })
    .update({ expires_at: new Date(0) })
  await db('job_processes')
    .where({ name })
    .update({ at: new Date(0) })
}
const sizes = async (...names: string[]) => {
  const held = []
  for (const name of names) held.push(await renewLeases(db, name))
  return held.map(({ lead, shards }) => [lead, shards.size])
}

test('whoever comes first has all, and shares with whoever comes', async () => {
  expect(await sizes('one')).toEqual([[true, SHARDS]])
  // The second finds nothing free until the first has given back.
  expect(await sizes('two', 'one', 'two')).toEqual([
    [false, 0],
    [true, SHARDS / 2],
    [false, SHARDS / 2],
  ])
  const owners: { owner: string }[] = await db('leases').select('owner')
  expect(owners).toHaveLength(leaseNames.length)
})

test('what a process held that is not heard of any more is taken over, and it can write nothing with it', async () => {
  const one = await renewLeases(db, 'one')
  await inTransaction(db, (trx) => expectHeld(trx, 'one', one.shards))
  await silent('one')
  const two = await renewLeases(db, 'two')
  expect([two.lead, two.shards.size]).toEqual([true, SHARDS])
  await expect(inTransaction(db, (trx) => expectHeld(trx, 'one', one.shards))).rejects.toThrow('taken shard')
  await inTransaction(db, (trx) => expectHeld(trx, 'two', two.shards))
})

test('a lease that was lost and taken again is another one', async () => {
  const before = await renewLeases(db, 'one')
  await silent('one')
  const again = await renewLeases(db, 'one')
  expect(again.shards.size).toBe(SHARDS)
  await expect(inTransaction(db, (trx) => expectHeld(trx, 'one', before.shards))).rejects.toThrow('taken shard')
})

test('a process that goes leaves its share to the others at once', async () => {
  await renewLeases(db, 'one')
  await leave(db, 'one')
  expect(await sizes('two')).toEqual([[true, SHARDS]])
})

test('nobody takes a lease while its holder is writing', async () => {
  const one = await renewLeases(db, 'one')
  const taken = await db.transaction(async (trx) => {
    await expectHeld(trx, 'one', one.shards)
    const trying = db('leases')
      .where({ owner: 'one' })
      .update({ owner: 'two' })
      .timeout(300)
      .then(() => true)
    return trying.catch(() => false)
  })
  expect(taken).toBe(false)
})
