import type { Knex } from 'knex'
import * as z from 'zod'
import { changesSaid, changeWords } from '@/contract/changes'
import { idText, type TestId } from '@/core/ids'
import type { Calendar } from '@/core/time'
import type { TrailFilter } from '@/contract/contract'
import { contains } from '../database/contains'
import { readCalendar } from './settings'
import { testNumber } from './tests'

const row = z.object({
  seq: z.coerce.number(),
  at: z.date(),
  person: z.string(),
  address: z.string(),
  action: z.string(),
  outcome: z.enum(['done', 'refused']),
  thing_kind: z.string(),
  thing: z.string(),
  detail: z.string(),
})
type Row = z.infer<typeof row>
const DAY = 86_400_000

function narrow(query: Knex.QueryBuilder, { person, search, from, to }: TrailFilter, { beginOf, endOf }: Calendar): void {
  if (person !== null) void query.where({ account_id: person })
  if (from !== null) void query.where('at', '>=', beginOf(from))
  if (to !== null) void query.where('at', '<', endOf(to))
  if (search === '') return
  void query.where((either) => {
    for (const column of ['person', 'action', 'thing', 'detail', 'address']) void either.orWhereILike(column, contains(search))
    // As it is read, and not as it is kept.
    void either.orWhereIn('action', changesSaid(search))
  })
}

/** What was done, the newest first. */
export async function readTrail(db: Knex, filter: TrailFilter, page: number, size: number) {
  const calendar = await readCalendar(db)
  const total = z
    .object({ total: z.coerce.number() })
    .parse(await db('audit_trail').modify(narrow, filter, calendar).count({ total: '*' }).first()).total
  const rows: unknown[] = await db('audit_trail')
    .modify(narrow, filter, calendar)
    .orderBy('seq', 'desc')
    .limit(size)
    .offset((page - 1) * size)
  const read = rows.map((one) => row.parse(one))
  const names = await namesOf(db, read)
  return { total, lines: read.map((one) => lineOf(one, names)) }
}

function lineOf({ at, action, outcome, thing_kind: thingKind, ...rest }: Row, names: ReadonlyMap<string, string>) {
  return {
    ...rest,
    at: at.toISOString(),
    words: changeWords(action),
    refused: outcome === 'refused',
    thingKind,
    thingName: names.get(`${thingKind} ${rest.thing}`) ?? '',
  }
}

/** What documents, tests, goals and people of these rows are called today. */
async function namesOf(db: Knex, rows: readonly Row[]): Promise<Map<string, string>> {
  const names = new Map<string, string>()
  const named = z.object({ id: z.string(), name: z.string() })
  const take = async (kind: string, query: (ids: string[]) => Knex.QueryBuilder) => {
    // What was only just being made is known by a name, which is no id.
    const things = rows.filter(({ thing_kind, thing }) => thing_kind === kind && idText.safeParse(thing).success)
    const ids = [...new Set(things.map(({ thing }) => thing))]
    if (ids.length === 0) return
    const found: unknown[] = await query(ids)
    for (const one of found.map((each) => named.parse(each))) names.set(`${kind} ${one.id}`, one.name)
  }
  await take('document', (ids) => db('documents').whereIn('id', ids).select('id', { name: 'title' }))
  await take('goal', (ids) => db('goals').whereIn('id', ids).select('id', 'name'))
  await take('person', (ids) => db('accounts').whereIn('id', ids).select('id', 'name'))
  await take('version', (ids) => db('versions').whereIn('id', ids).select('id', 'name'))
  await take('test', (ids) =>
    db('tests')
      .whereIn(
        'number',
        ids.filter((id) => /^t-[1-9]\d{0,8}$/.test(id)).map((id) => testNumber(id as TestId)),
      )
      .select(db.raw("CONCAT('t-', number) AS id"), 'name'),
  )
  return names
}

/** Takes away what is older than it has to be kept, a little at a time. @returns how many */
/** The number of the last thing that anybody did here: while it stays, nothing has been changed. */
export async function lastChange(db: Knex): Promise<number> {
  const row: unknown = await db('audit_trail').max({ seq: 'seq' }).first()
  return z.object({ seq: z.number().nullable() }).parse(row).seq ?? 0
}

export async function pruneTrail(db: Knex, days: number, most = 2000): Promise<number> {
  return db('audit_trail')
    .where('at', '<', new Date(Date.now() - Math.max(days, 31) * DAY))
    .orderBy('seq')
    .limit(most)
    .delete()
}
