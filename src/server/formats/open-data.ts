import type { Knex } from 'knex'
import * as z from 'zod'
import { dataSets, type DataSetName } from '@/core/formats'
import type { RoundId } from '@/core/ids'
import { visitorSchema } from '@/core/ledger'
import { jsonColumn } from '../database/json-column'
import { csvLines } from './csv'

export const dataForms = ['csv', 'ndjson'] as const
export type DataForm = (typeof dataForms)[number]

type Row = Readonly<Record<string, unknown>>

/** Lines that go out together. */
const AT_ONCE = 500

/**
 * A set of data, written while it is read: however many rows there are, no more than some hundred are in memory.
 *
 * @param rounds of which; of events all are told
 */
export async function* openData(
  db: Knex,
  name: DataSetName,
  rounds: readonly RoundId[],
  form: DataForm,
): AsyncGenerator<Uint8Array, void, undefined> {
  const columns = dataSets[name].columns.map((column) => column.name)
  const encoder = new TextEncoder()
  const lines = (rows: readonly Row[]) =>
    form === 'csv'
      ? csvLines(rows.map((row) => columns.map((column) => cell(row[column]))))
      : rows
          .map((row) => `${JSON.stringify(Object.fromEntries(columns.map((column) => [column, row[column] ?? null])))}\n`)
          .join('')
  if (form === 'csv') yield encoder.encode(csvLines([columns]))
  let waiting: Row[] = []
  for await (const row of readers[name](db, rounds)) {
    waiting.push(row)
    if (waiting.length < AT_ONCE) continue
    yield encoder.encode(lines(waiting))
    waiting = []
  }
  if (waiting.length > 0) yield encoder.encode(lines(waiting))
}

function cell(value: unknown): string | number {
  if (value === null || value === undefined) return ''
  return typeof value === 'number' || typeof value === 'string' ? value : JSON.stringify(value)
}

/** Columns of a table under the names of the set. */
const asNamed = (columns: Readonly<Record<string, string>>) => (db: Knex) =>
  Object.entries(columns).map(([name, column]) =>
    column === 'day' ? db.raw("DATE_FORMAT(day, '%Y-%m-%d') AS day") : db.raw('?? AS ??', [column, name]),
  )

const ofRound = { round: 'round_id', epoch: 'epoch', goal: 'goal_id', version: 'version' }
const ofExposed = {
  ...{ exposed: 'exposed', converters: 'converters', conversions: 'conversions', worth: 'worth' },
  ...{ worthSquared: 'worth_squared', visits: 'visits', visitsSquared: 'visits_squared', visitsWorth: 'visits_worth' },
}

/** Rows of live visitors in a table of counts, in the order of its key. */
function counted(table: string, columns: Readonly<Record<string, string>>, order: readonly string[]) {
  return async function* (db: Knex, rounds: readonly RoundId[]): AsyncGenerator<Row> {
    const query = db(table)
      .where({ crowd: 0 })
      .whereIn('round_id', rounds)
      .select(asNamed(columns)(db))
      // By the columns themselves, as they stand in the key: a day that is written out would be sorted anew.
      .orderBy(order.map((column) => `${table}.${column}`))
    for await (const row of query.stream()) yield row as Row
  }
}

const roundRow = z.object({
  id: z.string(),
  number: z.number(),
  started_at: z.date(),
  ended_at: z.date().nullable(),
  pauses: jsonColumn(z.unknown()),
  reweighed: jsonColumn(z.unknown()),
  snapshot: jsonColumn(z.unknown()),
})

async function* roundsOut(db: Knex, rounds: readonly RoundId[]): AsyncGenerator<Row> {
  const rows: unknown[] = await db('rounds').whereIn('id', rounds).orderBy('number')
  for (const row of rows) {
    const { id: round, number, started_at, ended_at, pauses, reweighed: epochs, snapshot } = roundRow.parse(row)
    yield {
      round,
      number,
      startedAt: started_at.toISOString(),
      endedAt: ended_at?.toISOString() ?? null,
      pauses,
      epochs,
      snapshot,
    }
  }
}

