import type { Knex } from 'knex'
import { strToU8, Zip, ZipDeflate, ZipPassThrough } from 'fflate'
import type { AccountView, ArchiveReport } from '@/contract/contract'
import { inTransaction } from '../database/connect'
import { goLive } from '../database/go-live'
import { readMedia } from '../stores/media'
import { readApart } from './apart'
import { contentsOf } from './archive-contents'
import { historyEntry } from './archive-file'
import { archivedTest } from './archive-history'
import { hereOf } from './archive-here'
import { load } from './archive-load'
import { planOf, reportOf, type Planned } from './archive-plan'

/**
 * A whole site as one zip: `site.json` with how it is set up, its documents, versions, rules and goals, and tests as drafts;
 * settled tests under `history/` with all that was found out by them; the media library under `media/`. One file after the
 * other as it is asked for. What is not in it is named in it.
 */
export async function* writeArchive(db: Knex): AsyncGenerator<Uint8Array> {
  const ready: Uint8Array[] = []
  let fault: Error | null = null
  const zip = new Zip((reason, chunk) => {
    if (reason === null) ready.push(chunk)
    else fault = reason
  })
  const written = function* () {
    if (fault !== null) throw fault
    for (let chunk = ready.shift(); chunk !== undefined; chunk = ready.shift()) yield chunk
  }
  const add = (entry: ZipDeflate | ZipPassThrough, bytes: Uint8Array) => {
    // The same site is the same file.
    entry.mtime = MADE
    zip.add(entry)
    entry.push(bytes, true)
  }
  const { site, history } = await contentsOf(db)
  for (const row of history) {
    const test = await archivedTest(db, row)
    add(new ZipDeflate(historyEntry(test.number), { level: 6 }), strToU8(JSON.stringify(test)))
    yield* written()
  }
  add(new ZipDeflate('site.json', { level: 6 }), strToU8(JSON.stringify(site, null, 1)))
  yield* written()
  for (const { name } of site.media) {
    const [file] = await readMedia(db, [name])
    if (file === undefined) continue
    // Pictures and films are packed already.
    add(new ZipPassThrough(`media/${name}`), file.body)
    yield* written()
  }
  zip.end()
  yield* written()
}
const MADE = new Date('2020-01-01T00:00:00Z')

/**
 * Loads a site, as {@link planOf} says: everything is checked first, and it is all taken over or nothing.
 *
 * @returns what was done; `release` is `null` where there was nothing to do
 * @throws {FileFault} naming the file and the place in it
 */
export async function readArchive(db: Knex, path: string, account: AccountView): Promise<ArchiveReport> {
  const site = await readApart({ kind: 'archive', path })
  return goLive(db, async (trx) => {
    const here = await hereOf(trx, site)
    const plan = planOf(site, here)
    const idle = Object.values(plan).every((things: readonly Planned<unknown>[]) =>
      things.every(({ fate }) => fate === 'same' || fate === 'skipped'),
    )
    return reportOf(plan, site, idle ? null : await load(trx, { site, plan, here, path, account }))
  })
}

/** What loading this would do; nothing is changed by asking. */
export async function lookAtArchive(db: Knex, path: string): Promise<ArchiveReport> {
  const site = await readApart({ kind: 'archive', path })
  return inTransaction(db, async (trx) => reportOf(planOf(site, await hereOf(trx, site)), site, null))
}
