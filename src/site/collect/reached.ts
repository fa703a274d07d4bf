import type { VisitorEvent } from '@/core/events'
import { libraryOf, reaches } from '@/core/goals'
import type { CompiledSite } from '../compile/compile'
import { cookieIn, readReached, writeReached } from '../serve/cookies'

interface Who {
  readonly visitor: string
  /** What their browser sent. */
  readonly cookie: string | undefined
  readonly secure?: boolean | undefined
}

/**
 * What a browser is told when something was done: which of the goals that some rule asks for are reached with it, and were
 * before.
 *
 * @returns the line of its cookie; `null` where nothing is new
 */
export function reachedBy(
  events: readonly VisitorEvent[],
  { goalsAsked, release, signer }: CompiledSite,
  { visitor, cookie, secure }: Who,
): string | null {
  if (goalsAsked.length === 0) return null
  const before = readReached(cookieIn(cookie, 'reached'), visitor, signer)
  const library = libraryOf(release.goals)
  const news = goalsAsked.filter((id) => {
    const goal = library.get(id)
    return goal !== undefined && !before.includes(id) && events.some((event) => reaches(goal, event, library))
  })
  if (news.length === 0) return null
  return writeReached([...before.filter((id) => goalsAsked.includes(id)), ...news], visitor, signer, secure)
}
