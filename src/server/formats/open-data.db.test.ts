import { parse } from 'csv-parse/sync'
import { ORIGINAL } from '@/core/decide'
import { dataSetNames, dataSets, type DataSetName } from '@/core/formats'
import type { RoundId } from '@/core/ids'
import { visitors } from '@/core/simulate'
import { inTransaction, type Database } from '../database/connect'
import * as z from 'zod'
import { countNext } from '../ledger/count'
import { pruneVisitors } from '../ledger/retention'
import { eventsOf } from '../rehearse'
import { writeEvents } from '../stores/events'
import { roundsOf } from '../stores/tests'
import { act, freshDatabase, publisher, readyTest } from '../test-database'
import { openData } from './open-data'

const CAME = 1300
let db: Database
let round: RoundId
beforeAll(async () => {
  db = await freshDatabase()
  const { test, lock } = await readyTest(db, 'Open')
  await act(db, publisher, 'test.start', { test, lock })
  await db('rounds').update({ started_at: new Date('2026-01-01T00:00:00Z') })
  const snapshot = (await roundsOf(db, 1))[0]?.snapshot
  if (snapshot === undefined) throw new Error('the test has no round')
  round = snapshot.id
  const crowd = [...visitors({ seed: 9, visitors: CAME, days: 3, startsAt: new Date('2026-03-02T00:00:00Z') })]
  await writeEvents(
    db,
    crowd.flatMap((visitor) => eventsOf(visitor, snapshot, 0, new Map([[ORIGINAL, 0.3]]))),
  )
  while ((await inTransaction(db, (trx) => countNext(trx, 5000))) > 0);
})
afterAll(() => db.destroy())

async function taken(name: DataSetName, form: 'csv' | 'ndjson', rounds = [round]): Promise<string> {
  const decoder = new TextDecoder()
  let text = ''
  for await (const chunk of openData(db, name, rounds, form)) text += decoder.decode(chunk, { stream: true })
  return text
}
const objects = async (name: DataSetName, rounds?: RoundId[]) =>
  (await taken(name, 'ndjson', rounds))
    .split('\n')
    .filter(Boolean)
    .map((line) => JSON.parse(line) as Record<string, unknown>)

test.each(dataSetNames)('%s: the columns are those of the dictionary, and both forms say the same', async (name) => {
  const names = dataSets[name].columns.map((column) => column.name)
  const rows: string[][] = parse(await taken(name, 'csv'))
  expect(rows[0]).toEqual(names)
  const lines = await objects(name)
  for (const line of lines.slice(0, 5)) expect(Object.keys(line)).toEqual(names)
  const asText = (value: unknown) => (value === null ? '' : typeof value === 'object' ? JSON.stringify(value) : String(value))
  expect(rows.slice(1)).toEqual(lines.map((line) => names.map((column) => asText(line[column]))))
})

test('everybody who took part is in it once, and adds up to what the tallies say', async () => {
  const people = await objects('enrolments')
  const tallies = await objects('tallies')
  const sum = (of: string, goal: string) => tallies.reduce((all, row) => all + (row.goal === goal ? Number(row[of]) : 0), 0)
  expect([people.length, new Set(people.map(({ visitor }) => visitor)).size]).toEqual([CAME, CAME])
  expect(people.filter(({ exposedAt }) => exposedAt !== null)).toHaveLength(sum('exposed', ''))
  const [goal = ''] = Object.keys(people.find(({ goals }) => Object.keys(goals as object).length > 0)?.goals as object)
  expect(people.filter(({ goals }) => goal in (goals as object))).toHaveLength(sum('converters', goal))
  expect(await objects('tallies', ['constructor' as RoundId])).toEqual([])
})

test('whoever stops reading lets go of the database', async () => {
  const rows = openData(db, 'events', [round], 'csv')
  await rows.next()
  await rows.next()
  await rows.return(undefined)
  expect(await db('rounds').count({ total: '*' }).first()).toEqual({ total: 1 })
})

// The last of this file: it forgets some.
test('of two downloads of the same events, the later one lacks those of visitors who were forgotten between them, and no others', async () => {
  const lines = async () => (await taken('events', 'ndjson')).split('\n').filter((line) => line !== '')
  const before = await lines()
  expect(await lines()).toEqual(before)
  await pruneVisitors(db, 1, new Date('2026-03-04T12:00:00Z'))
  const after = await lines()
  const gone = before
    .filter((line) => !after.includes(line))
    .map((line) => z.object({ visitor: z.string() }).parse(JSON.parse(line)).visitor)
  expect(gone.length).toBeGreaterThan(0)
  expect(after).toEqual(before.filter((line) => !gone.some((visitor) => line.includes(visitor))))
})
