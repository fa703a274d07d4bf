import type { Knex } from 'knex'
import * as z from 'zod'
import { documentKinds } from '@/core/document'
import { goalsOf } from '@/core/experiment'
import { libraryOf, withParts } from '@/core/goals'
import type { DocumentId, GoalId } from '@/core/ids'
import type { LiveTransaction } from '../database/go-live'
import { Failure, missing } from '../failure'
import { listedIn, readDocument } from './documents'
import { closeGains } from './gains'
import { listGoals } from './goals'
import { namedNowhere, placeShowing } from './media-use'
import { testsWhere, testsTouching } from './tests'

export const BIN_DAYS = 30
const DAY = 86_400_000

const documentRow = z.object({
  id: z.string(),
  kind: z.enum(documentKinds),
  title: z.string(),
  binned_at: z.date(),
  binned_by: z.string(),
  needed: z.coerce.boolean(),
})
const mediaRow = z.object({ name: z.string(), title: z.string(), type: z.string(), binned_at: z.date(), binned_by: z.string() })

const plainRow = z.object({ id: z.string(), title: z.string(), binned_at: z.date(), binned_by: z.string() })

function thrown(db: Knex, table: 'goals' | 'campaigns') {
  return db(table).whereNotNull('binned_at').orderBy('binned_at', 'desc').limit(500).select('binned_at', 'binned_by')
}

/** What was thrown away and can be brought back, the newest first. */
export async function binLines(db: Knex) {
  const documents: unknown[] = await db('documents as d')
    .whereNotNull('d.binned_at')
    .orderBy('d.binned_at', 'desc')
    .limit(500)
    .select('d.id', 'd.kind', 'd.title', 'd.binned_at', 'd.binned_by', needed(db))
  const media: unknown[] = await db('media')
    .whereNotNull('binned_at')
    .orderBy('binned_at', 'desc')
    .limit(500)
    .select('name', 'title', 'type', 'binned_at', 'binned_by')
  const goals: unknown[] = await thrown(db, 'goals').select({ id: 'id', title: 'name' })
  const campaigns: unknown[] = await thrown(db, 'campaigns').select({ id: 'name', title: 'name' })
  const plain = (kind: 'goal' | 'campaign') => (row: unknown) => {
    const { id, title, binned_at: at, binned_by: by } = plainRow.parse(row)
    return { kind, id, title, by, at: at.toISOString(), until: until(at) }
  }
  const until = (at: Date) => new Date(at.getTime() + BIN_DAYS * DAY).toISOString()
  return [
    ...documents.map((row) => {
      const { id, kind, title, binned_at: at, binned_by: by, needed: stays } = documentRow.parse(row)
      return { kind, id, title, by, at: at.toISOString(), until: stays ? null : until(at) }
    }),
    ...media.map((row) => {
      const { name, title, type, binned_at: at, binned_by: by } = mediaRow.parse(row)
      const kind = type.startsWith('video/') ? ('film' as const) : ('picture' as const)
      return { kind, id: name, title, by, at: at.toISOString(), until: until(at) }
    }),
    ...goals.map(plain('goal')),
    ...campaigns.map(plain('campaign')),
  ].sort((one, other) => other.at.localeCompare(one.at))
}

/** A test’s result is read with what it tested; a newsletter that was sent stays on record. */
function needed(db: Knex) {
  return db.raw(
    '(EXISTS (SELECT 1 FROM test_parts p WHERE p.document_id = d.id) OR EXISTS (SELECT 1 FROM letters l WHERE l.document_id = d.id)) AS needed',
  )
}

/** Refuses what a test that draws visitors, or will again, rests on: it ends first. */
export async function refuseNeeded(trx: Knex, id: DocumentId): Promise<void> {
  const touching = (await testsTouching(trx, [id])).find(({ status }) => status === 'running' || status === 'paused')
  if (touching !== undefined)
    throw new Failure('blocked', `The test “${touching.name}” is ${touching.status} and tests it. End that test first.`)
  const library = libraryOf(await listGoals(trx))
  const going = await testsWhere(trx, (query) => void query.whereIn('status', ['running', 'paused']))
  const counting = going.find(({ design }) =>
    withParts(goalsOf(design), library).some(({ wiring }) => 'document' in wiring && wiring.document === id),
  )
  if (counting !== undefined)
    throw new Failure('blocked', `The test “${counting.name}” is ${counting.status} and counts on it. End that test first.`)
}

/**
 * Takes a document off the site. Its address, and those that led to it, lead on to another page, or nowhere.
 *
 * @returns whether it was there
 */
