import type { Knex } from 'knex'
import * as z from 'zod'

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
