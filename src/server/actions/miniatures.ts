import { createHash } from 'node:crypto'
import * as z from 'zod'
import type { MiniatureView } from '@/contract/contract'
import { miniatureWidth } from '@/components/miniature'
import type { ContentDocument, Edit } from '@/core/document'
import { documentIdSchema, nodeIdSchema, testIdSchema, versionIdSchema, type TestId } from '@/core/ids'
import type { Database } from '../database/connect'
import { lookApart } from '../formats/look-thread'
import { readDocument, readSurroundings } from '../stores/documents'
import { readSettings } from '../stores/settings'
import { readTest, roundsOf } from '../stores/tests'
import { listVersions } from '../stores/versions'

/** Which part is to be drawn, in which version of it. */
export const miniatureQuery = z.object({
  document: documentIdSchema,
  node: nodeIdSchema,
  version: versionIdSchema.optional(),
  /** The version as this test has it: of one that is settled, as it was. */
  test: testIdSchema.optional(),
})
export type MiniatureQuery = z.infer<typeof miniatureQuery>

/** The address changes with what is drawn, so that what a browser kept of it is never an old one. */
export function miniatureView(of: MiniatureQuery, document: ContentDocument, edits: readonly Edit[]): MiniatureView {
  const drawn = createHash('sha256')
    .update(JSON.stringify([document, edits]))
    .digest('base64url')
    .slice(0, 12)
  const query = new URLSearchParams({ ...of, drawn })
  return { address: `/api/miniature?${query.toString()}`, width: miniatureWidth(document, of.node, edits) }
}

/** A part as a page of its own, drawn by the code that draws the site. */
export async function drawnMiniature(
  db: Database,
  { document, node, version, test }: MiniatureQuery,
  signal?: AbortSignal,
): Promise<string> {
  const [{ draft }, around, { identity }, edits] = await Promise.all([
    readDocument(db, document),
    readSurroundings(db),
    readSettings(db),
    version === undefined ? [] : editsOf(db, version, document, test),
  ])
  const surroundings = around.filter(({ id }) => id !== document)
  return lookApart('miniature', { document: draft, node, edits, surroundings, identity }, true, signal)
}

async function editsOf(
  db: Database,
  version: NonNullable<MiniatureQuery['version']>,
  document: ContentDocument['id'],
  test: TestId | undefined,
): Promise<readonly Edit[]> {
  const row = test === undefined ? null : await readTest(db, test)
  const [last] = row?.status === 'settled' ? await roundsOf(db, row.number) : []
  const known = last?.snapshot.versions ?? (await listVersions(db, document))
  return known.find(({ id }) => id === version)?.edits ?? []
}
