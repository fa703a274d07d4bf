import type { Readable } from 'node:stream'
import { open as openZip, type Entry, type ZipFile } from 'yauzl'
import type * as z from 'zod'
import type { ContentDocument } from '@/core/document'
import { FileFault, parseJson } from '@/core/formats'
import { halfCharacterIn } from '@/core/text'
import { checkDocument } from '@/components/types'
import { Failure } from '../failure'
import { archivedSiteSchema, archivedTestSchema, MOST_ENTRIES, type ArchivedSite, type ArchivedTest } from './archived-site'
import { checkFile, FILM_LIMIT } from './checked-file'

/** Unpacked, in bytes: what is in site.json, and all together. */
const MOST_TEXT = 60_000_000
const MOST_BYTES = 400_000_000
const MOST_HISTORY = 40_000_000
/**
 * What is in an archive of a site, checked to the last file; read from the disk bit by bit, so that its size costs no memory.
 *
 * @throws {FileFault} naming the file in it, and the place in that
 */
export async function readArchiveFile(path: string): Promise<ArchivedSite> {
  let text: Buffer | null = null
  const media = new Set<string>()
  const history = new Map<number, ArchivedTest>()
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
    } else if (isHistoryEntry(entry)) {
      const test = testIn(entry, await bytes(MOST_HISTORY))
      // What is counted is read again when it is taken over: here it would only cost memory.
      history.set(test.number, { ...test, counts: {}, pictures: [] })
    }
  })
  if (text === null) throw new FileFault('site.json is not in the archive. Choose one that a site was saved to.')
  return checkedSite(text, media, history)
}

/** Gives each of the files in the media library's part of an archive, one after the other. */
export async function eachMedia(path: string, take: (name: string, body: Buffer) => Promise<void>): Promise<void> {
  await eachEntry(await opened(path), async (entry, bytes) => {
    if (isMediaEntry(entry)) await take(entry.fileName.slice('media/'.length), await bytes(FILM_LIMIT))
  })
}

/** Gives each settled test that lies in an archive, one after the other. */
export async function eachHistory(path: string, take: (test: ArchivedTest) => Promise<void>): Promise<void> {
  await eachEntry(await opened(path), async (entry, bytes) => {
    if (isHistoryEntry(entry)) await take(testIn(entry, await bytes(MOST_HISTORY)))
  })
}

function testIn({ fileName }: Entry, bytes: Buffer): ArchivedTest {
  const test = read(fileName, bytes, archivedTestSchema)
  if (fileName !== historyEntry(test.number)) throw new FileFault(`${fileName} is not what its name says.`)
  // Rounds of another test would be counted in it.
  const rounds = new Set<string>(test.rounds.map(({ snapshot }) => snapshot.id))
  const own = test.rounds.every(({ snapshot }) => snapshot.id === `t-${test.number}-r${snapshot.number}`)
  const counted = Object.values(test.counts).every((rows) => rows?.every(([round]) => rounds.has(String(round))) ?? true)
  if (!own || !counted || rounds.size !== test.rounds.length)
    throw new FileFault(`${fileName}: it names rounds that are not this test’s own.`)
  return test
}

/** @throws {FileFault} with the file in the archive, and the place in that */
function read<Of>(file: string, bytes: Buffer, schema: z.ZodType<Of>): Of {
  const value = named(file, () => parseJson(bytes.toString('utf8')))
  const half = halfCharacterIn(value)
  if (half !== null) throw new FileFault(`${file}, ${half.join(' › ')}: this text holds half a character.`)
  const parsed = schema.safeParse(value)
  if (parsed.success) return parsed.data
  const [issue] = parsed.error.issues
  throw new FileFault(`${file}, ${issue?.path.map(String).join(' › ') ?? ''}: ${issue?.message ?? 'not understood'}.`)
}

function checkedSite(text: Buffer, media: ReadonlySet<string>, history: ReadonlyMap<number, ArchivedTest>): ArchivedSite {
  const site = read('site.json', text, archivedSiteSchema)
  const lost = site.media.find(({ name }) => !media.has(name))
  if (lost !== undefined) throw new FileFault(`media/${lost.name} is named in site.json but not in the archive.`)
  const forgotten = site.history.find(({ number }) => !history.has(number))
  if (forgotten !== undefined)
    throw new FileFault(`${historyEntry(forgotten.number)} is named in site.json but not in the archive.`)
  for (const { number, documents, versions } of site.history) {
    const test = history.get(number)
    const parts = test === undefined ? [] : [test.design, ...test.design.further].map(({ document }) => document)
    const homes = [...parts, ...(test?.versions.map(({ document }) => document) ?? [])]
    if (homes.some((id) => !documents.includes(id)) || test?.versions.some(({ id }) => !versions.includes(id)) === true)
      throw new FileFault(`${historyEntry(number)} holds documents or versions that site.json does not name with it.`)
    if (documents.some((id) => !site.documents.some(({ draft }) => draft.id === id)))
      throw new FileFault(`${historyEntry(number)} is about a page that is not in the archive.`)
  }
  // As it would be kept: what is the same to a reader (“<br>”, “<br />”) is the same to whoever compares.
  const kept = (document: ContentDocument, index: number) => {
    const checked = checkDocument(document)
    if (!checked.ok) throw new FileFault(`site.json, documents › ${index} (${document.id}): ${checked.fault}.`)
    return checked.document
  }
  const documents = site.documents.map(({ draft, published, position }, index) => ({
    ...{ draft: kept(draft, index), published: published === null ? null : kept(published, index), position },
  }))
  return { ...site, documents }
}

/** Where the history of a test lies in an archive. */
export const historyEntry = (number: number) => `history/t-${number}.json`

function isHistoryEntry({ fileName }: Entry): boolean {
  return /^history\/t-[1-9]\d{0,8}\.json$/.test(fileName)
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
