import { createHash } from 'node:crypto'
import { imageSize } from 'image-size'
import type { Knex } from 'knex'
import { shortened } from '@/core/text'
import { Failure } from '../failure'
import { writeMediaParts } from '../stores/media'

export const PICTURE_LIMIT = 8_000_000
export const FILM_LIMIT = 40_000_000

export interface CheckedFile {
  readonly name: string
  readonly type: string
  readonly width: number
  readonly height: number
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
  { type: 'video/webm', fits: (head) => head.subarray(0, 4).equals(Buffer.from([0x1a, 0x45, 0xdf, 0xa3])) },
  { type: 'video/mp4', fits: (head) => /^ftyp(isom|iso[2-9]|mp4[12]|avc1|M4V |dash)/.test(head.toString('latin1', 4, 12)) },
]

/** @throws {Failure} for what is no picture or film that the site can show, or is too large */
export function checkFile(body: Buffer): CheckedFile {
  const type = signatures.find(({ fits }) => fits(body.subarray(0, 32)))?.type
  if (type === undefined)
    throw new Failure(
      'input',
      'This is no picture or film that the site can show. Bring a PNG, JPEG, GIF, WebP, AVIF, WebM or MP4.',
    )
  const film = type.startsWith('video/')
  const limit = film ? FILM_LIMIT : PICTURE_LIMIT
  if (body.length > limit)
    throw new Failure(
      'input',
      `This ${film ? 'film' : 'picture'} has ${Math.ceil(body.length / 1e6)} MB; ${limit / 1e6} MB are the most.`,
    )
  const name = `m-${createHash('sha256').update(body).digest('hex').slice(0, 32)}`
  if (film) return { name, type, width: 0, height: 0 }
  try {
    const { width, height } = imageSize(body)
    if (width * height > 60_000_000) throw new Failure('input', `This picture is ${width} × ${height}: make it smaller first.`)
    return { name, type, width, height }
  } catch (reason) {
    if (reason instanceof Failure) throw reason
    throw new Failure('input', 'This picture is damaged: its size cannot be read.')
  }
}

/** Keeps a file under a name made from what is in it: the same file twice is one. */
export async function keepFile(
  db: Knex,
  body: Buffer,
  about: { title: string; alt: string; author: string },
): Promise<CheckedFile> {
  const file = checkFile(body)
  await db('media')
    .insert({
      ...file,
      title: shortened(about.title, 200),
      alt: shortened(about.alt, 500),
      size: body.length,
      created_at: new Date(),
      created_by: about.author,
    })
    .onConflict('name')
    .ignore()
  await writeMediaParts(db, file.name, body)
  return file
}
