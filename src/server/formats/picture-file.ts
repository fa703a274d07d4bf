import { createHash } from 'node:crypto'
import { imageSize } from 'image-size'
import type { Knex } from 'knex'
import { shortened } from '@/core/text'
import { inTransaction, type Database } from '../database/connect'
import { Failure } from '../failure'
import { keepSizes, nextUnsized, writeMediaParts } from '../stores/media'
import { MOST_PIXELS, sizedPicture } from './sized-picture'
import { cleanSvg, SVG_LIMIT } from './svg-file'

export const PICTURE_LIMIT = 8_000_000
export const FILM_LIMIT = 40_000_000

export interface CheckedFile {
  readonly name: string
  readonly type: string
  /** In pixels; 0 of a film. */
  readonly width: number
  readonly height: number
  /** What is kept of it: a drawing is cleaned. */
  readonly body: Buffer
}

/** What a file is, by its first bytes and never by its name (the signatures of the formats’ own specifications). */
const signatures: readonly { readonly type: string; readonly fits: (head: Buffer) => boolean }[] = [
  {
    type: 'image/png',
    fits: (head) => head.subarray(0, 8).equals(Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a])),
  },
  { type: 'image/jpeg', fits: (head) => head.subarray(0, 3).equals(Buffer.from([0xff, 0xd8, 0xff])) },
  { type: 'image/gif', fits: (head) => /^GIF8[79]a/.test(head.toString('latin1', 0, 6)) },
  { type: 'image/webp', fits: (head) => head.toString('latin1', 0, 4) === 'RIFF' && head.toString('latin1', 8, 12) === 'WEBP' },
  { type: 'image/avif', fits: (head) => /^ftypavi[fs]$/.test(head.toString('latin1', 4, 12)) },
  { type: 'image/svg+xml', fits: (head) => /^(\uFEFF)?\s*<(\?xml\s|!--|!DOCTYPE svg|svg[\s>])/i.test(head.toString('utf8')) },
  { type: 'video/webm', fits: (head) => head.subarray(0, 4).equals(Buffer.from([0x1a, 0x45, 0xdf, 0xa3])) },
  { type: 'video/mp4', fits: (head) => /^ftyp(isom|iso[2-9]|mp4[12]|avc1|M4V |dash)/.test(head.toString('latin1', 4, 12)) },
]

/** @throws {Failure} for what is no picture or film that the site can show, or is too large */
export function checkFile(given: Buffer): CheckedFile {
  const type = signatures.find(({ fits }) => fits(given.subarray(0, 32)))?.type
  if (type === undefined)
    throw new Failure(
      'input',
      'This is no picture or film that the site can show. Bring a PNG, JPEG, GIF, WebP, AVIF, SVG, WebM or MP4.',
    )
  const film = type.startsWith('video/')
  const drawing = type === 'image/svg+xml'
  const limit = film ? FILM_LIMIT : drawing ? SVG_LIMIT : PICTURE_LIMIT
  if (given.length > limit)
    throw new Failure(
      'input',
      `This ${film ? 'film' : drawing ? 'drawing' : 'picture'} has ${Math.ceil(given.length / 1e6)} MB; ${limit / 1e6} MB are the most.`,
    )
  const body = drawing ? Buffer.from(cleanSvg(given.toString('utf8'))) : given
  const name = `m-${createHash('sha256').update(body).digest('hex').slice(0, 32)}`
  return { name, type, ...(film ? { width: 0, height: 0 } : sizeSaid(body)), body }
}

/** As its first bytes say it: nothing is unpacked for it. @throws {Failure} */
function sizeSaid(body: Buffer): { width: number; height: number } {
  let said: { width: number; height: number }
  try {
    said = imageSize(body)
  } catch {
    throw new Failure('input', 'This picture is damaged: its size cannot be read.')
  }
  const { width, height } = said
  if (width * height > MOST_PIXELS) throw new Failure('input', `This picture is ${width} × ${height}: make it smaller first.`)
  return { width, height }
}

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
