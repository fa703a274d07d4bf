import type { Knex } from 'knex'
import * as z from 'zod'
import {
  deeds,
  designSchema,
  epochsOf,
  lastByItself,
  laterEpochSchema,
  partsOf,
  readings,
  roundNow,
  roundSchema,
  statuses,
  type Design,
  type LaterEpoch,
  type Round,
  type Lots,
} from '@/core/experiment'
import { editsSchema } from '@/core/document'
import { documentIdSchema, versionIdSchema, type DocumentId, type RoundId, type TestId } from '@/core/ids'
import type { LiveTransaction } from '../database/go-live'
import { jsonColumn } from '../database/json-column'
import { missing } from '../failure'

/** Who does what nobody pressed a button for, as releases, revisions and decisions name it. */
export const BY_ITSELF = 'the schedule'

/** What was decided, with all that is needed to read it later and to take it back. */
export const decisionSchema = z.object({
  kind: z.enum(['keep', 'take']),
  version: versionIdSchema,
  versionName: z.string(),
  reason: z.string(),
  lesson: z.string(),
  sentence: z.string(),
  reading: z.enum(readings),
  by: z.string(),
  at: z.iso.datetime(),
  undone: z.boolean(),
  goal: z.string(),
  arms: z.array(
    z.object({
      version: versionIdSchema,
      name: z.string(),
      exposed: z.number(),
      converters: z.number(),
      rate: z.number().nullable(),
    }),
  ),
  /** Edits that take the variant back out of what is published, and out of the drafts, document by document. */
  undo: z.array(z.object({ document: documentIdSchema, published: editsSchema, draft: editsSchema })).default([]),
  /** What was tested, and what each variant changed, in words; empty in decisions from before this was written down. */
  tested: z.string().default(''),
  changed: z.array(z.object({ name: z.string(), words: z.array(z.string()) })).default([]),
})
export type StoredDecision = z.infer<typeof decisionSchema>

const newsSchema = z.object({ kind: z.enum(deeds), at: z.coerce.date(), words: z.string() })
export type News = z.infer<typeof newsSchema>

export const noteSchema = z.object({ at: z.iso.datetime(), by: z.string(), words: z.string() })

const rowSchema = z.object({
  number: z.number(),
  document_id: documentIdSchema,
  status: z.enum(statuses),
  name: z.string(),
  design: jsonColumn(designSchema),
  decision: jsonColumn(decisionSchema).nullable(),
  /** Of earlier runs, newest first. */
  earlier: jsonColumn(z.array(decisionSchema)),
  /** What was written down while it was made and ran, oldest first. */
  notes: jsonColumn(z.array(noteSchema)),
  tags: jsonColumn(z.array(z.string())),
  /** What happened last without anybody pressing anything. */
  news: jsonColumn(newsSchema).nullable(),
  lock_version: z.number(),
  created_at: z.date(),
  created_by: z.string(),
  started_at: z.date().nullable(),
  changed_at: z.date(),
  settled_at: z.date().nullable(),
  /** When its split was last worked out. */
  adapted_at: z.date().nullable(),
})
export type TestRow = z.infer<typeof rowSchema>

export function testId(number: number): TestId {
  return `t-${number}` as TestId
}

export function testNumber(id: TestId): number {
  const match = /^t-([1-9]\d{0,8})$/.exec(id)
  if (match === null) throw missing(`A test “${id}”`)
  return Number(match[1])
}

export async function readTest(db: Knex, id: TestId): Promise<TestRow> {
  const row: unknown = await db('tests')
    .where({ number: testNumber(id) })
    .first()
  if (row === undefined) throw missing('This test')
  return rowSchema.parse(row)
}

export async function holdTest(trx: Knex.Transaction, id: TestId): Promise<TestRow> {
  const row: unknown = await trx('tests')
    .where({ number: testNumber(id) })
    .forUpdate()
    .first()
  if (row === undefined) throw missing('This test')
  return rowSchema.parse(row)
}

export async function testsWhere(db: Knex, where: (query: Knex.QueryBuilder) => void): Promise<TestRow[]> {
  const rows: unknown[] = await db('tests').modify(where)
  return rows.map((row) => rowSchema.parse(row))
}

