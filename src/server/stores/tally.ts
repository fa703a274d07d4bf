import type { Knex } from 'knex'
import * as z from 'zod'
import {
  countedRound,
  credit,
  enrolmentAfter,
  libraryOf,
  withParts,
  type Change,
  type CountedRound,
  type Enrolment,
} from '@/core/goals'
import { goalsOf } from '@/core/experiment'
import { goalIdSchema, roundIdSchema, versionIdSchema, type GoalId, type RoundId } from '@/core/ids'
import { jsonColumn } from '../database/json-column'
import { countCalls, forgetCalls } from './call-tally'
import { countLetters, forgetLetters } from './letter-tally'
import { readWaiting, STAND_IN, type WaitingEvent } from './events'
import { publishedGoals } from './goals'
import { readCalendar } from './settings'
import { addToSiteStatistics, forgetSiteStatistics } from './site-tally'
import { openRounds, type RoundRow } from './tests'

const hex = z.instanceof(Buffer).transform((bytes) => bytes.toString('hex'))

/** What one event adds to one row of the tallies. */
interface Addition {
  assigned: number
  exposed: number
  converters: number
  conversions: number
  worth: number
  worthSquared: number
  /** Of each visitor their visits times what they brought. */
  visitsWorth: number
}

const DAY = 86_400_000

/**
 * Counts the next events that no tally holds yet, oldest first, in one transaction: either all of their effects are
 * there and they are marked, or none is. Only one process may call this at a time.
 *
 * @returns how many events were counted
 */
export async function tallyNext(trx: Knex.Transaction, limit: number): Promise<number> {
  const rows = await readWaiting(trx, limit)
  if (rows.length === 0) return 0
  // An order may be reported long after it happened, when its round has ended.
  const earliest = rows.reduce((least, { event }) => Math.min(least, event.at.getTime()), Date.now() - 2 * DAY)
  const rounds = await openRounds(trx, new Date(earliest - (rows.some(isRefund) ? REFUND_DAYS * DAY : 0)))
  for (const source of new Set(rows.map((row) => row.source)))
    await tallySource(
      trx,
      source,
      rows.filter((row) => row.source === source),
      rounds,
    )
  await trx('events')
    .whereIn(
      'seq',
      rows.map(({ seq }) => seq),
    )
    .update({ tallied: 1 })
  return rows.length
}

/** A refund that comes later than this after the end of its round changes nothing in it. */
const REFUND_DAYS = 180

function isRefund({ event }: WaitingEvent): boolean {
  return event.kind === 'order' && event.value < 0
}

async function tallySource(
  trx: Knex.Transaction,
  source: number,
  rows: readonly WaitingEvent[],
  rounds: readonly RoundRow[],
): Promise<void> {
  if (source === STAND_IN)
    return countLetters(
      trx,
      rows.map(({ event }) => event),
    )
  const counted = rounds.map((round) => asCounted(round, source))
  const visitors = [...new Set(rows.map(({ event }) => event.visitor))]
  const enrolled = await readEnrolments(trx, source, visitors)
  const changes: { visitor: string; change: Change }[] = []
  for (const { event } of rows) {
    const mine = enrolled.get(event.visitor) ?? new Map<RoundId, Enrolment>()
    for (const change of credit(event, counted, mine)) {
      mine.set(change.round, enrolmentAfter(mine.get(change.round), change))
      changes.push({ visitor: event.visitor, change })
    }
    enrolled.set(event.visitor, mine)
  }
  await writeEnrolments(trx, source, changes, enrolled)
  await addToTallies(
    trx,
    source,
    changes.map(({ change }) => change),
  )
  if (source !== 0) return
  const goals = await publishedGoals(trx)
  const events = rows.map(({ event }) => event)
  await addToSiteStatistics(trx, events, goals)
  await countCalls(trx, events, goals)
  await countLetters(trx, events)
}

/** In a rehearsal the days are made up, so the round’s own beginning and end do not bound it. */
function asCounted({ snapshot, started_at, ended_at }: RoundRow, source: number): CountedRound {
  const { id, design, goals } = snapshot
  const library = libraryOf(goals)
  const span = source === 0 ? { startedAt: started_at, endedAt: ended_at } : { startedAt: new Date(0), endedAt: null }
  return countedRound({
    id,
    versions: design.arms.map(({ version }) => version),
    goals: goalsOf(design).flatMap((goal) => library.get(goal) ?? []),
    parts: withParts(goalsOf(design), library),
    ...span,
  })
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
  orders: jsonColumn(z.array(z.string()).nullable()),
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
    const one = { times: row.times, worth: row.worth, firstAt: row.first_at, orders: row.orders ?? [] }
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
      .filter(({ change }) => change.kind === 'assigned' || change.kind === 'exposed')
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
            orders: one.orders.length === 0 ? null : JSON.stringify(one.orders),
          },
        ]
  })
  if (enrolments.length > 0) await trx('enrolments').insert(enrolments).onConflict().merge(['exposed_at'])
  if (conversions.length > 0) await trx('conversions').insert(conversions).onConflict().merge(['times', 'worth', 'orders'])
}

async function addToTallies(trx: Knex.Transaction, source: number, changes: readonly Change[]): Promise<void> {
  const { dayOf } = await readCalendar(trx)
  const sums = new Map<string, { key: (string | number)[]; add: Addition }>()
  for (const change of changes) {
    const key = [source, change.round, 'goal' in change ? change.goal : '', change.version, dayOf(change.at)]
    const { add } = sums.get(key.join(' ')) ?? {
      add: { assigned: 0, exposed: 0, converters: 0, conversions: 0, worth: 0, worthSquared: 0, visitsWorth: 0 },
    }
    if (change.kind === 'assigned') add.assigned++
    else if (change.kind === 'exposed') add.exposed++
    else if (change.kind === 'cameAgain') add.visitsWorth += change.worth
    else {
      add.converters += change.first ? 1 : 0
      add.conversions += change.times
      add.worth += change.worthAfter - change.worthBefore
      add.worthSquared += change.worthAfter ** 2 - change.worthBefore ** 2
      add.visitsWorth += change.visits * (change.worthAfter - change.worthBefore)
    }
    sums.set(key.join(' '), { key, add })
  }
  if (sums.size === 0) return
  const rows = [...sums.values()]
  const counts = ['assigned', 'exposed', 'converters', 'conversions', 'worth', 'worth_squared', 'visits_worth']
  await trx.raw(
    `INSERT INTO tallies (source, round_id, goal_id, version, day, ${counts.join(', ')}) VALUES ${rows.map(() => '(?,?,?,?,?,?,?,?,?,?,?,?)').join(',')}
     ON DUPLICATE KEY UPDATE ${counts.map((count) => `${count} = ${count} + VALUES(${count})`).join(', ')}`,
    rows.flatMap(({ key, add }) => [
      ...key,
      add.assigned,
      add.exposed,
      add.converters,
      add.conversions,
      add.worth,
      add.worthSquared,
      add.visitsWorth,
    ]),
  )
}

/** Forgets all counts of a source and makes them anew from its events: the same numbers, or something is wrong. */
export async function forgetTallies(trx: Knex.Transaction): Promise<void> {
  for (const table of ['tallies', 'enrolments', 'conversions']) await trx(table).delete()
  await forgetSiteStatistics(trx)
  await forgetCalls(trx)
  await forgetLetters(trx)
  await trx('events').update({ tallied: 0 })
}
