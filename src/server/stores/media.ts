import type { Knex } from 'knex'
import * as z from 'zod'
import type { PictureSizes } from '@/core/picture-sizes'
import type { ServedFile } from '@/serving/library-file'

const PART = 2_000_000
const aboutRow = z.object({ name: z.string(), type: z.string() })
const partRow = z.object({ name: z.string(), body: z.instanceof(Buffer) })

export interface MediaFile {
  readonly name: string
  readonly type: string
  readonly body: Buffer
}

/** Files of the media library with their bytes. */
export async function readMedia(db: Knex, names: readonly string[]): Promise<MediaFile[]> {
  if (names.length === 0) return []
  const rows: unknown[] = await db('media').whereIn('name', names).select('name', 'type')
  const files: MediaFile[] = []
  for (const { name, type } of rows.map((row) => aboutRow.parse(row))) {
    const parts: unknown[] = await db('media_parts').where({ name }).orderBy('part').select('name', 'body')
    files.push({ name, type, body: Buffer.concat(parts.map((part) => partRow.parse(part).body)) })
  }
  return files
}

/** Keeps a file's bytes in parts, as a database takes only so much in one statement. Those that are there stay. */
export async function writeMediaParts(db: Knex, name: string, body: Buffer): Promise<void> {
  for (let part = 0; part * PART < body.length; part++)
    await db('media_parts')
      .insert({ name, part, body: body.subarray(part * PART, (part + 1) * PART) })
      .onConflict(['name', 'part'])
      .ignore()
}

/** A picture in one of its widths, as a visitor gets it. */
export interface MediaSize {
  readonly width: number
  readonly type: string
  readonly body: Buffer
}

/** What a picture is in its widths. `null`: it cannot be read, and none will be made. */
export interface MadeSizes {
  readonly width: number
  readonly height: number
  readonly sizes: readonly MediaSize[]
}

export async function keepSizes(trx: Knex, name: string, made: MadeSizes | null): Promise<void> {
  const { width, height, sizes } = made ?? { sizes: [] }
  // One statement each: a database takes only so much at once.
  for (const size of sizes)
    await trx('media_sizes')
      .insert({ name, ...size })
      .onConflict(['name', 'width', 'type'])
      .ignore()
  await trx('media')
    .where({ name })
    .update({ sized_at: new Date(), ...(made === null ? {} : { width, height }) })
}

/** A picture that waits to be made in its widths; the oldest first. */
export async function nextUnsized(db: Knex): Promise<MediaFile | null> {
  const row: unknown = await db('media').whereNull('sized_at').orderBy('created_at').first('name')
  if (row === undefined) return null
  const [file] = await readMedia(db, [z.object({ name: z.string() }).parse(row).name])
  return file ?? null
}

const sizesRow = z.object({ name: z.string(), width: z.number(), height: z.number(), widths: z.string().nullable() })
/** What is known of these pictures; of those that wait or cannot be read, nothing. */
export async function readPictureSizes(db: Knex, names: readonly string[]): Promise<Record<string, PictureSizes>> {
  if (names.length === 0) return {}
  const rows: unknown[] = await db('media as m')
    .leftJoin('media_sizes as s', 's.name', 'm.name')
    .whereIn('m.name', [...names])
    .whereNotNull('m.sized_at')
    .where('m.width', '>', 0)
    .groupBy('m.name')
    .orderBy('m.name')
    .select('m.name', 'm.width', 'm.height', db.raw('GROUP_CONCAT(DISTINCT s.width ORDER BY s.width) AS widths'))
  return Object.fromEntries(
    rows.map((row) => {
      const { name, width, height, widths } = sizesRow.parse(row)
      return [name, { width, height, widths: widths === null ? [] : widths.split(',').map(Number) }]
    }),
  )
}

const sizeRow = z.object({ width: z.number(), type: z.string(), body: z.instanceof(Buffer) })
async function sizesOf(db: Knex, name: string): Promise<MediaSize[]> {
  const rows: unknown[] = await db('media_sizes').where({ name }).orderBy('width').select('width', 'type', 'body')
  return rows.map((row) => sizeRow.parse(row))
}

const servedRow = z.object({ name: z.string(), type: z.string(), sized_at: z.date().nullable() })
/** Files of the library as they are sent to visitors; the heavy ones that a camera made are not read for it. */
export async function readServed(db: Knex, names: readonly string[]): Promise<ServedFile[]> {
  if (names.length === 0) return []
  const rows: unknown[] = await db('media')
    .whereIn('name', [...names])
    .select('name', 'type', 'sized_at')
  const files: ServedFile[] = []
  for (const { name, type, sized_at: sized } of rows.map((row) => servedRow.parse(row))) {
    const sizes = type.startsWith('image/') ? await sizesOf(db, name) : []
    const [whole = null] = sizes.length === 0 ? await readMedia(db, [name]) : []
    files.push({ name, whole, sizes, ready: sized !== null })
  }
  return files
}

const lineRow = z.object({
  name: z.string(),
  title: z.string(),
  alt: z.string(),
  type: z.string(),
  width: z.number(),
  height: z.number(),
  size: z.number(),
  created_at: z.date(),
  created_by: z.string(),
})
export type MediaRow = z.infer<typeof lineRow>

export async function listMedia(db: Knex, narrow: (query: Knex.QueryBuilder) => void): Promise<MediaRow[]> {
  const rows: unknown[] = await db('media')
    .modify(narrow)
    .select('name', 'title', 'alt', 'type', 'width', 'height', 'size', 'created_at', 'created_by')
  return rows.map((row) => lineRow.parse(row))
}
