import type { IncomingHttpHeaders } from 'node:http'
import fresh from 'fresh'
import { decide, noUtm, type Decision, type LeftOut, type UtmField, type Visitor } from '@/core/decide'
import { testKeptAs } from '@/core/experiment'
import type { RoundId, TestId, VersionId } from '@/core/ids'
import { readUrl } from '@/core/url'
import { UNCOUNTED, type Chunk } from '../compile/chunk'
import type { CompiledPage, CompiledSite } from '../compile/compile'
import { ASKED, CONSENT } from '../compile/consent-notice'
import { coded } from './coding'
import {
  readCookies,
  readPast,
  readReached,
  readVisitorId,
  visitAfter,
  writeKept,
  writePast,
  writeVisit,
  writeVisitor,
  type Came,
  type Past,
} from './cookies'
import { answerTo } from './left-out'
import { recognise, visitsNow, type Asked } from './recognise'

export interface Assignment {
  readonly visitor: string
  readonly test: TestId
  readonly round: RoundId
  readonly version: VersionId
  /** Under which name the browser keeps it. */
  readonly keptAs: TestId
  /** What is counted by itself: nothing but the visitor, the visit, or the view. */
  readonly unit: string
}

export interface PageAnswer {
  readonly status: 200 | 302 | 304
  /** Name, value, name, value: the form that Node sends without looking at it again. */
  readonly headers: readonly string[]
  readonly body: Buffer | null
  /** Why whoever asked is left out, if they are. */
  readonly leftOut: LeftOut | null
  /** To be noted, off the visitor's path. */
  readonly assignments: readonly Assignment[]
}

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
}