/** Tests with a part in one of these documents. */
export async function testsTouching(db: Knex, documents: readonly DocumentId[]): Promise<TestRow[]> {
  return testsWhere(
    db,
    (query) =>
      void query.whereIn('number', db('test_parts').whereIn('document_id', documents).select('test_number')).orderBy('number'),
  )
}

/** Keeps which documents a test has parts in, for looking it up from them. */
export async function indexTest(trx: Knex, number: number, design: Design): Promise<void> {
  await trx('test_parts').where({ test_number: number }).delete()
  await trx('test_parts').insert(
    partsOf(design).map(({ document, node }, part) => ({ test_number: number, part, document_id: document, node_id: node })),
  )
  await trx('tests').where({ number }).update({ campaign: design.campaign })
}

const pausesSchema = z.array(z.object({ from: z.coerce.date(), to: z.coerce.date().nullable() }))
const roundFields = z.object({
  /** As it was opened. */
  snapshot: jsonColumn(roundSchema),
  started_at: z.date(),
  ended_at: z.date().nullable(),
  /** When it was held up, oldest first. */
  pauses: jsonColumn(pausesSchema),
  /** What it was changed to while it ran, oldest first: each began an epoch. */
  reweighed: jsonColumn(z.array(laterEpochSchema)),
  /** Of which part’s rules; `null` of a test. */
  personalization: z.string().nullable(),
})
const asRound = <Row extends z.infer<typeof roundFields>>({ snapshot, ...row }: Row) => ({
  ...row,
  /** As it draws now. */
  snapshot: roundNow(snapshot, row.reweighed),
  epochs: epochsOf(snapshot, row.started_at, row.reweighed),
})
const roundRow = roundFields.transform(asRound)
export type RoundRow = z.infer<typeof roundRow>

/** Newest first. */
export async function roundsOf(db: Knex, number: number): Promise<RoundRow[]> {
  const rows: unknown[] = await db('rounds').where({ test_number: number, rehearsed: 0 }).orderBy('number', 'desc')
  return rows.map((row) => roundRow.parse(row))
}

/** The same as they are kept, the oldest first: as each was opened, and what it was changed to. */
export async function roundRows(db: Knex, number: number) {
  const rows: unknown[] = await db('rounds').where({ test_number: number, rehearsed: 0 }).orderBy('number')
  return rows.map((row) => roundFields.parse(row)).map(({ snapshot: began, ...row }) => ({ began, ...row }))
}

const gainFields = roundFields.extend({ personalization: z.string(), rule: z.string() })
const gainRow = gainFields.transform(asRound)
export type GainRow = z.infer<typeof gainRow>

/** Rounds in which what rules gain is counted. */
export async function gainRows(db: Knex, where: (query: Knex.QueryBuilder) => void): Promise<GainRow[]> {
  const rows: unknown[] = await db('rounds').whereNotNull('personalization').modify(where)
  return rows.map((row) => gainRow.parse(row))
}

/** The newest round of each of these tests. */
export async function lastRounds(db: Knex, numbers: readonly number[]): Promise<Map<number, RoundRow>> {
  const rows: unknown[] =
    numbers.length === 0
      ? []
      : await db('rounds as r')
          .whereIn('r.test_number', numbers)
          .whereRaw('r.number = (SELECT MAX(n.number) FROM rounds AS n WHERE n.test_number = r.test_number AND n.rehearsed = 0)')
  const schema = roundFields.extend({ test_number: z.number() }).transform(asRound)
  return new Map(rows.map((row) => schema.parse(row)).map(({ test_number, ...round }) => [test_number, round]))
}

/**
 * What other tests of a group that run or are paused have of its visitors.
 *
 * @param held where more is to be taken: nobody else takes any meanwhile, and what was just taken is seen
 */
export async function takenOfGroup(db: Knex, group: string, except: number, held: boolean): Promise<Lots> {
  const query = db('rounds').whereNull('ended_at').whereNotNull('test_number').select('test_number', 'snapshot', 'reweighed')
  const rows: unknown[] = await (held ? query.forUpdate() : query)
  const schema = roundFields.pick({ snapshot: true, reweighed: true }).extend({ test_number: z.number() })
  return rows.flatMap((raw): Lots => {
    const { test_number: number, snapshot, reweighed } = schema.parse(raw)
    const round = roundNow(snapshot, reweighed)
    return number !== except && round.design.group === group ? (round.lots ?? []) : []
  })
}

