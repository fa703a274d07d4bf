import type { IncomingMessage } from 'node:http'
import type { Round } from '@/core/experiment'
import type { TestId } from '@/core/ids'
import type { Release } from '@/core/release'

/** What a link from the studio lets its bearer see. */
export interface Look {
  readonly tests: readonly TestId[]
  readonly rounds: readonly Round[]
  readonly until: Date
}

export interface Opening {
  now(): number
  /** `null` where there is no such link, or not any more. */
  openLook(key: string): Promise<Look | null>
  /** Seconds until whoever asks for links that are none may ask again; 0 where they may now. */
  wait(request: IncomingMessage): number
}

const FRESH = 10_000
const KEPT = 40
const keyPattern = /^[\w-]{22}$/

/** Links by their keys, each asked for at most every ten seconds. @returns `null` where a link is not valid */
export function openingLooks(parts: Opening): (key: string | undefined, request: IncomingMessage) => Promise<Look | null> {
  const looks = new Map<string, { readonly at: number; readonly look: Look | null }>()
  return async (key, request) => {
    if (key === undefined || !keyPattern.test(key)) return null
    const known = looks.get(key)
    if (known !== undefined && parts.now() - known.at < FRESH) return known.look
    // Only the database knows what is no link: it is not asked for more than anybody needs.
    if (parts.wait(request) > 0) return null
    const look = await parts.openLook(key)
    remember(looks, key, { at: parts.now(), look })
    return look
  }
}

/** The site with what a link shows in the place of what is live. */
export function withLook(release: Release, { rounds }: Look): Release {
  const replaced = new Set(rounds.map(({ test }) => test))
  const live = release.rounds.filter(({ test }) => !replaced.has(test))
  return { ...release, rounds: [...live, ...rounds.map((round) => ({ ...round, paused: false }))] }
}

/** The newest of so many. */
export function remember<Value>(into: Map<string, Value>, key: string, value: Value): void {
  const [oldest] = into.keys()
  if (into.size >= KEPT && oldest !== undefined) into.delete(oldest)
  into.set(key, value)
}
