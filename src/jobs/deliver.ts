import type { Knex } from 'knex'
import { askedForm } from '@/components/form/asked'
import { inTransaction, type Database } from '@/server/database/connect'
import { takeOrder } from '@/server/stand-ins/shop'
import { readMood, standInListService, type ListService } from '@/server/stand-ins/list-service'
import { readPublished } from '@/server/stores/documents'
import { writeEvents } from '@/server/stores/events'
import { eventIdOf } from '@/serving/event-id'
import { postponeEntry, settleEntry, waitingEntries, type EntryRow } from '@/server/stores/form-entries'

const AT_ONCE = 50

/**
 * Hands on what visitors sent with forms. What the service takes is accepted, counted and, where the form says so, an
 * order, all in one transaction; what it does not answer is tried again later, oldest first.
 *
 * @returns how many were settled
 */
export async function deliverEntries(db: Database, service?: ListService): Promise<number> {
  const entries = await waitingEntries(db, AT_ONCE)
  if (entries.length === 0) return 0
  const taker = service ?? standInListService(await readMood(db))
  let settled = 0
  for (const entry of entries) {
    let answer: Awaited<ReturnType<ListService['take']>>
    try {
      answer = await taker.take(entry.entry)
    } catch (reason) {
      await postponeEntry(db, entry, reason instanceof Error ? reason.message : 'The service does not answer.')
      continue
    }
    await inTransaction(db, async (trx) => {
      await settleEntry(trx, entry.seq, answer.accepted ? 'accepted' : 'refused', answer.message)
      if (answer.accepted && entry.visitor !== null) await count(trx, entry, entry.visitor)
    })
    settled++
  }
  return settled
}

/** It counts for the moment at which the visitor sent it, however long the service took. */
async function count(trx: Knex, entry: EntryRow, visitor: string): Promise<void> {
  const { seq, at, document_id: document, node_id: node } = entry
  await writeEvents(trx, [{ id: eventIdOf(`form ${seq}`), crowd: 0, visitor, at, kind: 'form', document, nodes: [node] }])
  const value = entry.order_worth ?? (await worthNow(trx, entry))
  if (value > 0) await takeOrder(trx, seq, visitor, at, value)
}

/** Of an entry that was kept before it said so itself. */
async function worthNow(trx: Knex, { document_id: document, node_id: node }: EntryRow): Promise<number> {
  const home = (await readPublished(trx, [document])).get(document)
  return (home === undefined ? null : askedForm(home, node))?.order ?? 0
}
