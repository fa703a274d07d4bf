import { randomUUID } from 'node:crypto'
import type { IncomingMessage, ServerResponse } from 'node:http'
import type { LeftOut } from '@/core/decide'
import type { StampedEvent } from '@/core/events'
import type { RegionFinder } from '@/serving/regions'
import { policy } from '../answers'
import type { GroupCommit } from '../collect/group-commit'
import type { CompiledPage, CompiledSite } from '../compile/compile'
import { answerPage, type Assignment } from './answer-page'

const NOTED_LIMIT = 100_000

interface PageParts {
  current(): CompiledSite | null
  now(): number
  log(reason: unknown): void
  readonly secure: boolean
  addressOf(request: IncomingMessage): string
  readonly regionOf: RegionFinder
  /** Told of each page that was shown to somebody who is left out. */
  noteLeftOut?(reason: LeftOut): void
  /** Answers whoever looks at versions by a link from the studio. */
  readonly see?: (request: IncomingMessage, response: ServerResponse, site: CompiledSite, page: CompiledPage) => boolean
  /** On every answer, names and values in turn; what may run comes first. */
  readonly securityLines: readonly string[]
}

/** Answers a request for a page from memory; `false` where it is for something else. */
export type ServePage = (request: IncomingMessage, response: ServerResponse) => boolean

export function servingPages(parts: PageParts, commits: GroupCommit): ServePage {
  const { secure, securityLines } = parts
  const note = noting(commits, parts)
  return (request, response) => {
    const compiled = parts.current()
    const url = request.url ?? '/'
    if (compiled === null || (request.method !== 'GET' && request.method !== 'HEAD')) return false
    const mark = url.indexOf('?')
    const path = mark < 0 ? url : url.slice(0, mark)
    const page = compiled.pages.get(path) ?? compiled.pages.get(path.replace(/(.)\/$/, '$1'))
    if (page === undefined) {
      const moved = compiled.redirects.get(path)
      if (moved === undefined) return false
      response.writeHead(301, [...securityLines, 'location', moved + (mark < 0 ? '' : url.slice(mark)), 'content-length', '0'])
      response.end()
      return true
    }
    if (parts.see?.(request, response, compiled, page) === true) {
      parts.noteLeftOut?.('looking')
      return true
    }
    const { headers: received } = request
    const answer = answerPage(compiled, page, {
      headers: received,
      query: mark < 0 ? '' : url.slice(mark),
      now: parts.now(),
      secure,
      address: () => parts.addressOf(request),
      regionOf: parts.regionOf,
    })
    note(answer.assignments)
    if (answer.leftOut !== null) parts.noteLeftOut?.(answer.leftOut)
    const security =
      page.scripts.length === 0 ? securityLines : ['content-security-policy', policy(page.scripts), ...securityLines.slice(2)]
    const headers = answer.status === 302 && mark >= 0 ? withRest(answer.headers, url.slice(mark)) : answer.headers
    // What is not sent again has no length of its own.
    const length = answer.status === 304 ? [] : ['content-length', String(answer.body?.length ?? 0)]
    response.writeHead(answer.status, [...security, ...headers, ...length])
    response.end(answer.body === null || request.method === 'HEAD' ? undefined : answer.body)
    return true
  }
}

/** Writes down who was given what, off the visitor's path. */
function noting(commits: GroupCommit, parts: Pick<PageParts, 'now' | 'log'>): (assignments: readonly Assignment[]) => void {
  const noted = new Set<string>()
  /** Once for each visitor, round and version in this process is enough, or for each visit or view: more would count the same. */
  const keyOf = ({ visitor, round, version, unit }: Assignment) => visitor + round + version + unit
  return (assignments) => {
    if (assignments.every((one) => noted.has(keyOf(one)))) return
    const fresh = assignments.filter((one) => !noted.has(keyOf(one)))
    if (noted.size > NOTED_LIMIT) noted.clear()
    for (const one of fresh) noted.add(keyOf(one))
    const at = new Date(parts.now())
    const events = fresh.map(({ visitor, round, version }): StampedEvent => ({
      ...{ visitor, round, version },
      kind: 'assigned',
      id: randomUUID().replaceAll('-', ''),
      source: 0,
      at,
    }))
    // A page never fails, nor waits, because counting does. Forgotten here, it is noted again at the next view.
    commits.add(events).catch((reason) => {
      for (const one of fresh) noted.delete(keyOf(one))
      parts.log(reason)
    })
  }
}

/** All parameters of the address go along, before the place on the page where one is named. */
function withRest(headers: readonly string[], query: string): string[] {
  return headers.map((value, index) => {
    if (headers[index - 1] !== 'location' || index % 2 === 0) return value
    const [path = '', place] = value.split('#')
    return path + query + (place === undefined ? '' : `#${place}`)
  })
}
