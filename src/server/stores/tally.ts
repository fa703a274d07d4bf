import type { Knex } from 'knex'
import * as z from 'zod'
import {
  credit,
  enrolmentAfter,
  reaches,
  type Change,
  type CountedRound,
  type Enrolment,
  type Goal,
  type VisitorEvent,
} from '@/core/goals'
import {
  documentIdSchema,
  goalIdSchema,
  nodeIdSchema,
  roundIdSchema,
  versionIdSchema,
  type GoalId,
  type RoundId,
} from '@/core/ids'
import { countCalls, forgetCalls } from './call-tally'
import { listGoals } from './goals'
import { openRounds, type RoundRow } from './tests'

const hex = z.instanceof(Buffer).transform((bytes) => bytes.toString('hex'))

const eventRow = z.intersection(
  z.object({ seq: z.number(), source: z.number(), visitor: hex, at: z.date() }),
  z.discriminatedUnion('kind', [
    z.object({ kind: z.enum(['assigned', 'seen']), round_id: roundIdSchema, version: versionIdSchema }),
    z.object({ kind: z.literal('page'), document_id: documentIdSchema }),
    z.object({ kind: z.literal('call'), document_id: documentIdSchema, nodes: documentIdSchema }),
    z.object({
      kind: z.literal('click'),
      document_id: documentIdSchema,
      nodes: z.string().transform((text) => text.split(' ').map((node) => nodeIdSchema.parse(node))),
    }),
  ]),
)
type EventRow = z.infer<typeof eventRow>

function toEvent(row: EventRow): VisitorEvent {
  const shared = { visitor: row.visitor, at: row.at }
  if (row.kind === 'page') return { ...shared, kind: 'page', document: row.document_id }
  if (row.kind === 'click') return { ...shared, kind: 'click', document: row.document_id, nodes: row.nodes }
  if (row.kind === 'call') return { ...shared, kind: 'call', document: row.document_id, call: row.nodes }
  return { ...shared, kind: row.kind, round: row.round_id, version: row.version }
}

/** What one event adds to one row of the tallies. */
interface Addition {
  assigned: number
  exposed: number
  converters: number
  conversions: number
  worth: number
  worthSquared: number
}

const DAY = 86_400_000

/**
 * Counts the next events that no tally holds yet, oldest first, in one transaction: either all of their effects are
 * there and they are marked, or none is. Only one process may call this at a time.
 *
 * @returns how many events were counted
 */
export async function tallyNext(trx: Knex.Transaction, limit: number): Promise<number> {
  const found: unknown[] = await trx('events').where({ tallied: 0 }).orderBy('seq').limit(limit)
  const rows = found.map((row) => eventRow.parse(row))
  if (rows.length === 0) return 0
  const rounds = await openRounds(trx, new Date(Date.now() - 2 * DAY))
  const goals = await listGoals(trx)
  for (const source of new Set(rows.map((row) => row.source))) {
    await tallySource(
      trx,
      source,
      rows.filter((row) => row.source === source),
      rounds,
      goals,
    )
  }
  await trx('events')
    .whereIn(
      'seq',
      rows.map(({ seq }) => seq),
    )
    .update({ tallied: 1 })
  return rows.length
}

async function tallySource(
  trx: Knex.Transaction,
  source: number,
  rows: readonly EventRow[],
  rounds: readonly RoundRow[],
  goals: readonly Goal[],
): Promise<void> {
  const counted = rounds.map((round) => countedRound(round, source))
  const visitors = [...new Set(rows.map(({ visitor }) => visitor))]
  const enrolled = await readEnrolments(trx, source, visitors)
  const changes: { visitor: string; change: Change }[] = []
  for (const row of rows) {
    const mine = enrolled.get(row.visitor) ?? new Map<RoundId, Enrolment>()
    for (const change of credit(toEvent(row), counted, mine)) {
      mine.set(change.round, enrolmentAfter(mine.get(change.round), change))
      changes.push({ visitor: row.visitor, change })
    }
    enrolled.set(row.visitor, mine)
  }
  await writeEnrolments(trx, source, changes, enrolled)
  await addToTallies(
    trx,
    source,
    changes.map(({ change }) => change),
  )
  if (source !== 0) return
  await addToSiteStatistics(trx, rows, goals)
  await countCalls(trx, rows.map(toEvent), goals)
}

