import type { Knex } from 'knex'
import * as z from 'zod'

const fileRow = z.object({ name: z.string(), type: z.string(), body: z.instanceof(Buffer) })
export type MediaFile = z.infer<typeof fileRow>

/** Files of the media library with their bytes. */
export async function readMedia(db: Knex, names: readonly string[]): Promise<MediaFile[]> {
  if (names.length === 0) return []
  const rows: unknown[] = await db('media').whereIn('name', names).select('name', 'type', 'body')
  return rows.map((row) => fileRow.parse(row))
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
