import { closeSync, fsyncSync, mkdirSync, openSync, readdirSync, statSync } from 'node:fs'
import { open, readFile, unlink, type FileHandle } from 'node:fs/promises'
import { join } from 'node:path'
import type * as z from 'zod'
import { Overloaded } from './group-commit'
import { parsedJson } from './parsed-json'

const SEGMENT = 1_048_576
const BATCH = 1000
const TRIES = 3

interface Segment {
  readonly file: string
  bytes: number
}

/** Where what is taken in goes, and how to find out whether it can go there. */
export interface Destination<Item> {
  /** Resolves when the items are durable; writing an item twice must leave one. */
  write(items: readonly Item[]): Promise<void>
  isReachable(): Promise<boolean>
  log(reason: unknown): void
}

/**
 * Keeps items on disk while their destination is away, and hands them on in order when it is back. `keep` resolves
 * when the items are durable, in one place or the other, so whoever was thanked can rely on it, whatever is killed.
 * As long as anything waits here, what is new waits behind it.
 *
 * Segments of lines of JSON, each line flushed before it counts. A line that was cut off by a crash was never
 * acknowledged: a new process begins a new segment, and a line without its end is not read.
 */
export class Spool<Item> {
  private segments: Segment[]
  private current: { readonly segment: Segment; readonly handle: FileHandle } | null = null
  private next: number
  private turn: Promise<unknown> = Promise.resolve()

  /** @param limit bytes that may wait here before items are refused */
  constructor(
    private readonly folder: string,
    private readonly schema: z.ZodType<Item>,
    private readonly destination: Destination<Item>,
    private readonly limit = 268_435_456,
  ) {
    mkdirSync(folder, { recursive: true, mode: 0o700 })
    const names = readdirSync(folder).filter((name) => /^\d{9}\.ndjson$/.test(name))
    this.segments = names.sort().map((name) => ({ file: join(folder, name), bytes: statSync(join(folder, name)).size }))
    this.next = Number(names.at(-1)?.slice(0, 9) ?? 0) + 1
  }

  get isEmpty(): boolean {
    return this.segments.length === 0
  }

  /** Resolves when these items are durable. @throws {Overloaded} when the destination is away and there is no room left here */
  async keep(items: readonly Item[]): Promise<void> {
    if (this.isEmpty) {
      try {
        return await this.destination.write(items)
      } catch (reason) {
        this.destination.log(reason)
      }
    }
    await this.inTurn(() => this.append(items))
  }

  /** Hands on what waits, oldest first. @returns whether nothing waits any more */
  async drain(): Promise<boolean> {
    for (let segment = this.segments[0]; segment !== undefined; segment = this.segments[0]) {
      const oldest = segment
      // In turn, because something may be on its way into it: after this nothing is written there any more.
      await this.inTurn(async () => {
        if (this.current?.segment === oldest) await this.closeCurrent()
      })
      const { items, unreadable } = await this.read(oldest)
      for (let at = 0; at < items.length; at += BATCH) {
        if (!(await this.handOn(items.slice(at, at + BATCH)))) return false
      }
      for (const line of unreadable) await this.setAside(line)
      await this.drop(oldest)
    }
    return true
  }

  async close(): Promise<void> {
    await this.inTurn(() => this.closeCurrent())
  }

  private inTurn<T>(work: () => Promise<T>): Promise<T> {
    const done = this.turn.then(work)
    this.turn = done.catch(() => undefined)
    return done
  }

  private async append(items: readonly Item[]): Promise<void> {
    const text = items.map((item) => `${JSON.stringify(item)}\n`).join('')
    const bytes = Buffer.byteLength(text)
    if (this.segments.reduce((sum, segment) => sum + segment.bytes, bytes) > this.limit)
      throw new Overloaded('the database is away and there is no room left on the disk to wait for it')
    const { segment, handle } = (this.current ??= await this.begin())
    try {
      await handle.appendFile(text)
      await handle.datasync()
    } catch (reason) {
      // Half a line may be there now: nothing is written behind it, and a file that holds nothing is not left behind.
      await this.closeCurrent()
      if (segment.bytes === 0) await this.drop(segment)
      throw reason
    }
    segment.bytes += bytes
    if (segment.bytes >= SEGMENT) await this.closeCurrent()
  }

  private async begin(): Promise<NonNullable<typeof this.current>> {
    const segment = { file: join(this.folder, `${String(this.next++).padStart(9, '0')}.ndjson`), bytes: 0 }
    const handle = await open(segment.file, 'ax', 0o600)
    flushFolder(this.folder)
    this.segments.push(segment)
    return { segment, handle }
  }

  private async drop(segment: Segment): Promise<void> {
    await unlink(segment.file)
    this.segments = this.segments.filter((one) => one !== segment)
  }

  private async closeCurrent(): Promise<void> {
    const closing = this.current
    this.current = null
    await closing?.handle.close()
  }

  private async read({ file }: Segment): Promise<{ items: Item[]; unreadable: string[] }> {
    const text = await readFile(file, 'utf8')
    const items: Item[] = []
    const unreadable: string[] = []
    for (const line of text.slice(0, text.lastIndexOf('\n') + 1).split('\n')) {
      if (line === '') continue
      const item = this.schema.safeParse(parsedJson(line))
      if (item.success) items.push(item.data)
      else unreadable.push(line)
    }
    return { items, unreadable }
  }

  /** @returns whether they are there now; one that can never be written must not hold up the others */
  private async handOn(items: readonly Item[]): Promise<boolean> {
    for (let tries = 0; tries < TRIES; tries++) {
      try {
        await this.destination.write(items)
        return true
      } catch (reason) {
        this.destination.log(reason)
        if (!(await this.destination.isReachable())) return false
      }
    }
    const [only] = items
    if (items.length > 1) {
      for (const item of items) if (!(await this.handOn([item]))) return false
    } else if (only !== undefined) await this.setAside(JSON.stringify(only))
    return true
  }

  /** Out of the way, but not lost: a person can look at it. */
  private async setAside(line: string): Promise<void> {
    const handle = await open(join(this.folder, 'set-aside.ndjson'), 'a', 0o600)
    await handle.appendFile(`${line}\n`)
    await handle.datasync()
    await handle.close()
    this.destination.log(new Error(`an item could not be understood or written and was set aside in ${this.folder}`))
  }
}

/** A file's name is durable only when its folder is. */
function flushFolder(folder: string): void {
  const descriptor = openSync(folder, 'r')
  fsyncSync(descriptor)
  closeSync(descriptor)
}
