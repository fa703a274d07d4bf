import type { IncomingHttpHeaders } from 'node:http'
import fresh from 'fresh'
import {
  decide,
  noUtm,
  unitOf,
  type Decision,
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
import { coded, codedFromParts, type Coded } from './coding'
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
import { keptAsOf, newsOf, NO_NEWS, type Given, type News } from './given'
import { answerTo } from './left-out'
import { recognise, visitsNow, type Asked, type Recognised } from './recognise'

export interface PageAnswer {
  readonly status: 200 | 302 | 304
  /** Name, value, name, value: the form that Node sends without looking at it again. */
  readonly headers: readonly string[]
  readonly body: Buffer | null
  /** Why whoever asked is left out, if they are. */
  readonly leftOut: LeftOut | null
  /** To be written down, off the visitor’s path. */
  readonly news: News
}

const DAY = 86_400_000
const NOTHING: readonly never[] = []
const HTML = 'text/html; charset=utf-8'
/** Whoever has not answered yet is asked. */
const ASKS: Decision = { key: CONSENT, version: ASKED as VersionId, counted: true, reason: { code: 'noRuleMatched' } }

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
  const decided = page.draws.length + page.ladders.length === 0 ? NOTHING : decide(page, visitor, unit)
  const decisions = leftOut === 'withheld' && answerTo(headers.cookie) === null ? [...decided, ASKS] : decided
  const news =
    !page.counts || unit === null
      ? NO_NEWS
      : newsOf(page, who, decided, unit, { isNoted: request.isNoted, segmentsOf: site.segmentsOf })

  const lines = ['content-type', HTML]
  if (visitor.id !== null && leftOut === null) remember(site, page, request, who, news.toKeep, lines)
  const target = routeFor(page, decisions)
  if (target !== null) {
    lines.push('cache-control', 'private, no-store', 'location', target)
    return { status: 302, headers: lines, body: null, leftOut, news }
  }
  const accepts = headers['accept-encoding']
  if (page.etag === null) {
    const { body, said } = sentAs(page, decisions, accepts)
    lines.push('cache-control', 'private, no-store', ...said.lines)
    return { status: 200, headers: lines, body, leftOut, news }
  }
  const sent = sentAs(page, decisions, accepts)
  const etag = sent.etag ?? page.etag
  lines.push('cache-control', 'private, no-cache', ...sent.said.lines, 'etag', etag)
  const unchanged = fresh(headers, { etag })
  return { status: unchanged ? 304 : 200, headers: lines, body: unchanged ? null : sent.body, leftOut, news }
}

function sentAs(page: CompiledPage, decisions: readonly Decision[], accepts: string | undefined): Coded {
  const assembly = assemblyOf(page.chunks)
  if (assembly.isOneOfFew) return coded(assembly.whole(decisions), HTML, accepts, page.etag)
  return codedFromParts({ plain: () => assembly.whole(decisions), inGzip: () => assembly.inGzip(decisions) }, accepts)
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

/** What a browser is given to keep, as lines of the answer: only what is not there already. */
function remember(
  site: CompiledSite,
  page: CompiledPage,
  request: PageRequest,
  { visitor, visit, carried, isNew }: Recognised,
  toKeep: readonly Given[],
  lines: string[],
): void {
  const { headers, now, secure } = request
  const minute = Math.floor(now / 60_000)
  const id = visitor.id ?? ''
  if (isNew) lines.push('set-cookie', writeVisitor(id, secure))
  const isNews = visit === null || (site.remembersPages && !visit.pages.includes(page.document))
  if (site.remembersVisits && isNews) {
    const before = isNew ? null : readPast(cookieIn(headers.cookie, 'past'), id, site.signer)
    const pages = before?.pages ?? []
    const more = site.remembersPages ? pagesWith(pages, page.document, Math.floor(now / DAY)) : pages
    const visits = visitsNow(isNew ? null : id, visit, before)
    lines.push('set-cookie', writePast({ visits, pages: more }, id, site.signer, secure))
  }
  if (visit?.lastAt !== minute || !visit.pages.includes(page.document))
    lines.push('set-cookie', writeVisit(visitAfter(visit, page.document, minute, visit ?? cameBy(request)), secure))
  const reached = site.goalsHeard.length === 0 ? NOTHING : readReached(cookieIn(headers.cookie, 'reached'), id, site.signer)
  const heard = heardSince(reached, id, site, request)
  if (heard.length > 0) {
    const asked = reached.filter((goal) => site.goalsAsked.includes(goal))
    lines.push('set-cookie', writeReached([...asked, ...heard], id, site.signer, secure))
  }
  if (toKeep.length === 0) return
  const kept = keptAfter(visitor.kept, toKeep)
  lines.push('set-cookie', writeKept({ kept, carried, ofVisit: site.keptForVisit }, secure))
}

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
export function routeFor({ route, routes }: CompiledPage, decisions: readonly Decision[]): string | null {
  for (const { key, to } of routes) {
    const decision = decisions.find((one) => one.key === key)
    if (decision === undefined || !decision.counted) continue
    const target = to.get(decision.version)
    if (target !== undefined) return target
  }
  return route
}