/** The names of all groups, by the tests that are in one. */
export async function listGroups(db: Knex): Promise<string[]> {
  const rows: unknown[] = await db('tests').distinct(db.raw("JSON_VALUE(design, '$.group') AS name")).limit(200)
  const names = rows.map((row) => z.object({ name: z.string().nullable() }).parse(row).name)
  return names.flatMap((name) => (name === null || name === '' ? [] : [name])).sort()
}

/** Rounds in which drafts are rehearsed are numbered from here on. */
const REHEARSED_FROM = 1_000_000

/** Keeps a test as it would be, were it started now, to be rehearsed: nobody is drawn by it, and no number of the test has it. */
export async function addRehearsedRound(trx: Knex.Transaction, number: number, snapshot: Round): Promise<RoundId> {
  const last: unknown = await trx('rounds').where({ test_number: number, rehearsed: 1 }).max({ number: 'number' }).first()
  const next = Math.max(REHEARSED_FROM, z.object({ number: z.number().nullable() }).parse(last).number ?? 0) + 1
  const id = `t-${number}-r${next}` as RoundId
  const now = new Date()
  await trx('rounds').insert({
    id,
    test_number: number,
    number: next,
    snapshot: JSON.stringify({ ...snapshot, id }),
    started_at: now,
    ended_at: now,
    rehearsed: 1,
  })
  return id
}

export async function roundsById(db: Knex, ids: readonly string[]): Promise<RoundRow[]> {
  const rows: unknown[] = await db('rounds').whereIn('id', ids)
  return rows.map((row) => roundRow.parse(row))
}

/** The rounds before this one of the same test, or of the same rules of a part, newest first. */
export async function roundsBefore(db: Knex, id: RoundId, most: number): Promise<RoundRow[]> {
  const rows: unknown[] = await db('rounds as r')
    .join('rounds as b', (on) =>
      on
        .on('b.number', '<', 'r.number')
        .on(db.raw('b.test_number <=> r.test_number AND b.personalization <=> r.personalization AND b.rule <=> r.rule')),
    )
    .where({ 'r.id': id, 'b.rehearsed': 0 })
    .orderBy('b.number', 'desc')
    .limit(most)
    .select('b.*')
  return rows.map((row) => roundRow.parse(row))
}

/** The round that is under way stops counting for a while, or goes on. */
export async function holdUp(trx: LiveTransaction, number: number, held: boolean): Promise<void> {
  const rows: unknown[] = await trx('rounds').where({ test_number: number }).whereNull('ended_at').select('id', 'pauses')
  for (const raw of rows) {
    const { id, pauses } = z.object({ id: z.string(), pauses: jsonColumn(pausesSchema) }).parse(raw)
    const now = new Date()
    const last = pauses.at(-1)
    const isHeld = last !== undefined && last.to === null
    if (isHeld === held) continue
    const next = held ? [...pauses, { from: now, to: null }] : [...pauses.slice(0, -1), { from: last?.from ?? now, to: now }]
    await trx('rounds')
      .where({ id })
      .update({ pauses: JSON.stringify(next) })
  }
}

/** Another stretch of constant weights begins in the round that is under way. */
export async function beginEpoch(trx: LiveTransaction, number: number, epoch: LaterEpoch): Promise<void> {
  const [round] = await roundsOf(trx, number)
  if (round === undefined) throw new Error(`the test ${number} has no round that could be changed`)
  await trx('rounds')
    .where({ id: round.snapshot.id })
    .update({ reweighed: JSON.stringify([...round.reweighed, epoch]) })
}

/** What it did by itself, where that is still what happened to it last. */
export function newsOf({ news, status, started_at: startedAt, decision }: TestRow) {
  const made =
    decision === null ? null : { at: new Date(decision.at), undone: decision.undone, byItself: decision.by === BY_ITSELF }
  const told = lastByItself(news, { status, startedAt, decision: made })
  return told === null ? null : { ...told, at: told.at.toISOString() }
}

export async function tellNews(trx: Knex, number: number, news: News): Promise<void> {
  await trx('tests')
    .where({ number })
    .update({ news: JSON.stringify(news) })
}
