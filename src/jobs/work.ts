import { ORIGINAL } from '@/core/decide'
import { changesOf, partsOf } from '@/core/experiment'
import type { DocumentId } from '@/core/ids'
import { inTransaction, isOfData, type Database } from '@/server/database/connect'
import { readPublished, readRevision } from '@/server/stores/documents'
import { readWaiting, setAside } from '@/server/stores/events'
import { expectHeld, LeaseLost } from '@/server/stores/leases'
import { countNext } from '@/server/ledger/count'
import { roundsOf, testsWhere, type TestRow } from '@/server/stores/tests'
import { snapshot } from '@/site/compile/snapshot'

const TALLY_AT_ONCE = 4000

/** Several count at once: what one reads need not be the same at the end, as nobody else writes its visitors. */
const ONE_BY_ONE = { isolation: 'read committed' } as const

/** What of the counting is this process’s own: its name, and its shards with the numbers that it took them under. */
export interface Own {
  readonly me: string
  readonly shards: ReadonlyMap<number, number>
}

/** Told of each event that was set aside, as it could not be counted, and why. */
type Log = (aside: { readonly event: number; readonly reason: unknown }) => void

/** While one of them waits for the database, the other counts. */
const AT_A_TIME = 2

/** Counts all that waits of this process’s share: two halves of it beside each other. */
export async function tallyShare(db: Database, { me, shards }: Own, log?: Log): Promise<void> {
  const halves = Array.from(
    { length: AT_A_TIME },
    (_, half) => new Map([...shards].filter(([shard]) => shard % AT_A_TIME === half)),
  )
  const done = await Promise.allSettled(
    halves.filter((half) => half.size > 0).map((half) => tallyAll(db, { me, shards: half }, log)),
  )
  const failed = done.find((one) => one.status === 'rejected')
  if (failed !== undefined) throw failed.reason
}

/**
 * Counts all that waits.
 *
 * @param own where several processes share the work; all of it where nothing is said
 */
export async function tallyAll(db: Database, own?: Own, log: Log = () => undefined): Promise<number> {
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
      if ((isOfDatabase(reason) && !isOfData(reason)) || reason instanceof LeaseLost) throw reason
      if (most === 1) log({ event: await setAsideNext(db, reason, shards), reason })
      most = Math.max(1, Math.floor(most / 8))
    }
  }
}

/** @returns the event that could not be counted */
async function setAsideNext(db: Database, reason: unknown, shards?: readonly number[]): Promise<number> {
  const [next] = await readWaiting(db, 1, shards)
  if (next === undefined) throw reason
  await setAside(db, [next.seq])
  return next.seq
}

function isOfDatabase(reason: unknown): boolean {
  return typeof reason === 'object' && reason !== null && ('errno' in reason || 'code' in reason)
}

/** Tests that could not be drawn, until this process ends. */
const undrawn = new Set<number>()

/** Draws the pictures of tests that were settled and have none yet: how the part looked before, and as chosen. */
export async function drawPictures(
  db: Database,
  style: string,
  log: (reason: unknown) => void = () => undefined,
): Promise<number> {
  const rows = await testsWhere(
    db,
    (query) =>
      void query
        .where({ status: 'settled' })
        .whereNotIn('number', db('pictures').select('test_number'))
        .whereNotIn('number', [...undrawn])
        .orderBy('number')
        .limit(5),
  )
  for (const row of rows)
    await drawPicture(db, row, style).catch((reason: unknown) => {
      // The database's own faults pass; a test that cannot be drawn holds up none of those behind it.
      if (isOfDatabase(reason)) throw reason
      undrawn.add(row.number)
      log(reason)
    })
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
