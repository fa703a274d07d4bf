import type { IncomingHttpHeaders } from 'node:http'
import { decide, type Decision } from '@/core/decide'
import type { DocumentId, RoundId, TestId, VersionId } from '@/core/ids'
import { UNCOUNTED, type Chunk, type CompiledPage, type CompiledSite } from '../compile/compile'
import { visitAfter, writeKept, writeVisit, writeVisitor } from './cookies'
import { recognise } from './recognise'

export interface Assignment {
  readonly visitor: string
  readonly round: RoundId
  readonly version: VersionId
}

export interface PageAnswer {
  readonly status: 200 | 304
  readonly headers: Record<string, string | string[]>
  readonly body: Buffer | null
  /** To be noted, off the visitor's path. */
  readonly assignments: readonly Assignment[]
}

/** One request for a page, from memory alone: who is it, what is decided, join the bytes. */
export function answerPage(
  site: CompiledSite,
  page: CompiledPage,
  headers: IncomingHttpHeaders,
  campaign: string | null,
  now: number,
): PageAnswer {
  const minute = Math.floor(now / 60_000)
  const { visitor, visit, isNew } = recognise(headers, minute, (id: DocumentId) => site.byId.get(id)?.pageType, campaign)
  const cookies: string[] = []
  const kept = new Map(visitor.kept)
  const assignments: Assignment[] = []

  const decisions = page.etag === null ? decide(page, visitor) : []
  for (const draw of page.draws) {
    const decision = decisions.find(({ key }) => key === draw.test)
    if (decision === undefined || !decision.counted || visitor.id === null) continue
    assignments.push({ visitor: visitor.id, round: draw.round, version: decision.version })
    if (kept.get(draw.test) !== decision.version) kept.delete(draw.test)
    kept.set(draw.test, decision.version)
  }
  if (visitor.id !== null && visitor.leftOut === null) {
    if (isNew) cookies.push(writeVisitor(visitor.id))
    const after = visitAfter(visit, page.document, minute, campaign)
    if (visit === null || after.lastAt !== visit.lastAt || after.pages !== visit.pages) cookies.push(writeVisit(after))
    if (assignments.some(({ version }, index) => visitor.kept.get(page.draws[index]?.test ?? ('' as TestId)) !== version))
      cookies.push(writeKept(kept))
  }

  const answer: Record<string, string | string[]> = { 'content-type': 'text/html; charset=utf-8' }
  if (cookies.length > 0) answer['set-cookie'] = cookies
  if (page.etag !== null) {
    answer['cache-control'] = 'private, no-cache'
    answer.etag = page.etag
    if (headers['if-none-match'] === page.etag) return { status: 304, headers: answer, body: null, assignments }
  } else answer['cache-control'] = 'private, no-store'
  return { status: 200, headers: answer, body: assemble(page.chunks, decisions), assignments }
}

export function assemble(chunks: readonly Chunk[], decisions: readonly Decision[]): Buffer {
  const only = chunks[0]
  if (chunks.length === 1 && Buffer.isBuffer(only)) return only
  const parts: Buffer[] = []
  collect(chunks, decisions, parts)
  return Buffer.concat(parts)
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
