import * as z from 'zod'
import { partSchema } from '@/core/experiment'
import { documentIdSchema, testIdSchema } from '@/core/ids'
import { asks, edits, nothing, placeLine, seesAll } from './action'

/** What was read from a file that came in, and what in it could not be: each with its place. */
export const importReport = z.object({ made: z.array(placeLine), notes: z.array(z.string()) })
export type ImportReport = z.infer<typeof importReport>

/** What becomes of a thing in an archive. */
export const archiveFates = ['new', 'replaced', 'same', 'skipped'] as const

export type ArchiveFate = (typeof archiveFates)[number]

export const archiveKinds = [
  ...(['settings', 'documents', 'redirects', 'tests', 'versions', 'history', 'segments', 'rules', 'plans', 'takenOff'] as const),
  ...(['goals', 'campaigns', 'media'] as const),
] as const

const archiveKind = z.enum(archiveKinds)

/** What loading an archive would do, or has done. */
export const archiveReport = z.object({
  /** The release it made; `null` where nothing has been loaded. */
  release: z.number().nullable(),
  groups: z.array(z.object({ kind: archiveKind, new: z.number(), replaced: z.number(), same: z.number(), skipped: z.number() })),
  /** What of the site that was saved is not in the archive. */
  leftOut: z.array(z.string()),
  /** What is not simply new or the same. */
  named: z.array(z.object({ kind: archiveKind, name: z.string(), fate: z.enum(archiveFates), why: z.string() })),
})
export type ArchiveReport = z.infer<typeof archiveReport>

export const exchangeActions = {
  'format.document': asks(
    z.object({ document: documentIdSchema, as: z.enum(['json', 'html', 'opml']) }),
    z.object({ name: z.string(), type: z.string(), text: z.string() }),
  ),
  'format.test': asks(z.object({ test: testIdSchema }), z.object({ name: z.string(), type: z.string(), text: z.string() })),
  'format.segments': asks(nothing, z.object({ name: z.string(), type: z.string(), text: z.string() })),
  'format.rules': asks(partSchema, z.object({ name: z.string(), type: z.string(), text: z.string() })),
  'format.schema': asks(nothing, z.object({ text: z.string() })),
  /** What an archive of the site would not hold. */
  'format.leftOut': seesAll(nothing, z.object({ leftOut: z.array(z.string()) })),
  'format.take': edits(
    z.object({ as: z.enum(['json', 'html', 'opml']), text: z.string().max(1_500_000), title: z.string().max(200).default('') }),
    importReport,
  ),
}
