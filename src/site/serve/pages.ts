import type { IncomingMessage, ServerResponse } from 'node:http'
import type { LeftOut, Unit } from '@/core/decide'
import type { StampedEvent } from '@/core/events'
import { asAsked, readAddress } from '@/core/page-address'
import { newEventId } from '@/serving/event-id'
import type { RegionFinder } from '@/serving/regions'
import { policy } from '../answers'
import type { GroupCommit } from '../collect/group-commit'
import type { GoalId } from '@/core/ids'
import type { CompiledPage, CompiledSite } from '../compile/compile'
import { answerPage } from './answer-page'
import type { News } from './given'
import { Noted } from './noted'
import { Straight } from './straight'

interface PageParts {
  current(): CompiledSite | null
  now(): number
  log(reason: unknown): void
  readonly secure: boolean
  addressOf(request: IncomingMessage): string
  readonly regionOf: RegionFinder
  /** Told of each page that was shown to somebody who is left out. */
  noteLeftOut?(reason: LeftOut): void
  readonly heardOf?: (visitor: string) => readonly GoalId[]
  /** Answers whoever looks at versions by a link from the studio. */
  readonly see?: (request: IncomingMessage, response: ServerResponse, site: CompiledSite, page: CompiledPage) => boolean
  /** On every answer, names and values in turn; what may run comes first. */
  readonly securityLines: readonly string[]
}

/** Answers a request for a page from memory; `false` where it is for something else. */
export type ServePage = (request: IncomingMessage, response: ServerResponse) => boolean

export function servingPages(parts: PageParts, commits: GroupCommit): ServePage {
  const { secure, securityLines } = parts
  const noting = new Noting(commits, parts)
  const straight = new Straight(securityLines)
  void straight.prove()
  return (request, response) => {
    const compiled = parts.current()
    const url = request.url ?? '/'
    if (compiled === null || (request.method !== 'GET' && request.method !== 'HEAD')) return false
    const mark = url.indexOf('?')
    const path = mark < 0 ? url : url.slice(0, mark)
    const page = compiled.pages.get(path) ?? askedOtherwise(compiled, path)
    if (page === undefined) {
      const moved = movedTo(compiled, path)
      if (moved === null) return false
      response.writeHead(301, [...securityLines, 'location', moved + (mark < 0 ? '' : url.slice(mark)), 'content-length', '0'])
      response.end()
      return true
    }
    if (parts.see?.(request, response, compiled, page) === true) {
      parts.noteLeftOut?.('looking')
      return true
    }
    const { headers: received } = request
    const now = parts.now()
    const answer = answerPage(compiled, page, {
      headers: received,
      query: mark < 0 ? '' : url.slice(mark),
      now,
      secure,
      address: () => parts.addressOf(request),
      regionOf: parts.regionOf,
      isNoted: noting.isNoted,
      ...(parts.heardOf === undefined ? {} : { heardOf: parts.heardOf }),
    })
    noting.take(answer.news)
    if (answer.leftOut !== null) parts.noteLeftOut?.(answer.leftOut)
    if (answer.status === 200 && page.scripts.length === 0 && straight.send(request, response, answer, now)) return true
    const security =
      page.scripts.length === 0 ? securityLines : ['content-security-policy', policy(page.scripts), ...securityLines.slice(2)]
    const headers = answer.status === 302 && mark >= 0 ? withRest(answer.headers, url.slice(mark)) : answer.headers
    const lines = security.concat(headers)
    for (const cookie of answer.cookies) lines.push('set-cookie', cookie)
    // What is not sent again has no length of its own.
    if (answer.status !== 304) lines.push('content-length', String(answer.body?.length ?? 0))
    response.writeHead(answer.status, lines)
    response.end(answer.body === null || request.method === 'HEAD' ? undefined : answer.body)
    return true
  }
}

/** A page that was asked for in another encoding of its address. */
function askedOtherwise({ pages }: CompiledSite, path: string): CompiledPage | undefined {
  if (path.endsWith('/') || !path.includes('%')) return undefined
  const address = readAddress(path)
  return address === null ? undefined : pages.get(asAsked(address))
}

/** Where whoever comes to an address is led: to where its page is now, or to the same address without a slash at its end. */
function movedTo({ pages, redirects }: CompiledSite, path: string): string | null {
  const address = redirects.has(path) ? path : readAddress(path)
  const asked = address === null ? path : asAsked(address)
  return redirects.get(asked) ?? (pages.has(asked) ? asked : null)
}

/** Writes down who was given what, off the visitor’s path: all of one turn of the loop together. */
class Noting {
  private readonly noted = new Noted()
  private waiting: News[] = []

  constructor(
    private readonly commits: GroupCommit,
    private readonly parts: Pick<PageParts, 'now' | 'log'>,
  ) {}

  readonly isNoted = (number: number, unit: Unit): boolean => this.noted.has(number, unit)

  take(news: News): void {
    const { assignments, together, unit } = news
    if (together !== null) this.noted.add(together, unit)
    if (assignments.length === 0) return
    if (this.waiting.length === 0) setImmediate(() => this.write())
    for (const one of assignments) this.noted.add(one.number, one.unit ?? unit)
    this.waiting.push(news)
  }

  private write(): void {
    const { waiting } = this
    this.waiting = []
    const at = new Date(this.parts.now())
    const events: StampedEvent[] = []
    for (const { visitor, assignments, segments, document } of waiting)
      for (const { round, version } of assignments) {
        const id = newEventId()
        // One after the other and not spread: this is done for every draw of every new visitor.
        events.push(
          document === null
            ? { kind: 'assigned', id, crowd: 0, at, visitor, round, version, segments }
            : { kind: 'assigned', id, crowd: 0, at, visitor, round, version, segments, document },
        )
      }
    // A page never fails, nor waits, because counting does. Forgotten here, it is written down again at the next view.
    this.commits.add(events).catch((reason) => {
      for (const { assignments, together, unit } of waiting) {
        for (const one of assignments) this.noted.forget(one.number, one.unit ?? unit)
        if (together !== null) this.noted.forget(together, unit)
      }
      this.parts.log(reason)
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