/** In a rehearsal the days are made up, so the round’s own beginning and end do not bound it. */
function countedRound({ snapshot, started_at, ended_at }: RoundRow, source: number): CountedRound {
  const { id, design, goals } = snapshot
  const counted = goals.filter((goal) => goal.id === design.primary || design.watched.includes(goal.id))
  const span = source === 0 ? { startedAt: started_at, endedAt: ended_at } : { startedAt: new Date(0), endedAt: null }
  return {
    id,
    versions: design.arms.map(({ version }) => version),
    goals: counted,
    ...span,
  }
}

const enrolmentRow = z.object({
  visitor: hex,
  round_id: roundIdSchema,
  version: versionIdSchema,
  assigned_at: z.date(),
  exposed_at: z.date().nullable(),
})
const conversionRow = z.object({
  visitor: hex,
  round_id: roundIdSchema,
  goal_id: goalIdSchema,
  times: z.number(),
  worth: z.number(),
  first_at: z.date(),
})

async function readEnrolments(
  trx: Knex.Transaction,
  source: number,
  visitors: readonly string[],
): Promise<Map<string, Map<RoundId, Enrolment>>> {
  const keys = visitors.map((visitor) => Buffer.from(visitor, 'hex'))
  const enrolments: unknown[] = await trx('enrolments').where({ source }).whereIn('visitor', keys)
  const conversions: unknown[] = await trx('conversions').where({ source }).whereIn('visitor', keys)
  const byVisitor = new Map<string, Map<RoundId, Enrolment>>()
  for (const raw of enrolments) {
    const row = enrolmentRow.parse(raw)
    const mine = byVisitor.get(row.visitor) ?? new Map<RoundId, Enrolment>()
    byVisitor.set(
      row.visitor,
      mine.set(row.round_id, {
        version: row.version,
        assignedAt: row.assigned_at,
        exposedAt: row.exposed_at,
        conversions: new Map(),
      }),
    )
  }
  for (const raw of conversions) {
    const row = conversionRow.parse(raw)
    const enrolment = byVisitor.get(row.visitor)?.get(row.round_id)
    if (enrolment === undefined) continue
    const one = { times: row.times, worth: row.worth, firstAt: row.first_at }
    byVisitor
      .get(row.visitor)
      ?.set(row.round_id, { ...enrolment, conversions: new Map(enrolment.conversions).set(row.goal_id, one) })
  }
  return byVisitor
}

async function writeEnrolments(
  trx: Knex.Transaction,
  source: number,
  changes: readonly { visitor: string; change: Change }[],
  enrolled: ReadonlyMap<string, ReadonlyMap<RoundId, Enrolment>>,
): Promise<void> {
  const touched = new Map(
    changes
      .filter(({ change }) => change.kind !== 'converted')
      .map(({ visitor, change }) => [`${visitor} ${change.round}`, { visitor, round: change.round }]),
  )
  const enrolments = [...touched.values()].flatMap(({ visitor, round }) => {
    const enrolment = enrolled.get(visitor)?.get(round)
    return enrolment === undefined
      ? []
      : [
          {
            source,
            round_id: round,
            visitor: Buffer.from(visitor, 'hex'),
            version: enrolment.version,
            assigned_at: enrolment.assignedAt,
            exposed_at: enrolment.exposedAt,
          },
        ]
  })
  const converted = new Map<string, { visitor: string; round: RoundId; goal: GoalId }>()
  for (const { visitor, change } of changes)
    if (change.kind === 'converted')
      converted.set(`${visitor} ${change.round} ${change.goal}`, { visitor, round: change.round, goal: change.goal })
  const conversions = [...converted.values()].flatMap(({ visitor, round, goal }) => {
    const one = enrolled.get(visitor)?.get(round)?.conversions.get(goal)
    return one === undefined
      ? []
      : [
          {
            source,
            round_id: round,
            visitor: Buffer.from(visitor, 'hex'),
            goal_id: goal,
            times: one.times,
            worth: one.worth,
            first_at: one.firstAt,
          },
        ]
  })
  if (enrolments.length > 0) await trx('enrolments').insert(enrolments).onConflict().merge(['exposed_at'])
  if (conversions.length > 0) await trx('conversions').insert(conversions).onConflict().merge(['times', 'worth'])
}

