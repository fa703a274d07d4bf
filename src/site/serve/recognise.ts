import { randomFillSync, randomInt } from 'node:crypto'
import type { IncomingHttpHeaders } from 'node:http'
import type { Device, LeftOut, Moment, RememberedPage, SeenPage, Visitor } from '@/core/decide'
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

/** What rules can ask for beyond the request itself. */
export interface Asked {
  pageTypeOf(page: DocumentId): string | undefined
  regionOf(): string | null
  moment(): Moment
  /** The page that is asked for. */
  at(): SeenPage | null
  past(): Past | null
  /** Days since 1970, in UTC. */
  today(): number
  reached(visitor: string): readonly GoalId[]
  about(visitor: string): ReadonlyMap<string, string>
}

/** Tells one view from another; where it begins says nothing of when. */
let views = randomInt(2 ** 40)

/**
 * Who is asking, from the request alone.
 *
 * @param byVisits whether anything is drawn for a visit or a view alone
 */
export function recognise(
  headers: IncomingHttpHeaders,
  minute: number,
  leftOut: LeftOut | null,
  asked: Asked,
  came: () => Came,
  byVisits = true,
): Recognised {
  const { cookie } = headers
  const known = readVisitorId(cookieIn(cookie, 'visitor'))
  const { kept: all, carried, ofVisit } = readKept(cookieIn(cookie, 'kept'))
  const visit = readVisit(cookieIn(cookie, 'visit'), minute)
  const visitor = new WhoAsks(
    leftOut === 'noConsent' || leftOut === 'withheld' ? null : (known ?? newVisitorId()),
    byVisits ? String(visit?.startedAt ?? minute) : '',
    byVisits ? String(++views) : '',
    // What was kept for a visit is gone with it.
    visit === null && ofVisit.size > 0 ? new Map([...all].filter(([test]) => !ofVisit.has(test))) : all,
    leftOut,
    { headers, known, visit, asked, came },
  )
  return { visitor, visit, carried, isNew: known === null }
}

interface Request {
  readonly headers: IncomingHttpHeaders
  readonly known: string | null
  readonly visit: Visit | null
  readonly asked: Asked
  came(): Came
}

/** What only rules ask for is found out when the first one does. */
class WhoAsks implements Visitor {
  private foundDevice: Device | undefined
  private foundBeginning: Visitor['beginning'] | undefined
  private foundLanguage: string | null | undefined
  private foundRegion: string | null | undefined
  private foundPast: Past | null | undefined
  private foundSeen: readonly SeenPage[] | undefined
  private foundEver: readonly RememberedPage[] | undefined
  private foundGoals: readonly GoalId[] | undefined
  private foundAbout: ReadonlyMap<string, string> | undefined

  constructor(
    readonly id: string | null,
    readonly visit: string,
    readonly view: string,
    readonly kept: Visitor['kept'],
    readonly leftOut: LeftOut | null,
    private readonly request: Request,
  ) {}

  get device(): Device {
    return (this.foundDevice ??= deviceFor(this.request.headers))
  }

  get beginning(): Visitor['beginning'] {
    if (this.foundBeginning !== undefined) return this.foundBeginning
    const { utm, referrer } = this.request.visit ?? this.request.came()
    return (this.foundBeginning = { source: sourceOf(referrer, utm.source), utm, referrer })
  }

  get visits(): number {
    return visitsNow(this.request.known, this.request.visit, this.past)
  }

  get language(): string | null {
    return this.foundLanguage === undefined ? (this.foundLanguage = languageFor(this.request.headers)) : this.foundLanguage
  }

  get region(): string | null {
    return this.foundRegion === undefined ? (this.foundRegion = this.request.asked.regionOf()) : this.foundRegion
  }

  get moment(): Moment {
    return this.request.asked.moment()
  }

  get goalsReached(): readonly GoalId[] {
    const { known, asked } = this.request
    return (this.foundGoals ??= known === null ? [] : asked.reached(known))
  }

  get attributes(): ReadonlyMap<string, string> {
    const { known, asked } = this.request
    return (this.foundAbout ??= known === null ? new Map() : asked.about(known))
  }

  get at(): SeenPage | null {
    return this.request.asked.at()
  }

  get pagesSeen(): readonly SeenPage[] {
    return (this.foundSeen ??= (this.request.visit?.pages ?? []).map((page) => this.seen(page)))
  }

  get pagesEver(): readonly RememberedPage[] {
    return (this.foundEver ??= this.ever())
  }

  private ever(): RememberedPage[] {
    const today = this.request.asked.today()
    const now = this.request.visit?.pages ?? []
    const before = this.past?.pages ?? []
    return [
      ...before.map(({ page, visits, day }) => ({
        ...this.seen(page),
        visits,
        daysAgo: now.includes(page) ? 0 : Math.max(0, today - day),
      })),
      // What has been shown since the last cookie was written, or while no rule asked for it.
      ...now
        .filter((page) => !before.some((one) => one.page === page))
        .map((page) => ({ ...this.seen(page), visits: 1, daysAgo: 0 })),
    ]
  }

  private get past(): Past | null {
    const { known, asked } = this.request
    return this.foundPast === undefined ? (this.foundPast = known === null ? null : asked.past()) : this.foundPast
  }

  private seen(page: DocumentId): SeenPage {
    return { page, pageType: this.request.asked.pageTypeOf(page) ?? '' }
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
