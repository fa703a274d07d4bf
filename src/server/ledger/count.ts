import type { Knex } from 'knex'
import type { RoundId } from '@/core/ids'
import { isLate, recount, Sums, type Arrived, type First, type History, type Known, type Rules, type Scope } from '@/core/ledger'
import { readBySeq, readWaiting, shardOf, STAND_IN, type WaitingEvent } from '../stores/events'
import { noteRules } from '../stores/counting-rules'
import { countLetters, forgetLetters } from '../stores/letter-tally'
import { noteFirsts, noteOrders, sendRefundsHome } from './registers'
import { addToRows, rowTables } from './rows'
import { readCalls, readRounds, readSiteRules } from './rules'
import { readHistories, readVisitors, writeVisitors, type Changed } from './visitors'

/** After so many, whoever else counts in this process has its turn: others may wait for what it is about to write. */
const VISITORS_AT_ONCE = 50

/**
 * Counts the next events that no row holds yet, in one transaction: either all of their effects are there and they are
 * marked, or none is. What is counted does not depend on the order in which they come, nor on where a batch ends.
 *
 * @param shards of which visitors; all where nothing is said
 * @returns how many events were counted
 */
export async function countNext(trx: Knex.Transaction, limit: number, shards?: readonly number[]): Promise<number> {
  const rows = await readWaiting(trx, limit, shards)
  if (rows.length === 0) return 0
  await noteRules(trx)
  await trx.raw('UPDATE events SET tallied = 1 WHERE seq IN (?)', [rows.map(({ seq }) => seq)])
  const isOurs = (visitor: string) => shards === undefined || shards.includes(shardOf(visitor))
  const sums = new Map<number, Sums>()
  for (const crowd of new Set(rows.map((row) => row.crowd))) {
    const mine = rows.filter((row) => row.crowd === crowd)
    sums.set(crowd, await countSource(trx, crowd, mine, isOurs))
  }
  // Last: these are rows that other processes are writing too, and wait for.
  for (const [crowd, own] of sums) await addToRows(trx, crowd, own.rows())
  return rows.length
}

/** @returns what is to be added to the rows */
async function countSource(
  trx: Knex.Transaction,
  crowd: number,
  arrived: readonly WaitingEvent[],
  isOurs: (visitor: string) => boolean,
): Promise<Sums> {
  const events = arrived.map(({ event }) => event)
  if (crowd === STAND_IN) {
    await countLetters(trx, events)
    return new Sums()
  }
  const isLive = crowd === 0
  const rows = isLive ? await sendRefundsHome(trx, arrived, isOurs, (seqs) => readBySeq(trx, seqs)) : arrived
  const fresh = new Map<string, Arrived[]>()
  for (const { seq, event } of rows) fresh.set(event.visitor, [...(fresh.get(event.visitor) ?? []), { seq, event }])
  const known = await readVisitors(trx, crowd, [...fresh.keys()], true)
  const late = [...fresh].filter(([visitor, own]) => isLate(known.get(visitor) ?? null, own)).map(([visitor]) => visitor)
  const histories = await readHistories(trx, crowd, late, new Set(rows.map(({ seq }) => seq)))
  const rules = await rulesFor(trx, isLive, [...rows.map(({ event }) => event), ...eventsIn(histories)], known)
  const sums = await countVisitors(trx, crowd, { fresh, known, histories, rules, scope: isLive ? 'everything' : 'tests' })
  if (isLive) await countLetters(trx, events)
  return sums
}

function eventsIn(histories: ReadonlyMap<string, History>) {
  return [...histories.values()].flatMap(({ counted }) => counted.map(({ event }) => event))
}

/** What these events, and what is known of their visitors, are counted by. */
export async function rulesFor(
  trx: Knex,
  isLive: boolean,
  events: readonly Arrived['event'][],
  known: ReadonlyMap<string, Pick<Known, 'state'>>,
): Promise<Rules> {
  const rounds = new Set<RoundId>()
  for (const event of events) if (event.kind === 'assigned' || event.kind === 'seen') rounds.add(event.round)
  for (const { state } of known.values()) for (const round of state.enrolments.keys()) rounds.add(round)
  return {
    site: await readSiteRules(trx),
    rounds: await readRounds(trx, [...rounds], isLive),
    calls: isLive ? await readCalls(trx) : new Map(),
  }
}

interface Batch {
  readonly fresh: ReadonlyMap<string, readonly Arrived[]>
  readonly known: ReadonlyMap<string, Known>
  readonly histories: ReadonlyMap<string, History>
  readonly rules: Rules
  readonly scope: Scope
}

async function countVisitors(trx: Knex, crowd: number, { fresh, known, histories, rules, scope }: Batch): Promise<Sums> {
  const sums = new Sums()
  const changed: Changed[] = []
  const newcomers: Parameters<typeof noteFirsts>[1][number][] = []
  let done = 0
  for (const [visitor, own] of fresh) {
    if (++done % VISITORS_AT_ONCE === 0) await new Promise((next) => setImmediate(next))
    const firsts: First[] = []
    const now = recount(known.get(visitor) ?? null, own, histories.get(visitor) ?? null, rules, scope, { sums, firsts })
    newcomers.push({ visitor, firsts })
    changed.push({ visitor, ...now })
  }
  await writeVisitors(trx, crowd, changed)
  if (scope === 'everything') {
    const numbers = new Set([...fresh.values()].flat().flatMap(({ event }) => (event.kind === 'order' ? [event.order] : [])))
    await noteOrders(trx, changed, numbers)
    await noteFirsts(trx, newcomers)
  }
  return sums
}

/** Forgets all that was counted, so that it is counted anew from the events: the same numbers, or something is wrong. */
export async function forgetCounts(trx: Knex.Transaction): Promise<void> {
  const rows = rowTables.flatMap(({ table }) => [table, `${table}_kept`])
  for (const table of [...rows, 'firsts', 'ledger_visitors', 'waiting_refunds']) await trx(table).delete()
  await trx('orders').update({ value: 0, refunded: 0, call_id: null, channel: null, letter: null })
  await forgetLetters(trx)
  await trx('events').update({ tallied: 0 })
}