export async function takeOff(trx: LiveTransaction, id: DocumentId, to: DocumentId | null): Promise<boolean> {
  const { title, published_revision: live } = await readDocument(trx, id)
  if (live === null) return false
  const { path } = z
    .object({ path: z.string().nullable() })
    .parse(await trx('documents').where({ id }).first({ path: 'published_path' }))
  if (path === '/') throw new Failure('blocked', `“${title}” is the front page. Publish another page at “/” first.`)
  await refuseNeeded(trx, id)
  if (to !== null) {
    const target = await readDocument(trx, to)
    if (to === id || target.kind !== 'page' || target.published_revision === null)
      throw new Failure('input', 'Visitors can only be led on to another page that is published. Choose one.')
    await trx('redirects').where({ document_id: id }).update({ document_id: to })
    if (path !== null) await trx('redirects').insert({ path, document_id: to, at: new Date() }).onConflict('path').merge()
  } else await trx('redirects').where({ document_id: id }).delete()
  await closeGains(trx, { documents: [id] })
  await trx('personalizations').where({ document_id: id }).delete()
  await trx('documents').where({ id }).update({ published_revision: null, published_lock: null, published_path: null })
  return true
}

/** Into the bin: out of every list, its address free for others. */
export async function intoBin(trx: Knex, id: DocumentId, by: string): Promise<void> {
  await refuseNeeded(trx, id)
  await trx('documents').where({ id }).update({ binned_at: new Date(), binned_by: by, path: null })
}

/** Out of the bin, as a draft: at its old address where that is still free. @returns whether it is */
export async function outOfBin(trx: Knex, id: DocumentId): Promise<boolean> {
  const row = await readDocument(trx, id)
  const { path } = listedIn(row.draft)
  const taken = path !== null && (await trx('documents').where({ path }).whereNot({ id }).first('id')) !== undefined
  const changed = await trx('documents')
    .where({ id })
    .whereNotNull('binned_at')
    .update({ binned_at: null, binned_by: null, path: taken ? `${path}-${id.slice(0, 6)}` : path })
  if (changed === 0) throw new Failure('conflict', `“${row.title}” is not in the bin any more.`)
  return !taken
}

/** A picture or film that nothing shows any more. */
export async function binMedia(trx: Knex, name: string, by: string): Promise<void> {
  const place = await placeShowing(trx, name)
  if (place !== null) throw new Failure('blocked', `“${place}” shows it. Take it out there first.`)
  if ((await trx('media').where({ name }).update({ binned_at: new Date(), binned_by: by })) === 0) throw missing('This file')
}

export async function unbinMedia(trx: Knex, name: string): Promise<void> {
  if ((await trx('media').where({ name }).update({ binned_at: null, binned_by: null })) === 0) throw missing('This file')
}

/** A goal that nobody counts by, or a campaign that nothing carries: whether that is so has been asked. */
export async function throwAway(
  trx: Knex,
  where: { readonly goal: GoalId } | { readonly campaign: string },
  by: string,
): Promise<void> {
  const changed = await rowOf(trx, where).whereNull('binned_at').update({ binned_at: new Date(), binned_by: by })
  if (changed === 0) throw missing('goal' in where ? 'This goal' : 'This campaign')
}

export async function bringBack(trx: Knex, where: { readonly goal: GoalId } | { readonly campaign: string }): Promise<void> {
  const changed = await rowOf(trx, where).whereNotNull('binned_at').update({ binned_at: null, binned_by: null })
  if (changed === 0) throw new Failure('conflict', 'It is not in the bin any more.')
}

function rowOf(trx: Knex, where: { readonly goal: GoalId } | { readonly campaign: string }) {
  return 'goal' in where ? trx('goals').where({ id: where.goal }) : trx('campaigns').where({ name: where.campaign })
}

/** Takes away for good what has been in the bin for its days and no result needs. @returns how much it was */
export async function emptyBin(db: Knex, now: Date): Promise<number> {
  const before = new Date(now.getTime() - BIN_DAYS * DAY)
  const rows: unknown[] = await db('documents as d').where('d.binned_at', '<', before).limit(100).select('d.id', needed(db))
  const old = rows
    .map((row) => z.object({ id: z.string(), needed: z.coerce.boolean() }).parse(row))
    .flatMap(({ id, needed: stays }) => (stays ? [] : [id]))
  await db.transaction(async (trx) => {
    await closeGains(trx, { documents: old })
    await trx('personalizations').whereIn('document_id', old).delete()
    await trx('versions').whereIn('document_id', old).delete()
    await trx('documents').whereIn('id', old).delete()
  })
  const names: { name: string }[] = await db('media').where('binned_at', '<', before).limit(100).select('name')
  const gone = await namedNowhere(
    db,
    names.map(({ name }) => name),
  )
  await db('media_sizes').whereIn('name', gone).delete()
  await db('media_parts').whereIn('name', gone).delete()
  await db('media').whereIn('name', gone).delete()
  const goals = await db('goals').where('binned_at', '<', before).delete()
  const campaigns = await db('campaigns').where('binned_at', '<', before).delete()
  return old.length + gone.length + goals + campaigns
}
