import { randomFillSync, randomInt } from 'node:crypto'
import type { IncomingHttpHeaders } from 'node:http'
import { stranger, type Device, type LeftOut, type Moment, type SeenPage, type Visitor } from '@/core/decide'
import { sourceOf } from '@/core/events'
import type { DocumentId, GoalId, TestId } from '@/core/ids'
import { agentOf } from './agent'
import { cookieIn, readKept, readVisit, readVisitorId, type Came, type Past, type Visit } from './cookies'

export interface Recognised {
  readonly visitor: Visitor
  readonly visit: Visit | null
  /** Tests of which a newsletter brought the version here. */
  readonly carried: ReadonlySet<TestId>
  readonly isNew: boolean
}

/** What rules on a page can ask for beyond the request itself; each is only found out where some rule may. */
export interface Asked {
  pageTypeOf(page: DocumentId): string | undefined
  regionOf(): string | null
  moment(): Moment
  past(): Past | null
  reached(visitor: string): readonly GoalId[]
}

/** Tells one view from another; where it begins says nothing of when. */
let views = randomInt(2 ** 40)

/**
 * Who is asking, from the request alone. On a page without rules, nothing that only rules ask for is found out.
 *
 * @param byVisits whether anything is drawn for a visit or a view alone
 */
export function recognise(
  headers: IncomingHttpHeaders,
  minute: number,
  leftOut: LeftOut | null,
  asked: Asked | null,
  came: () => Came,
  byVisits = true,
): Recognised {
  const { cookie } = headers
  const known = readVisitorId(cookieIn(cookie, 'visitor'))
  const { kept: all, carried, ofVisit } = readKept(cookieIn(cookie, 'kept'))
  const visit = readVisit(cookieIn(cookie, 'visit'), minute)
  // What was kept for a visit is gone with it.
  const kept = visit === null && ofVisit.size > 0 ? new Map([...all].filter(([test]) => !ofVisit.has(test))) : all
  const facts = asked === null ? stranger : factsOf(headers, known, visit, asked, came)
  const visitor: Visitor = {
    id: leftOut === 'noConsent' || leftOut === 'withheld' ? null : (known ?? newVisitorId()),
    visit: byVisits ? String(visit?.startedAt ?? minute) : '',
    view: byVisits ? String(++views) : '',
    device: deviceFor(headers),
    visits: facts.visits,
    beginning: facts.beginning,
    language: facts.language,
    region: facts.region,
    moment: facts.moment,
    pagesSeen: facts.pagesSeen,
    pagesEver: facts.pagesEver,
    goalsReached: facts.goalsReached,
    kept,
    leftOut,
  }
  return { visitor, visit, carried, isNew: known === null }
}

/** What only rules ask for. */
type Facts = Omit<Visitor, 'id' | 'visit' | 'view' | 'device' | 'kept' | 'leftOut'>

function factsOf(headers: IncomingHttpHeaders, known: string | null, visit: Visit | null, asked: Asked, came: () => Came): Facts {
  const { utm, referrer } = visit ?? came()
  const before = known === null ? null : asked.past()
  const seen = (pages: readonly DocumentId[]): SeenPage[] =>
    pages.map((page) => ({ page, pageType: asked.pageTypeOf(page) ?? '' }))
  const pagesSeen = visit === null ? [] : visit.pages
  return {
    visits: visitsNow(known, visit, before),
    beginning: { source: sourceOf(referrer, utm.source), utm, referrer },
    language: languageFor(headers),
    region: asked.regionOf(),
    moment: asked.moment(),
    goalsReached: known === null ? [] : asked.reached(known),
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
