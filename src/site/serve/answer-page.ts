import type { IncomingHttpHeaders } from 'node:http'
import fresh from 'fresh'
import { decide, type Decision, type Visitor } from '@/core/decide'
import type { RoundId, TestId, VersionId } from '@/core/ids'
import { UNCOUNTED, type Chunk } from '../compile/chunk'
import type { CompiledPage, CompiledSite } from '../compile/compile'
import { coded } from './coding'
import { visitAfter, writeKept, writeVisit, writeVisitor } from './cookies'
import { recognise } from './recognise'

export interface Assignment {
  readonly visitor: string
  readonly test: TestId
  readonly round: RoundId
  readonly version: VersionId
}

export interface PageAnswer {
  readonly status: 200 | 302 | 304
  /** Name, value, name, value: the form that Node sends without looking at it again. */
  readonly headers: readonly string[]
  readonly body: Buffer | null
  /** To be noted, off the visitor's path. */
  readonly assignments: readonly Assignment[]
}

const NOTHING: readonly never[] = []
const HTML = 'text/html; charset=utf-8'

/** One request for a page, from memory alone: who is it, what is decided, join the bytes. */
export function answerPage(
  site: CompiledSite,
  page: CompiledPage,
  headers: IncomingHttpHeaders,
  campaign: string | null,
  now: number,
  secure = false,
): PageAnswer {
  const minute = Math.floor(now / 60_000)
  const { visitor, visit, carried, isNew } = recognise(
    headers,
    minute,
    page.ladders.length === 0 ? null : (id) => site.byId.get(id)?.pageType,
    campaign,
  )
  const decisions = page.draws.length + page.ladders.length === 0 ? NOTHING : decide(page, visitor)
  const assignments = page.draws.length === 0 ? NOTHING : assignmentsOf(page, visitor, carried, decisions)

  const lines = ['content-type', HTML]
  if (visitor.id !== null && visitor.leftOut === null) {
    if (isNew) lines.push('set-cookie', writeVisitor(visitor.id, secure))
    const after = visitAfter(visit, page.document, minute, campaign)
    if (visit === null || after.lastAt !== visit.lastAt || after.pages !== visit.pages)
      lines.push('set-cookie', writeVisit(after, secure))
    if (assignments.some(({ test, version }) => visitor.kept.get(test) !== version))
      lines.push('set-cookie', writeKept({ kept: keptAfter(visitor.kept, assignments), carried }, secure))
  }
  const target = routeFor(page, decisions)
  if (target !== null)
    return { status: 302, headers: [...lines, 'cache-control', 'private, no-store', 'location', target], body: null, assignments }
  if (page.etag === null) {
    const sent = coded(assemble(page.chunks, decisions), HTML, headers['accept-encoding'], null)
    return {
      status: 200,
      headers: [...lines, ...Object.entries(sent.headers).flat(), 'cache-control', 'private, no-store'],
      body: sent.body,
      assignments,
    }
  }
  const sent = coded(assemble(page.chunks, decisions), HTML, headers['accept-encoding'], page.etag)
  lines.push('cache-control', 'private, no-cache', ...Object.entries(sent.headers).flat(), 'etag', sent.etag ?? page.etag)
  const unchanged = fresh(headers, { etag: sent.etag ?? page.etag })
  return { status: unchanged ? 304 : 200, headers: lines, body: unchanged ? null : sent.body, assignments }
}

/** Where this visitor is sent instead of being shown this page. The rest of the address goes along. */
function routeFor({ route, routes }: CompiledPage, decisions: readonly Decision[]): string | null {
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
  for (const { test, round } of page.draws) {
    const decision = decisions.find(({ key }) => key === test)
    if (decision?.counted && !carried.has(test)) assignments.push({ visitor: visitor.id, test, round, version: decision.version })
  }
  return assignments
}

/** The newest last, so that the oldest is dropped when there are too many. */
function keptAfter(before: Visitor['kept'], assignments: readonly Assignment[]): Map<TestId, VersionId> {
  const kept = new Map(before)
  for (const { test, version } of assignments) {
    kept.delete(test)
    kept.set(test, version)
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
