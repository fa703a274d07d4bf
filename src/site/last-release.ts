import { mkdirSync, readFileSync } from 'node:fs'
import { rename, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { readReleaseParts, type Release } from '@/core/release'

const fileIn = (folder: string) => join(folder, 'release.json')

/** Keeps what is being served, so that a process that starts while the database is away has something to serve. */
export async function keepRelease(folder: string, release: Release): Promise<void> {
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  const unfinished = `${fileIn(folder)}.new`
  await writeFile(unfinished, JSON.stringify(release), { mode: 0o600 })
  await rename(unfinished, fileIn(folder))
}

/** What was served last; `null` where nothing is kept or it cannot be read. */
export function keptRelease(folder: string): ReturnType<typeof readReleaseParts> {
  try {
    return readReleaseParts(JSON.parse(readFileSync(fileIn(folder), 'utf8')))
  } catch {
    return null
  }
}
