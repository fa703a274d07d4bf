import type { Knex } from 'knex'
import { shortened } from '@/core/text'
import { inTransaction, type Database } from '../database/connect'
import { Failure } from '../failure'
import { keepSizes, nextUnsized, writeMediaParts } from '../stores/media'
import { checkFile, type CheckedFile } from './checked-file'
import { sizedPicture } from './sized-picture'

interface AboutFile {
  readonly title: string
  readonly alt: string
  readonly author: string
}

/**
 * Keeps a file under a name made from what is in it: the same file twice is one. A picture waits to be made in its widths
 * ({@link sizeOne}).
 */
export async function keepFile(db: Knex, given: Buffer, about: AboutFile): Promise<Omit<CheckedFile, 'body'>> {
  const { body, ...file } = checkFile(given)
  await db('media')
    .insert({
      ...file,
      title: shortened(about.title, 200),
      alt: shortened(about.alt, 500),
      size: body.length,
      sized_at: file.type.startsWith('video/') ? new Date() : null,
      created_at: new Date(),
      created_by: about.author,
    })
    .onConflict('name')
    .ignore()
  await writeMediaParts(db, file.name, body)
  return file
}

/** The same with its widths, for whoever waits for it. @throws {Failure} where it cannot be read to its end */
export async function keepSized(db: Database, given: Buffer, about: AboutFile): Promise<Omit<CheckedFile, 'body'>> {
  const { body, type } = checkFile(given)
  const sized = type.startsWith('video/') ? null : await sizedPicture(body, type)
  // All of its parts, or nothing.
  return inTransaction(db, async (trx) => {
    const file = await keepFile(trx, body, about)
    if (sized !== null) await keepSizes(trx, file.name, sized)
    return file
  })
}

/**
 * Makes one of the pictures in its widths that came without: from an archive, or before there were any.
 *
 * @returns its name; `null` where none waits
 */
export async function sizeOne(db: Database, log: (reason: unknown) => void): Promise<string | null> {
  const waiting = await nextUnsized(db)
  if (waiting === null) return null
  const { name, type, body } = waiting
  const sized = await sizedPicture(body, type).catch((reason: unknown) => {
    if (!(reason instanceof Failure)) throw reason
    log(reason)
    return null
  })
  await inTransaction(db, (trx) => keepSizes(trx, name, sized))
  return name
}
