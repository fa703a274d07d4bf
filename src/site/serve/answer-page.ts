import type { IncomingHttpHeaders } from 'node:http'
import fresh from 'fresh'
import {
  keptAsOf,
  noUtm,
  unitOf,
  type LeftOut,
  type Moment,
  type SeenPage,
  type Unit,
  type UtmField,
  type Visitor,
} from '@/core/decide'
import { testKeptAs } from '@/core/experiment'
import type { DocumentId, GoalId, TestId, VersionId } from '@/core/ids'
import { readUrl } from '@/core/url'
import type { CompiledPage, CompiledSite } from '../compile/compile'
import { ASKED, CONSENT } from '../compile/consent-notice'
import { assemblyOf } from './assemble'
import {
  cookieIn,
  readAbout,
  readPast,
  readReached,
  readVisitorId,
  visitAfter,
  writeKept,
  writePast,
  writeReached,
  writeVisit,
  writeVisitor,
  type Came,
  type Past,
  type PastPage,
} from './cookies'
import { newsOf, NO_NEWS, type News } from './given'
import { handsOf, type Given, type Shown } from './hands'
import { answerTo } from './left-out'
import { recognise, visitsNow, type Asked, type Recognised } from './recognise'
import { HTML } from './sent'

interface Answered {
  /** What the browser is given to keep, each as the value of its own header. */
  readonly cookies: readonly string[]
  /** All others but the length of the body: name, value, name, value. The same array wherever the same is said. */
  readonly headers: readonly string[]
  /** Why whoever asked is left out, if they are. */
  readonly leftOut: LeftOut | null
  /** To be written down, off the visitor’s path. */
  readonly news: News
}

export type PageAnswer = Answered &
  ({ readonly status: 200; readonly body: Buffer } | { readonly status: 302 | 304; readonly body: null })

const DAY = 86_400_000
const NOTHING: readonly never[] = []
/** Whoever has not answered yet is asked. */
const ASKS: Shown = { key: CONSENT, version: ASKED as VersionId, counted: true, reason: { code: 'noRuleMatched' } }

/** A request as far as a page depends on it. */
export interface PageRequest {
  readonly headers: IncomingHttpHeaders
  /** With its “?”; empty where the address has none. */
  readonly query: string
  /** Milliseconds since 1970. */
  readonly now: number
  readonly secure: boolean
  readonly address: () => string
  readonly regionOf: (address: string) => string | null
  /** Whether it is written down already that this unit was given what has this number. */
  readonly isNoted?: (number: number, unit: Unit) => boolean
  /** What they reached that no page could tell. */
  readonly heardOf?: (visitor: string) => readonly GoalId[]
}

/** One request for a page, from memory alone: who is it, what is decided, join the bytes. */
export function answerPage(site: CompiledSite, page: CompiledPage, request: PageRequest): PageAnswer {
  const { headers, now } = request
  const minute = Math.floor(now / 60_000)
  const leftOut = site.leavesOut(headers, request.address)
  const who = recognise(headers, minute, leftOut, new AskedOf(site, page, request), () => cameBy(request), page.byVisits)
  const { visitor } = who
  const unit = visitor.id === null ? null : unitOf(visitor.id)
  const hands = handsOf(page)
  const hand = hands.of(visitor, unit, who.carried)
  const decisions = leftOut === 'withheld' && answerTo(headers.cookie) === null ? [...hand.decisions, ASKS] : hand.decisions
  const news =
    !page.counts || unit === null
      ? NO_NEWS
      : newsOf(page, who, hand, unit, {
          areKept: hands.areKept(visitor),
          isNoted: request.isNoted,
          segmentsOf: site.segmentsOf,
        })

  const cookies = visitor.id !== null && leftOut === null ? remembering(site, page, request, who, news.toKeep) : NOTHING
  const target = routeFor(page, decisions)
  if (target !== null) {
    const headers = ['content-type', HTML, 'cache-control', 'private, no-store', 'location', target]
    return { status: 302, cookies, headers, body: null, leftOut, news }
  }
  const sent = assemblyOf(page.chunks).sent(decisions, headers['accept-encoding'], page.etag)
  if (sent.etag !== null && fresh(headers, { etag: sent.etag }))
    return { status: 304, cookies, headers: sent.headers, body: null, leftOut, news }
  return { status: 200, cookies, headers: sent.headers, body: sent.body, leftOut, news }
}

/** What is only found out where a rule asks. */
class AskedOf implements Asked {
  constructor(
    private readonly site: CompiledSite,
    private readonly page: CompiledPage,
    private readonly request: PageRequest,
  ) {}

  pageTypeOf(id: DocumentId): string | undefined {
    return this.site.byId.get(id)?.pageType
  }

  regionOf(): string | null {
    return this.request.regionOf(this.request.address())
  }

  moment(): Moment {
    return this.site.momentOf(this.request.now)
  }

  at(): SeenPage {
    return { page: this.page.document, pageType: this.page.pageType }
  }

  past(): Past | null {
    return pastOf(this.request.headers, this.site)
  }

  today(): number {
    return Math.floor(this.request.now / DAY)
  }

  reached(visitor: string): readonly GoalId[] {
    const kept = readReached(cookieIn(this.request.headers.cookie, 'reached'), visitor, this.site.signer)
    const news = heardSince(kept, visitor, this.site, this.request)
    return news.length === 0 ? kept : [...kept, ...news]
  }

