import { setTimeout as pause } from 'node:timers/promises'
import type { Knex } from 'knex'
import * as z from 'zod'
import type { Database } from '../database/connect'
import { freshDatabase } from '../test-database'
import { TakingAway } from './taking-away'

let db: Database
let own: number[]
beforeAll(async () => {
  db = await freshDatabase()
  own = await connections()
})
afterAll(() => db.destroy())

/** All connections of this account, but for those of the test itself. */
async function connections(): Promise<number[]> {
  const rows: unknown[] = await db('information_schema.processlist').select({ id: 'id' })
  return rows.map((row) => z.object({ id: z.coerce.number() }).parse(row).id)
}
const others = async () => (await connections()).filter((id) => !own.includes(id)).length

/** Many more rows than fit on the way, so that the database waits for whoever reads. */
async function* rows(from: Knex): AsyncGenerator<Uint8Array, void, undefined> {
  const query = from.select(from.raw('REPEAT(seq, 200) AS words')).from(from.raw('seq_1_to_2000000'))
  for await (const row of query.stream()) yield Buffer.from(JSON.stringify(row))
}
async function* few(from: Knex): AsyncGenerator<Uint8Array, void, undefined> {
  for await (const row of from.select(from.raw('1 AS one')).stream()) yield Buffer.from(JSON.stringify(row))
}

async function until(holds: () => Promise<boolean>): Promise<void> {
  for (let tries = 0; tries < 500 && !(await holds()); tries++) await pause(20)
  expect(await holds()).toBe(true)
}

test('a file that nobody reads any more lets go of its connection at once, in the middle of its rows', async () => {
  const away = new TakingAway(process.env)
  const files = await Promise.all(['a', 'a', 'b', 'b'].map((person) => away.begin(person, rows)))
  for (const file of files) expect(await file.next()).not.toBeNull()
  expect(await others()).toBe(4)
  for (const file of files) file.abandon()
  await until(async () => (await others()) === 0)
  await expect(files[0]?.next()).rejects.toThrow('let go')
  // And others can read again.
  for (let turn = 0; turn < 6; turn++) {
    const file = await away.begin('c', few)
    expect(Buffer.from((await file.next()) ?? []).toString()).toBe('{"one":1}')
    expect(await file.next()).toBeNull()
  }
  await away.destroy()
})

test('whoever reads nothing for a while has stopped; whoever reads slowly has not', async () => {
  // So much longer than a turn of who reads slowly that a busy machine does not make them one who has stopped.
  const away = new TakingAway(process.env, 3000)
  const [slow, stopped] = await Promise.all([away.begin('a', rows), away.begin('b', rows)])
  for (let turn = 0; turn < 10; turn++) {
    await pause(350)
    expect(await slow.next()).not.toBeNull()
  }
  await until(async () => (await others()) === 1)
  await expect(stopped.next()).rejects.toThrow('let go')
  slow.abandon()
  await away.destroy()
})

test('one person has two at a time, everybody together four, and what is refused says when to ask again', async () => {
  const away = new TakingAway(process.env)
  const files = [await away.begin('a', rows), await away.begin('a', rows)]
  await expect(away.begin('a', rows)).rejects.toMatchObject({ code: 'busy', retryAfter: 10 })
  files.push(await away.begin('b', rows), await away.begin('c', rows))
  await expect(away.begin('d', rows)).rejects.toThrow('4 files are being taken away')
  files[0]?.abandon()
  files.push(await away.begin('d', rows))
  for (const file of files) file.abandon()
  await away.destroy()
})

test('a file that cannot be read is one less, not one for ever', async () => {
  const away = new TakingAway(process.env)
  const broken = async function* (from: Knex): AsyncGenerator<Uint8Array, void, undefined> {
    await from('there_is_no_such_table').select('*')
  }
  for (let turn = 0; turn < 6; turn++) {
    const file = await away.begin('a', broken)
    await expect(file.next()).rejects.toThrow('there_is_no_such_table')
  }
  await away.destroy()
})
