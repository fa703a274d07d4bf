import { mkdirSync, readFileSync, rmSync, statSync, utimesSync, writeFileSync } from 'node:fs'
import { hostname } from 'node:os'
import { join } from 'node:path'
import * as z from 'zod'
import { parsedJson } from './parsed-json'

const holderSchema = z.object({ pid: z.number().int(), begun: z.string(), host: z.string() })
type Holder = z.infer<typeof holderSchema>

/** Another machine that shares the folder shows that it lives by touching its lock; after this long it does not. */
const SILENCE = 30_000
const TOUCH_EVERY = 5000

/** Somebody else works in this folder. */
export class FolderTaken extends Error {}

/**
 * Keeps a folder for this process alone, as what waits in it must be handed on once and in order. A lock that was left by
 * a process that is gone is taken over.
 *
 * @returns gives it back
 * @throws {FolderTaken} where another process lives in it
 */
export function holdFolder(folder: string): () => void {
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  const file = join(folder, 'held-by.json')
  const me: Holder = { pid: process.pid, begun: begunAt(process.pid) ?? '', host: hostname() }
  for (let tries = 0; ; tries++) {
    try {
      writeFileSync(file, JSON.stringify(me), { flag: 'wx', mode: 0o600 })
      break
    } catch (reason) {
      if ((reason as NodeJS.ErrnoException).code !== 'EEXIST' || tries > 3) throw reason
      const holder = holderSchema.safeParse(parsedJson(readFileSync(file, 'utf8'))).data
      if (holder !== undefined && lives(holder, file))
        throw new FolderTaken(
          `Process ${holder.pid} on ${holder.host} already keeps what waits in ${folder}. Give this one a folder of its own: SITE_SPOOL=…`,
        )
      rmSync(file, { force: true })
    }
  }
  const touch = setInterval(() => {
    const now = new Date()
    try {
      utimesSync(file, now, now)
    } catch {
      // A disk that cannot be written to says so where something is kept.
    }
  }, TOUCH_EVERY)
  touch.unref()
  return () => {
    clearInterval(touch)
    rmSync(file, { force: true })
  }
}

function lives({ pid, begun, host }: Holder, file: string): boolean {
  if (host !== hostname()) return Date.now() - statSync(file).mtimeMs < SILENCE
  return begunAt(pid) === begun
}

/** When a process of this machine began, in ticks since the machine did (proc(5), stat, field 22); `null` where it is gone. */
function begunAt(pid: number): string | null {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8')
    return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19] ?? null
  } catch {
    return null
  }
}