  about(visitor: string): ReadonlyMap<string, string> {
    const { signer, release } = this.site
    return readAbout(cookieIn(this.request.headers.cookie, 'about'), visitor, signer, release.attributes)
  }
}

/** What a browser is given to keep, only what is not there already. */
function remembering(
  site: CompiledSite,
  page: CompiledPage,
  request: PageRequest,
  { visitor, visit, carried, isNew }: Recognised,
  toKeep: readonly Given[],
): string[] {
  const cookies: string[] = []
  const { headers, now, secure } = request
  const minute = Math.floor(now / 60_000)
  const id = visitor.id ?? ''
  if (isNew) cookies.push(writeVisitor(id, secure))
  const isNews = visit === null || (site.remembersPages && !visit.pages.includes(page.document))
  if (site.remembersVisits && isNews) {
    const before = isNew ? null : readPast(cookieIn(headers.cookie, 'past'), id, site.signer)
    const pages = before?.pages ?? []
    const more = site.remembersPages ? pagesWith(pages, page.document, Math.floor(now / DAY)) : pages
    const visits = visitsNow(isNew ? null : id, visit, before)
    cookies.push(writePast({ visits, pages: more }, id, site.signer, secure))
  }
  if (visit?.lastAt !== minute || !visit.pages.includes(page.document))
    cookies.push(writeVisit(visitAfter(visit, page.document, minute, visit ?? cameBy(request)), secure))
  const reached = site.goalsHeard.length === 0 ? NOTHING : readReached(cookieIn(headers.cookie, 'reached'), id, site.signer)
  const heard = heardSince(reached, id, site, request)
  if (heard.length > 0) {
    const asked = reached.filter((goal) => site.goalsAsked.includes(goal))
    cookies.push(writeReached([...asked, ...heard], id, site.signer, secure))
  }
  if (toKeep.length === 0) return cookies
  if (visitor.kept.size === 0 && carried.size === 0) cookies.push(firstKept(toKeep, secure))
  else cookies.push(writeKept({ kept: keptAfter(visitor.kept, toKeep), carried, ofVisit: site.keptForVisit }, secure))
  return cookies
}

/** What a browser is given that keeps nothing yet: the same words wherever a page gives the same, so they are written once. */
function firstKept(toKeep: readonly Given[], secure: boolean): string {
  const known = secure ? firstKepts.overTls : firstKepts.plain
  const before = known.get(toKeep)
  if (before !== undefined) return before
  const draws = toKeep.flatMap(({ draw }) => draw ?? [])
  const ofVisit = new Set(draws.filter(({ keeping }) => keeping === 'visit').map(keptAsOf))
  const written = writeKept({ kept: keptAfter(NONE_KEPT, toKeep), carried: new Set(), ofVisit }, secure)
  known.set(toKeep, written)
  return written
}
const firstKepts = { plain: new WeakMap<readonly Given[], string>(), overTls: new WeakMap<readonly Given[], string>() }
const NONE_KEPT: Visitor['kept'] = new Map()

/** What some rule asks for that a visitor has reached and their browser does not know. */
function heardSince(
  kept: readonly GoalId[],
  visitor: string,
  { goalsHeard }: CompiledSite,
  { heardOf }: PageRequest,
): readonly GoalId[] {
  if (goalsHeard.length === 0 || heardOf === undefined) return NOTHING
  return heardOf(visitor).filter((goal) => goalsHeard.includes(goal) && !kept.includes(goal))
}

/** The newest last; in a visit a page is seen once. */
function pagesWith(pages: readonly PastPage[], page: DocumentId, day: number): PastPage[] {
  const before = pages.find((one) => one.page === page)
  return [...pages.filter((one) => one !== before), { page, visits: (before?.visits ?? 0) + 1, day }]
}

/** The newest last, so that the oldest is dropped when there are too many. */
function keptAfter(before: Visitor['kept'], toKeep: readonly Given[]): Map<TestId, VersionId> {
  const kept = new Map(before)
  for (const { draw, version } of toKeep) {
    if (draw === null) continue
    for (const key of before.keys()) if (testKeptAs(key) === draw.test) kept.delete(key)
    kept.set(keptAsOf(draw), version)
  }
  return kept
}

/** The marks of the address, and the page before where it is another site’s. */
function cameBy({ headers, query }: PageRequest): Came {
  const marks = query === '' ? null : new URLSearchParams(query)
  const mark = (field: UtmField) => marks?.get(`utm_${field}`) ?? ''
  const from = headers.referer === undefined ? '' : (readUrl(headers.referer)?.host ?? '')
  return {
    utm:
      marks === null
        ? noUtm
        : {
            source: mark('source'),
            medium: mark('medium'),
            campaign: mark('campaign'),
            term: mark('term'),
            content: mark('content'),
          },
    referrer: from === (headers.host ?? '') ? '' : from,
  }
}

function pastOf(headers: IncomingHttpHeaders, site: CompiledSite): Past | null {
  const visitor = readVisitorId(cookieIn(headers.cookie, 'visitor'))
  return visitor === null ? null : readPast(cookieIn(headers.cookie, 'past'), visitor, site.signer)
}

/** Where this visitor is sent instead of being shown this page. The rest of the address goes along. */
export function routeFor({ route, routes }: CompiledPage, decisions: readonly Shown[]): string | null {
  for (const { key, to } of routes) {
    const decision = decisions.find((one) => one.key === key)
    if (decision === undefined || !decision.counted) continue
    const target = to.get(decision.version)
    if (target !== undefined) return target
  }
  return route
}