const hex = z.instanceof(Buffer).transform((bytes) => bytes.toString('hex'))
const visitorRow = z.object({ visitor: hex, state: jsonColumn(visitorSchema.pick({ enrolments: true })) })

async function* enrolmentsOut(db: Knex, rounds: readonly RoundId[]): AsyncGenerator<Row> {
  const wanted = new Set<string>(rounds)
  const when = (at: number | null) => (at === null ? null : new Date(at).toISOString())
  const since: unknown = await db('rounds').whereIn('id', rounds).min({ at: 'started_at' }).first()
  const { at: began } = z.object({ at: z.date().nullable() }).parse(since)
  if (began === null) return
  // Most visitors took part in something else, or had left before it began: the database passes them over.
  const query = db('ledger_visitors')
    .where({ crowd: 0 })
    .where('last_at', '>=', began)
    .where((any) => rounds.forEach((round) => void any.orWhereRaw('state LIKE ?', [`%"${round}"%`])))
    .orderBy('visitor')
    .select('visitor', 'state')
  for await (const row of query.stream()) {
    const { visitor, state } = visitorRow.parse(row)
    for (const [round, of] of state.enrolments) {
      if (!wanted.has(round)) continue
      yield {
        ...{ visitor, round, epoch: of.epoch, version: of.version, assignedAt: when(of.assignedAt) },
        ...{ exposedAt: when(of.exposedAt), leftAt: when(of.leftAt), traits: of.traits },
        goals: Object.fromEntries(of.progress.reached),
      }
    }
  }
}

const eventRow = z.object({
  seq: z.number(),
  visitor: hex,
  at: z.date(),
  kind: z.string(),
  document_id: z.string().nullable(),
  round_id: z.string().nullable(),
  version: z.string().nullable(),
  nodes: z.string().nullable(),
  about: jsonColumn(z.unknown()).nullable(),
})

async function* eventsOut(db: Knex): AsyncGenerator<Row> {
  for await (const row of db('events').where({ crowd: 0 }).orderBy('seq').stream()) {
    const { document_id: document, round_id: round, at, ...rest } = eventRow.parse(row)
    yield { ...rest, document, round, at: at.toISOString() }
  }
}

/** How each set is read: one that is forgotten does not compile. */
const readers: { readonly [Name in DataSetName]: (db: Knex, rounds: readonly RoundId[]) => AsyncGenerator<Row> } = {
  rounds: roundsOut,
  tallies: counted('tallies', { ...ofRound, day: 'day', assigned: 'assigned', ...ofExposed }, [
    ...['round_id', 'epoch', 'goal_id', 'version', 'day'],
  ]),
  segments: counted('segment_tallies', { ...ofRound, day: 'day', trait: 'trait', value: 'trait_value', ...ofExposed }, [
    ...['round_id', 'epoch', 'goal_id', 'version', 'day', 'trait', 'trait_value'],
  ]),
  worths: counted(
    'worth_classes',
    {
      ...ofRound,
      ...{ class: 'class', visitors: 'visitors', worth: 'worth', worthSquared: 'worth_squared' },
      ...{ visits: 'visits', visitsWorth: 'visits_worth' },
    },
    ['round_id', 'epoch', 'goal_id', 'version', 'class'],
  ),
  earlier: counted('earlier_tallies', { ...ofRound, past: 'past', exposed: 'exposed', converters: 'converters' }, [
    ...['round_id', 'epoch', 'goal_id', 'version', 'past'],
  ]),
  beside: counted(
    'beside_tallies',
    {
      ...{ round: 'round_id', epoch: 'epoch', version: 'version', other: 'other_round', shown: 'other_version' },
      ...{ exposed: 'exposed', converters: 'converters' },
    },
    ['round_id', 'epoch', 'version', 'other_round', 'other_version'],
  ),
  doings: counted(
    'doings',
    {
      ...{ round: 'round_id', version: 'version', document: 'document_id', doing: 'doing', what: 'what' },
      ...{ times: 'times', visitors: 'visitors' },
    },
    ['round_id', 'version', 'document_id', 'doing', 'what'],
  ),
  enrolments: enrolmentsOut,
  events: eventsOut,
}
