import { mediaNamedIn } from '@/core/media-names'
import type { Database } from '@/server/database/connect'
import { goLive } from '@/server/database/go-live'
import { sizeOne } from '@/server/formats/picture-file'
import { makeRelease, newestReleaseNumber, readRelease } from '@/server/stores/releases'

/** Pictures made between two releases: a library that was brought in whole does not go live file by file. */
const TOGETHER = 50

/**
 * Pictures that came without their widths, as from an archive or from before there were any, get them; pages that show
 * one are sent anew with them.
 *
 * @returns whether more may wait
 */
export async function sizePictures(db: Database, log: (reason: unknown) => void): Promise<boolean> {
  const made = new Set<string>()
  while (made.size < TOGETHER) {
    const name = await sizeOne(db, log)
    if (name === null) break
    made.add(name)
  }
  if (made.size === 0) return false
  const last = await newestReleaseNumber(db)
  const live = last === null ? null : await readRelease(db, last)
  if (live !== null && [...mediaNamedIn(live.release)].some((name) => made.has(name)))
    await goLive(db, (trx) => makeRelease(trx, 'pictures were made in their widths', 'Upbeat Sprig'))
  return made.size === TOGETHER
}