async function addToTallies(trx: Knex.Transaction, source: number, changes: readonly Change[]): Promise<void> {
  const sums = new Map<string, { key: (string | number)[]; add: Addition }>()
  for (const change of changes) {
    const key = [source, change.round, change.kind === 'converted' ? change.goal : '', change.version, dayOf(change.at)]
    const { add } = sums.get(key.join(' ')) ?? {
      add: { assigned: 0, exposed: 0, converters: 0, conversions: 0, worth: 0, worthSquared: 0 },
    }
    if (change.kind === 'assigned') add.assigned++
    else if (change.kind === 'exposed') add.exposed++
    else {
      add.converters += change.first ? 1 : 0
      add.conversions++
      add.worth += change.worthAfter - change.worthBefore
      add.worthSquared += change.worthAfter ** 2 - change.worthBefore ** 2
    }
    sums.set(key.join(' '), { key, add })
  }
  if (sums.size === 0) return
  const rows = [...sums.values()]
  const counts = ['assigned', 'exposed', 'converters', 'conversions', 'worth', 'worth_squared']
  await trx.raw(
    `INSERT INTO tallies (source, round_id, goal_id, version, day, ${counts.join(', ')}) VALUES ${rows.map(() => '(?,?,?,?,?,?,?,?,?,?,?)').join(',')}
     ON DUPLICATE KEY UPDATE ${counts.map((count) => `${count} = ${count} + VALUES(${count})`).join(', ')}`,
    rows.flatMap(({ key, add }) => [
      ...key,
      add.assigned,
      add.exposed,
      add.converters,
      add.conversions,
      add.worth,
      add.worthSquared,
    ]),
  )
}

/** Views of pages and hits of goals per day, and visitors on their first day: independent of any test. */
async function addToSiteStatistics(trx: Knex.Transaction, rows: readonly EventRow[], goals: readonly Goal[]): Promise<void> {
  const hits = rows.flatMap((row) => {
    const event = toEvent(row)
    const pages = event.kind === 'page' ? [event.document as string, SITE] : []
    return [...pages, ...goals.filter((goal) => reaches(goal, event)).map(({ id }) => `g:${id}`)].map((subject) => ({
      subject,
      visitor: row.visitor,
      day: dayOf(row.at),
    }))
  })
  if (hits.length === 0) return
  const firsts = new Map(hits.map((hit) => [`${hit.subject} ${hit.visitor}`, hit]).reverse() as [string, (typeof hits)[number]][])
  const known: unknown[] = await trx('firsts')
    .select('subject', 'visitor')
    .whereIn(
      ['subject', 'visitor'],
      [...firsts.values()].map((hit) => [hit.subject, Buffer.from(hit.visitor, 'hex')]),
    )
  for (const raw of known) {
    const row = z.object({ subject: z.string(), visitor: hex }).parse(raw)
    firsts.delete(`${row.subject} ${row.visitor}`)
  }
  if (firsts.size > 0)
    await trx('firsts').insert([...firsts.values()].map((hit) => ({ ...hit, visitor: Buffer.from(hit.visitor, 'hex') })))
  const sums = new Map<string, { subject: string; day: string; times: number; visitors: number }>()
  const sumOf = ({ subject, day }: { subject: string; day: string }) => {
    const sum = sums.get(`${subject} ${day}`) ?? { subject, day, times: 0, visitors: 0 }
    sums.set(`${subject} ${day}`, sum)
    return sum
  }
  for (const hit of hits) sumOf(hit).times++
  for (const hit of firsts.values()) sumOf(hit).visitors++
  await trx.raw(
    `INSERT INTO daily (subject, day, times, visitors) VALUES ${[...sums].map(() => '(?,?,?,?)').join(',')}
     ON DUPLICATE KEY UPDATE times = times + VALUES(times), visitors = visitors + VALUES(visitors)`,
    [...sums.values()].flatMap(({ subject, day, times, visitors }) => [subject, day, times, visitors]),
  )
}

/** The subject that stands for all pages together. */
export const SITE = '*'

export function dayOf(at: Date): string {
  return at.toISOString().slice(0, 10)
}

/** Forgets all counts of a source and makes them anew from its events: the same numbers, or something is wrong. */
export async function forgetTallies(trx: Knex.Transaction): Promise<void> {
  for (const table of ['tallies', 'enrolments', 'conversions', 'firsts', 'daily']) await trx(table).delete()
  await forgetCalls(trx)
  await trx('events').update({ tallied: 0 })
}