/** One request for a page, from memory alone: who is it, what is decided, join the bytes. */
export function answerPage(site: CompiledSite, page: CompiledPage, request: PageRequest): PageAnswer {
  const { headers, now, secure } = request
  const minute = Math.floor(now / 60_000)
  const came = () => cameBy(request)
  const leftOut = site.leavesOut(headers, request.address)
  const asked: Asked | null = page.asks
    ? {
        pageTypeOf: (id) => site.byId.get(id)?.pageType,
        regionOf: () => request.regionOf(request.address()),
        moment: () => site.momentOf(now),
        past: () => pastOf(headers, site),
        reached: (visitor) => readReached(readCookies(headers.cookie).get('reached'), visitor, site.signer),
      }
    : null
  const { visitor, visit, carried, isNew, cookies } = recognise(headers, minute, leftOut, asked, came)
  const decided = page.draws.length + page.ladders.length === 0 ? NOTHING : decide(page, visitor)
  const decisions = leftOut === 'withheld' && answerTo(headers.cookie) === null ? [...decided, ASKS] : decided
  const assignments = page.draws.length === 0 ? NOTHING : assignmentsOf(page, visitor, carried, decisions)

  const lines = ['content-type', HTML]
  if (visitor.id !== null && visitor.leftOut === null) {
    if (isNew) lines.push('set-cookie', writeVisitor(visitor.id, secure))
    const isNews = visit === null || (site.remembersPages && !visit.pages.includes(page.document))
    if (site.remembersVisits && isNews) {
      const before = isNew ? null : readPast(cookies.get('past'), visitor.id, site.signer)
      const pages = before?.pages ?? []
      const more = site.remembersPages ? [...pages.filter((one) => one !== page.document), page.document] : pages
      const visits = visitsNow(isNew ? null : visitor.id, visit, before)
      lines.push('set-cookie', writePast({ visits, pages: more }, visitor.id, site.signer, secure))
    }
    const after = visitAfter(visit, page.document, minute, visit ?? came())
    if (visit === null || after.lastAt !== visit.lastAt || after.pages !== visit.pages)
      lines.push('set-cookie', writeVisit(after, secure))
    const lasting = assignments.filter(({ test }) => keepingOf(page, test) !== 'view')
    if (lasting.some(({ keptAs, version }) => visitor.kept.get(keptAs) !== version)) {
      const ofVisit = new Set([...visitor.kept.keys(), ...lasting.map(({ keptAs }) => keptAs)].filter(site.keepsForVisit))
      lines.push('set-cookie', writeKept({ kept: keptAfter(visitor.kept, lasting), carried, ofVisit }, secure))
    }
  }
  const target = routeFor(page, decisions)
  if (target !== null)
    return {
      status: 302,
      headers: [...lines, 'cache-control', 'private, no-store', 'location', target],
      body: null,
      leftOut,
      assignments,
    }
  if (page.etag === null) {
    const sent = coded(assemble(page.chunks, decisions), HTML, headers['accept-encoding'], null)
    return {
      status: 200,
      headers: [...lines, ...Object.entries(sent.headers).flat(), 'cache-control', 'private, no-store'],
      body: sent.body,
      leftOut,
      assignments,
    }
  }
  const sent = coded(assemble(page.chunks, decisions), HTML, headers['accept-encoding'], page.etag)
  lines.push('cache-control', 'private, no-cache', ...Object.entries(sent.headers).flat(), 'etag', sent.etag ?? page.etag)
  const unchanged = fresh(headers, { etag: sent.etag ?? page.etag })
  return { status: unchanged ? 304 : 200, headers: lines, body: unchanged ? null : sent.body, leftOut, assignments }
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
  const cookies = readCookies(headers.cookie)
  const visitor = readVisitorId(cookies.get('visitor'))
  return visitor === null ? null : readPast(cookies.get('past'), visitor, site.signer)
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

function assignmentsOf(
  page: CompiledPage,
  visitor: Visitor,
  carried: ReadonlySet<TestId>,
  decisions: readonly Decision[],
): readonly Assignment[] {
  if (visitor.id === null) return NOTHING
  const assignments: Assignment[] = []
  for (const { test, round, keeping, keptAs = test } of page.draws) {
    const decision = decisions.find(({ key }) => key === test)
    if (!decision?.counted || carried.has(keptAs)) continue
    const unit = keeping === undefined ? '' : keeping === 'visit' ? visitor.visit : `${visitor.visit} ${visitor.view}`
    assignments.push({ visitor: visitor.id, test, round, version: decision.version, unit, keptAs })
  }
  return assignments
}

const keepingOf = ({ draws }: CompiledPage, test: TestId) => draws.find((draw) => draw.test === test)?.keeping

/** The newest last, so that the oldest is dropped when there are too many. */
function keptAfter(before: Visitor['kept'], assignments: readonly Assignment[]): Map<TestId, VersionId> {
  const kept = new Map(before)
  for (const { test, keptAs, version } of assignments) {
    for (const key of kept.keys()) if (testKeptAs(key) === test) kept.delete(key)
    kept.set(keptAs, version)
  }
  return kept
}

/** Whole pages by what was decided on them, for as many combinations as are worth their memory; the rest is joined anew. */
const assembled = new WeakMap<readonly Chunk[], Map<string, Buffer>>()
const COMBINATIONS_KEPT = 64

export function assemble(chunks: readonly Chunk[], decisions: readonly Decision[]): Buffer {
  const only = chunks[0]
  if (chunks.length === 1 && Buffer.isBuffer(only)) return only
  let combination = ''
  for (const { version, counted } of decisions) combination += counted ? `${version} ` : `${UNCOUNTED} `
  const known = assembled.get(chunks) ?? new Map<string, Buffer>()
  const before = known.get(combination)
  if (before !== undefined) return before
  const parts: Buffer[] = []
  collect(chunks, decisions, parts)
  const whole = Buffer.concat(parts)
  if (known.size < COMBINATIONS_KEPT) assembled.set(chunks, known.set(combination, whole))
  return whole
}

function collect(chunks: readonly Chunk[], decisions: readonly Decision[], into: Buffer[]): void {
  for (const chunk of chunks) {
    if (Buffer.isBuffer(chunk)) {
      into.push(chunk)
      continue
    }
    const decision = decisions.find(({ key }) => key === chunk.key)
    const version = decision?.counted ? decision.version : UNCOUNTED
    collect(chunk.alternatives.get(version) ?? chunk.alternatives.get(UNCOUNTED) ?? [], decisions, into)
  }
}
