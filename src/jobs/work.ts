import { ORIGINAL } from '@/core/decide'
import { changesOf, noteOfSegments, partsOf } from '@/core/experiment'
import type { DocumentId } from '@/core/ids'
import { visitors } from '@/core/simulate'
import { inTransaction, type Database } from '@/server/database/connect'
import { eventsOf } from '@/server/rehearse'
import { readPublished, readRevision } from '@/server/stores/documents'
import { readWaiting, setAside, writeEvents } from '@/server/stores/events'
import { expectHeld, LeaseLost } from '@/server/stores/leases'
import { nextRehearsal, rehearsalStatus, type RehearsalRow } from '@/server/stores/rehearsals'
import { countNext } from '@/server/ledger/count'
import { segmentsNow } from '@/server/stores/segments'
import { roundsById, roundsOf, testsWhere, type TestRow } from '@/server/stores/tests'
import { snapshot } from '@/site/compile/snapshot'

const TALLY_AT_ONCE = 4000
const VISITORS_AT_ONCE = 1000
const DAY = 86_400_000

/** Several count at once: what one reads need not be the same at the end, as nobody else writes its visitors. */
const ONE_BY_ONE = { isolation: 'read committed' } as const

/** What of the counting is this process’s own: its name, and its shards with the numbers that it took them under. */
export interface Own {
  readonly me: string
  readonly shards: ReadonlyMap<number, number>
}

/** While one of them waits for the database, the other counts. */
const AT_A_TIME = 2

/** Counts all that waits of this process’s share: two halves of it beside each other. */
export async function tallyShare(db: Database, { me, shards }: Own): Promise<void> {
  const halves = Array.from(
    { length: AT_A_TIME },
    (_, half) => new Map([...shards].filter(([shard]) => shard % AT_A_TIME === half)),
  )
  const done = await Promise.allSettled(halves.filter((half) => half.size > 0).map((half) => tallyAll(db, { me, shards: half })))
  const failed = done.find((one) => one.status === 'rejected')
  if (failed !== undefined) throw failed.reason
}

/**
 * Counts all that waits.
 *
 * @param own where several processes share the work; all of it where nothing is said
 */
export async function tallyAll(db: Database, own?: Own): Promise<number> {
  const shards = own === undefined ? undefined : [...own.shards.keys()]
  let counted = 0
  for (let most = TALLY_AT_ONCE; ;) {
    try {
      const count = await inTransaction(
        db,
        async (trx) => {
          const done = await countNext(trx, most, shards)
          // Last: whoever renews leases waits for those who have looked at them, and others behind it.
          if (own !== undefined) await expectHeld(trx, own.me, own.shards)
          return done
        },
        ONE_BY_ONE,
      )
      counted += count
      if (count === 0) return counted
      most = TALLY_AT_ONCE
    } catch (reason) {
      // The database's own faults pass; an event that cannot be counted does not, and must not hold up all others.
      if (isOfDatabase(reason) || reason instanceof LeaseLost) throw reason
      if (most === 1) await setAsideNext(db, reason, shards)
      most = Math.max(1, Math.floor(most / 8))
    }
  }
}

async function setAsideNext(db: Database, reason: unknown, shards?: readonly number[]): Promise<void> {
  const [next] = await readWaiting(db, 1, shards)
  if (next === undefined) throw reason
  await setAside(db, [next.seq])
}

function isOfDatabase(reason: unknown): boolean {
  return typeof reason === 'object' && reason !== null && ('errno' in reason || 'code' in reason)
}

/**
 * Sends the next visitors of the rehearsal whose turn it is.
 *
 * @param count resolves when what was sent has been counted
 * @returns whether there is more to do
 */
export async function rehearseOn(db: Database, count: (crowd: number) => Promise<unknown>): Promise<boolean> {
  const row = await nextRehearsal(db)
  if (row === null) return false
  try {
    await sendVisitors(db, row, count)
  } catch (reason) {
    await db('rehearsals')
      .where({ id: row.id })
      .update({ status: 'failed', message: 'The rehearsal could not go on. Start it again.' })
    throw reason
  }
  return true
}

async function sendVisitors(db: Database, row: RehearsalRow, count: (crowd: number) => Promise<unknown>): Promise<void> {
  const [round] = await roundsById(db, [row.round_id])
  if (round === undefined) throw new Error(`rehearsal ${row.id}: its round ${row.round_id} is gone`)
  const rates = new Map(row.plan.rates.map(({ version, rate }) => [version, rate]))
  const startsAt = new Date(Math.floor(round.started_at.getTime() / DAY) * DAY)
  await db('rehearsals').where({ id: row.id, status: 'waiting' }).update({ status: 'running' })
  const segmentsOf = noteOfSegments(await segmentsNow(db))
  let index = 0
  let group: ReturnType<typeof eventsOf> = []
  // Whoever was sent before an interruption is made again and passed over: the crowd is the same for the same seed.
  for (const visitor of visitors({ seed: row.plan.seed, visitors: row.plan.visitors, days: row.plan.days, startsAt })) {
    index++
    if (index <= row.sent) continue
    group.push(...eventsOf(visitor, round.snapshot, row.id, rates, { segmentsOf }))
    if (index % VISITORS_AT_ONCE === 0 || index === row.plan.visitors) {
      await writeEvents(db, group)
      group = []
      await count(row.id)
      await db('rehearsals').where({ id: row.id }).update({ sent: index })
      if ((await rehearsalStatus(db, row.id)) !== 'running') return
    }
  }
  await db('rehearsals').where({ id: row.id, status: 'running' }).update({ status: 'done', message: '' })
}

/** Draws the pictures of tests that were settled and have none yet: how the part looked before, and as chosen. */
export async function drawPictures(db: Database, style: string): Promise<number> {
  const rows = await testsWhere(
    db,
    (query) => void query.where({ status: 'settled' }).whereNotIn('number', db('pictures').select('test_number')).limit(5),
  )
  for (const row of rows) await drawPicture(db, row, style)
  return rows.length
}

async function drawPicture(db: Database, row: TestRow, style: string): Promise<void> {
  const [round] = await roundsOf(db, row.number)
  if (round === undefined || row.decision === null) return
  const { design, versions } = round.snapshot
  const [first] = design.arms.filter(({ version }) => version !== ORIGINAL)
  const shown = row.decision.version === ORIGINAL ? (first?.version ?? ORIGINAL) : row.decision.version
  // Of a combination, the first part that differs is the one in the picture.
  const change = changesOf(design, versions, shown)[0]
  const part = partsOf(design).find(({ document }) => document === change?.document) ?? design
  const before = await documentBefore(db, row, part.document)
  const published = await readPublished(db, 'all')
  const around = [...published.values()].filter(({ id }) => id !== before.id)
  const draw = (edits: Parameters<typeof snapshot>[3]) => snapshot([...around, before], before, part.node, edits, style)
  await db('pictures')
    .insert([
      { test_number: row.number, which: 'original', html: draw([]) },
      { test_number: row.number, which: 'chosen', html: draw(change?.edits ?? []) },
    ])
    .onConflict()
    .ignore()
}

/** A document as it was before the decision changed it: the revision before the one that took the variant over. */
async function documentBefore(db: Database, row: TestRow, id: DocumentId) {
  const now = (await readPublished(db, [id])).get(id)
  const last: { number: number } | undefined = await db('documents').where({ id }).first({ number: 'published_revision' })
  const before =
    row.decision?.kind === 'take' && last !== undefined && last.number > 1 ? await readRevision(db, id, last.number - 1) : now
  if (before === undefined) throw new Error(`the document ${id} has no published revision`)
  return before
}
