import { randomFillSync, randomInt } from 'node:crypto'
import type { IncomingHttpHeaders } from 'node:http'
import { stranger, type Device, type LeftOut, type Moment, type SeenPage, type Visitor } from '@/core/decide'
import { sourceOf } from '@/core/events'
import type { DocumentId, GoalId, TestId } from '@/core/ids'
import { agentOf } from './agent'
import { readCookies, readKept, readVisit, readVisitorId, type Came, type Past, type Visit } from './cookies'

export interface Recognised {
  readonly visitor: Visitor
  readonly visit: Visit | null
  /** Tests of which a newsletter brought the version here. */
  readonly carried: ReadonlySet<TestId>
  readonly isNew: boolean
  readonly cookies: ReadonlyMap<string, string>
}

/** What rules on a page can ask for beyond the request itself; each is only found out where some rule may. */
export interface Asked {
  readonly pageTypeOf: (page: DocumentId) => string | undefined
  readonly regionOf: () => string | null
  readonly moment: () => Moment
  readonly past: () => Past | null
  readonly reached: (visitor: string) => readonly GoalId[]
}

/** Tells one view from another; where it begins says nothing of when. */
let views = randomInt(2 ** 40)

/** Who is asking, from the request alone. On a page without rules, nothing that only rules ask for is found out. */
export function recognise(
  headers: IncomingHttpHeaders,
  minute: number,
  leftOut: LeftOut | null,
  asked: Asked | null,
  came: () => Came,
): Recognised {
  const cookies = readCookies(headers.cookie)
  const agent = headers['user-agent'] ?? ''
  const known = readVisitorId(cookies.get('visitor'))
  const { kept: all, carried, ofVisit } = readKept(cookies.get('kept'))
  const visit = readVisit(cookies.get('visit'), minute)
  // What was kept for a visit is gone with it.
  const kept = visit === null && ofVisit.size > 0 ? new Map([...all].filter(([test]) => !ofVisit.has(test))) : all
  const visitor: Visitor = {
    ...stranger,
    id: leftOut === 'noConsent' || leftOut === 'withheld' ? null : (known ?? newVisitorId()),
    device: agentOf(agent).device,
    visit: String(visit?.startedAt ?? minute),
    view: String(++views),
    kept,
    leftOut,
  }
  return {
    visitor: asked === null ? visitor : { ...visitor, ...factsOf(headers, known, visit, asked, came) },
    visit,
    carried,
    isNew: known === null,
    cookies,
  }
}

function factsOf(
  headers: IncomingHttpHeaders,
  known: string | null,
  visit: Visit | null,
  { pageTypeOf, regionOf, moment, past, reached }: Asked,
  came: () => Came,
): Partial<Visitor> {
  const { utm, referrer } = visit ?? came()
  const before = known === null ? null : past()
  const seen = (pages: readonly DocumentId[]): SeenPage[] => pages.map((page) => ({ page, pageType: pageTypeOf(page) ?? '' }))
  const pagesSeen = visit === null ? [] : visit.pages
  return {
    visits: visitsNow(known, visit, before),
    beginning: { source: sourceOf(referrer, utm.source), utm, referrer },
    language: languageFor(headers),
    region: regionOf(),
    moment: moment(),
    goalsReached: known === null ? [] : reached(known),
    pagesSeen: seen(pagesSeen),
    pagesEver: seen([...new Set([...(before?.pages ?? []), ...pagesSeen])]),
  }
}

/** Somebody who is known and of whom no more is remembered has been here before, unless this is the first visit still. */
export function visitsNow(known: string | null, visit: Visit | null, past: Past | null): number {
  if (known === null) return 1
  if (past !== null) return visit === null ? past.visits + 1 : past.visits
  return visit === null ? 2 : 1
}

export function deviceFor(headers: IncomingHttpHeaders): Device {
  return agentOf(headers['user-agent'] ?? '').device
}

/** The language that a browser asks for first (RFC 9110, 12.5.4), without its region; `null` where it asks for none. */
export function languageFor(headers: IncomingHttpHeaders): string | null {
  return /^\s*([a-z]{2,3})(?![a-z])/i.exec(headers['accept-language'] ?? '')?.[1]?.toLowerCase() ?? null
}

/** Random bytes are drawn for many visitors at once: a system call for each would cost more than the page. */
const pool = Buffer.alloc(16 * 256)
let drawn = pool.length
export function newVisitorId(): string {
  if (drawn === pool.length) {
    randomFillSync(pool)
    drawn = 0
  }
  drawn += 16
  return pool.toString('hex', drawn - 16, drawn)
}
