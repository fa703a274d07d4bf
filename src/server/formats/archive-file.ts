import type { Readable } from 'node:stream'
import { open as openZip, type Entry, type ZipFile } from 'yauzl'
import * as z from 'zod'
import { conditionSchema, segmentSchema } from '@/core/decide'
import { documentSchema } from '@/core/document'
import { designSchema, versionSchema } from '@/core/experiment'
import { FileFault, parseJson } from '@/core/formats'
import { goalSchema } from '@/core/goals'
import { documentIdSchema, nodeIdSchema } from '@/core/ids'
import { halfCharacterIn } from '@/core/text'
import { checkDocument } from '@/components/types'
import { Failure } from '../failure'
import { checkFile, FILM_LIMIT } from './picture-file'

/** Unpacked, in bytes: what is in site.json, and all together. */
const MOST_TEXT = 60_000_000
const MOST_BYTES = 400_000_000
const MOST_ENTRIES = 20_000

export const archivedSiteSchema = z.object({
  format: z.literal('upbeat-sprig-site'),
  version: z.literal(1),
  documents: z
    .array(
      z.object({ draft: documentSchema, published: documentSchema.nullable(), position: z.number().int().min(0).max(1_000_000) }),
    )
    .max(20_000),
  versions: z
    .array(
      versionSchema.extend({
        document: documentIdSchema,
        node: nodeIdSchema,
        manner: z.enum(['chance', 'rule']),
        condition: conditionSchema.nullable(),
        test: z.number().int().nullable(),
      }),
    )
    .max(50_000),
  tests: z.array(z.object({ number: z.number().int(), design: designSchema })).max(10_000),
  /** That rules and tests name; older archives have none. */
  segments: z.array(segmentSchema).max(200).default([]),
  goals: z.array(goalSchema).max(500),
  campaigns: z.array(z.string().trim().min(1).max(120)).max(1000),
  media: z.array(z.object({ name: z.string(), title: z.string().max(200), alt: z.string().max(500) })).max(MOST_ENTRIES),
})
export type ArchivedSite = z.output<typeof archivedSiteSchema>

/**
 * What is in an archive of a site, checked to the last file; read from the disk bit by bit, so that its size costs no memory.
 *
 * @throws {FileFault} naming the file in it, and the place in that
 */
export async function readArchiveFile(path: string): Promise<ArchivedSite> {
  let text: Buffer | null = null
  const media = new Set<string>()
  let size = 0
  await eachEntry(await opened(path), async (entry, bytes) => {
    size += entry.uncompressedSize
    if (size > MOST_BYTES) throw new FileFault(`The archive unpacks to more than ${MOST_BYTES / 1e6} MB.`)
    if (entry.fileName === 'site.json') text = await bytes(MOST_TEXT)
    else if (isMediaEntry(entry)) {
      const body = await bytes(FILM_LIMIT)
      const { name } = named(entry.fileName, () => checkFile(body))
      if (`media/${name}` !== entry.fileName)
        throw new FileFault(`${entry.fileName} is not what its name says; it may be damaged.`)
      media.add(name)
    }
  })
  if (text === null) throw new FileFault('site.json is not in the archive. Choose one that a site was saved to.')
  return checkedSite(text, media)
}

/** Gives each of the files in the media library's part of an archive, one after the other. */
export async function eachMedia(path: string, take: (name: string, body: Buffer) => Promise<void>): Promise<void> {
  await eachEntry(await opened(path), async (entry, bytes) => {
    if (isMediaEntry(entry)) await take(entry.fileName.slice('media/'.length), await bytes(FILM_LIMIT))
  })
}

function checkedSite(text: Buffer, media: ReadonlySet<string>): ArchivedSite {
  const value = named('site.json', () => parseJson(text.toString('utf8')))
  const half = halfCharacterIn(value)
  if (half !== null) throw new FileFault(`site.json, ${half.join(' › ')}: this text holds half a character.`)
  const parsed = archivedSiteSchema.safeParse(value)
  if (!parsed.success) {
    const [issue] = parsed.error.issues
    throw new FileFault(`site.json, ${issue?.path.map(String).join(' › ') ?? ''}: ${issue?.message ?? 'not understood'}.`)
  }
  for (const [index, { draft, published }] of parsed.data.documents.entries())
    for (const document of published === null ? [draft] : [draft, published]) {
      const checked = checkDocument(document)
      if (!checked.ok) throw new FileFault(`site.json, documents › ${index} (${draft.id}): ${checked.fault}.`)
    }
  const lost = parsed.data.media.find(({ name }) => !media.has(name))
  if (lost !== undefined) throw new FileFault(`media/${lost.name} is named in site.json but not in the archive.`)
  return parsed.data
}

function isMediaEntry({ fileName }: Entry): boolean {
  return /^media\/m-[0-9a-f]{32}$/.test(fileName)
}

async function opened(path: string): Promise<ZipFile> {
  return new Promise((done, failed) =>
    openZip(path, { lazyEntries: true, validateEntrySizes: true, autoClose: false }, (fault, zip) =>
      zip === undefined ? failed(noZip(fault)) : done(zip),
    ),
  )
}

/** In the order of the archive; an entry is unpacked only where it is asked for, and only as far as it may go. */
async function eachEntry(
  zip: ZipFile,
  take: (entry: Entry, bytes: (most: number) => Promise<Buffer>) => Promise<void>,
): Promise<void> {
  try {
    if (zip.entryCount > MOST_ENTRIES) throw new FileFault(`The archive has more than ${MOST_ENTRIES} files.`)
    await new Promise<void>((done, failed) => {
      zip.once('error', (reason: unknown) => failed(noZip(reason)))
      zip.once('end', () => done())
      zip.on('entry', (entry: Entry) => {
        take(entry, (most) => unpacked(zip, entry, most)).then(() => zip.readEntry(), failed)
      })
      zip.readEntry()
    })
  } finally {
    zip.close()
  }
}

async function unpacked(zip: ZipFile, entry: Entry, most: number): Promise<Buffer> {
  const tooLarge = () => new FileFault(`${entry.fileName} unpacks to more than ${most / 1e6} MB.`)
  if (entry.uncompressedSize > most) throw tooLarge()
  const stream = await new Promise<Readable>((done, failed) =>
    zip.openReadStream(entry, (fault, found) => (found === undefined ? failed(noZip(fault)) : done(found))),
  )
  const parts: Buffer[] = []
  let size = 0
  try {
    for await (const part of stream as AsyncIterable<Buffer>) {
      size += part.length
      if (size > most) throw tooLarge()
      parts.push(part)
    }
  } catch (reason) {
    throw reason instanceof FileFault ? reason : noZip(reason)
  }
  return Buffer.concat(parts)
}

function noZip(reason: unknown): FileFault {
  return reason instanceof FileFault ? reason : new FileFault('This is no zip archive, or it is damaged.')
}

function named<Of>(path: string, work: () => Of): Of {
  try {
    return work()
  } catch (reason) {
    if (reason instanceof FileFault || reason instanceof Failure) throw new FileFault(`${path}: ${reason.message}`)
    throw reason
  }
}
