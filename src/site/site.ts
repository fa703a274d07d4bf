import { randomUUID } from 'node:crypto'
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http'
import Fastify, { type FastifyInstance, type FastifyReply, type FastifyRequest } from 'fastify'
import { STRICT_TRANSPORT } from '@/serving/addresses'
import { keepConnections } from '@/serving/connections'
import { methodsAt, notFound, otherMethod, plain, policy, SECURITY, sendAsset, usualPolicies } from './answers'
import type { Asset } from './assets'
import { noLimits, type Limits } from './collect/allowance'
import { collect, later } from './collect/collecting'
import type { FormEntry, StampedEvent } from '@/core/events'
import { takeForm } from './collect/forms'
import { GroupCommit } from './collect/group-commit'
import type { CompiledSite } from './compile/compile'
import { robots, sitemap } from './for-robots'
import { letters } from './outside/letters'
import { outside } from './outside/outside'
import { answerPage, type Assignment } from './serve/answer-page'
import { readCookies, readVisitorId } from './serve/cookies'

export interface SiteParts {
  /** The newest compiled release; `null` before the first. */
  current(): CompiledSite | null
  readonly assets: ReadonlyMap<string, Asset>
  /** Pictures and films that editors brought, by name, as far as they are loaded. */
  readonly media: ReadonlyMap<string, Asset>
  writeEvents(events: readonly StampedEvent[]): Promise<void>
  keepEntry(entry: FormEntry): Promise<void>
  now(): number
  log(reason: unknown): void
  /** Whether the site is only asked over TLS. */
  readonly secure?: boolean
  /** Whose request it is, by the connection and the proxies that are trusted. */
  addressOf?(request: IncomingMessage): string
  readonly limits?: Limits
  /** Where the site is, as others see it: what its own absolute addresses begin with. */
  readonly origin?: string
  /** Headers that say what pages of this site may do and be done to; the usual ones where nothing is said. */
  readonly policies?: Readonly<Record<string, string>>
  /** The number of the release that is served, for whoever looks after the site. */
  number?(): number
}

const REPORT_LIMIT = 16_384
const FORM_LIMIT = 65_536
const NOTED_LIMIT = 100_000

/** The public site as a server: pages, their assets, forms and the collecting of events. Knows no database. */
export function makeSite(parts: SiteParts): FastifyInstance {
  const { secure = false, limits = noLimits } = parts
  const policies = parts.policies ?? usualPolicies
  const everywhere = { ...SECURITY, ...policies, ...(secure ? { 'strict-transport-security': STRICT_TRANSPORT } : {}) }
  const securityLines = Object.entries(everywhere).flat()
  const style = styleAddress(parts.assets)
  const addressOf = ({ raw }: FastifyRequest) => parts.addressOf?.(raw) ?? raw.socket.remoteAddress ?? ''
  const commits = new GroupCommit((events) => parts.writeEvents(events))
  const note = noting(commits, parts)

  const site = Fastify({
    // Pages are answered before the framework: its routing and hooks have nothing to add to bytes that are ready.
    serverFactory: (framework) =>
      keepConnections(
        createServer((request, response) => {
          try {
            if (!servePage(request, response)) framework(request, response)
          } catch (reason) {
            fail(response, reason)
          }
        }),
      ),
    logger: false,
    bodyLimit: FORM_LIMIT,
    trustProxy: false,
    routerOptions: { ignoreTrailingSlash: true },
    // An address that is no text in UTF-8 never reaches a route.
    frameworkErrors: (_, __, reply) => void plain(reply, 400, 'This address cannot be read.'),
  })

  /** Whatever one request did, the next one is answered. */
  function fail(response: ServerResponse, reason: unknown): void {
    parts.log(reason)
    if (response.headersSent) return void response.destroy()
    response.writeHead(500, [...securityLines, 'content-type', 'text/plain; charset=utf-8', 'cache-control', 'no-store'])
    response.end('Something went wrong here. Please try again.\n')
  }

  site.addContentTypeParser(
    ['text/plain', 'application/json', 'application/x-www-form-urlencoded'],
    { parseAs: 'string' },
    (_, body, done) => done(null, body),
  )
  site.addHook('onSend', async (_, reply) => {
    void reply.headers(policies)
    if (secure) void reply.header('strict-transport-security', STRICT_TRANSPORT)
  })
  site.setNotFoundHandler(otherMethod)
  site.setErrorHandler((reason: { statusCode?: number }, _, reply) => {
    const status = reason.statusCode ?? 500
    if (status >= 500) parts.log(reason)
    return plain(
      reply,
      status,
      status >= 500 ? 'Something went wrong here. Please try again.' : 'This request could not be understood.',
    )
  })
  site.get('/healthz', (_, reply) => {
    const loaded = parts.current()
    return loaded === null
      ? plain(reply, 503, 'no release is loaded yet')
      : plain(reply, 200, health(loaded, parts.number?.() ?? 0))
  })
  const origin = parts.origin ?? ''
  const text = (reply: FastifyReply, type: string, of: (site: CompiledSite) => string) => {
    const loaded = parts.current()
    return loaded === null
      ? plain(reply, 503, 'The site is starting. Please try again in a moment.')
      : reply.headers({ ...SECURITY, 'content-type': type, 'cache-control': 'public, max-age=300' }).send(of(loaded))
  }
  site.get('/sitemap.xml', (_, reply) => text(reply, 'application/xml; charset=utf-8', (loaded) => sitemap(loaded, origin)))
  site.get('/robots.txt', (_, reply) => text(reply, 'text/plain; charset=utf-8', () => robots(origin)))
  site.get('/favicon.ico', (_, reply) => {
    const view = parts.current()?.view
    const { mark = '' } = view?.identity ?? {}
    return view === undefined || mark === ''
      ? plain(reply, 404, 'This site has no picture of its own.')
      : reply
          .code(302)
          .headers({ ...SECURITY, location: view.pictureAddress(mark) })
          .send()
  })
  site.get('/look/*', (request, reply) =>
    sendAsset(request, reply, parts.assets.get(request.url.split('?')[0] ?? ''), isForGood(request.url)),
  )
  site.get('/media/:name', (request, reply) =>
    sendAsset(request, reply, parts.media.get((request.params as { name: string }).name), true),
  )
  // A style's address is made from its rules, so it never changes.
  site.get('/made/:name', (request, reply) => {
    const body = parts.current()?.styles.get(request.url)
    return sendAsset(
      request,
      reply,
      body === undefined ? undefined : { body, type: 'text/css; charset=utf-8', etag: `"${request.url}"` },
      true,
    )
  })
  const keep = (events: readonly StampedEvent[]) => commits.add(events)
  const wait = (request: FastifyRequest) => {
    const visitor = readVisitorId(readCookies(request.headers.cookie).get('visitor'))
    return limits('report', { visitor, address: addressOf(request) }, parts.now())
  }
  outside(site, {
    origin,
    release: () => parts.current()?.release ?? null,
    now: () => parts.now(),
    keep,
    wait,
    cookies: (request) => readCookies(request.headers.cookie),
    later: (reply, reason) => later(reply, reason, parts),
  })
  letters(site, { compiled: () => parts.current(), now: () => parts.now(), keep, wait, secure })
  const around = { ...parts, current: () => parts.current(), now: () => parts.now(), keep, addressOf, limits, style }
  site.post('/collect', { bodyLimit: REPORT_LIMIT }, (request, reply) => collect(request, reply, around))
  site.post('/forms/:document/:node/:form?', (request, reply) => takeForm(request, reply, around))

  site.get('/*', (request, reply) => {
    const compiled = parts.current()
    if (!methodsAt(request.url).includes(request.method)) return otherMethod(request, reply)
    if (compiled === null) return plain(reply, 503, 'The site is starting. Please try again in a moment.')
    if (!servePage(request.raw, reply.raw)) return notFound(reply, compiled, style)
    reply.hijack()
  })

  /** Answers a request for a page from memory; `false` where it is for something else. */
  function servePage(request: IncomingMessage, response: ServerResponse): boolean {
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
    const campaign = mark < 0 ? null : new URLSearchParams(url.slice(mark)).get('utm_campaign')
    const answer = answerPage(compiled, page, request.headers, campaign, parts.now(), secure)
    note(answer.assignments)
    const security =
      page.scripts.length === 0 ? securityLines : ['content-security-policy', policy(page.scripts), ...securityLines.slice(2)]
    const headers = answer.status === 302 && mark >= 0 ? withRest(answer.headers, url.slice(mark)) : answer.headers
    // What is not sent again has no length of its own.
    const length = answer.status === 304 ? [] : ['content-length', String(answer.body?.length ?? 0)]
    response.writeHead(answer.status, [...security, ...headers, ...length])
    response.end(answer.body === null || request.method === 'HEAD' ? undefined : answer.body)
    return true
  }

  return site
}

/** Writes down who was given what, off the visitor's path. */
function noting(commits: GroupCommit, parts: SiteParts): (assignments: readonly Assignment[]) => void {
  const noted = new Set<string>()
  /** Once per visitor and round in this process is enough: more would count the same. */
  return (assignments) => {
    if (assignments.every(({ visitor, round }) => noted.has(visitor + round))) return
    const fresh = assignments.filter(({ visitor, round }) => !noted.has(visitor + round))
    if (noted.size > NOTED_LIMIT) noted.clear()
    for (const { visitor, round } of fresh) noted.add(visitor + round)
    const at = new Date(parts.now())
    const events = fresh.map((assignment): StampedEvent => ({
      ...assignment,
      kind: 'assigned',
      id: randomUUID().replaceAll('-', ''),
      source: 0,
      at,
    }))
    // A page never fails, nor waits, because counting does. Forgotten here, it is noted again at the next view.
    commits.add(events).catch((reason) => {
      for (const { visitor, round } of fresh) noted.delete(visitor + round)
      parts.log(reason)
    })
  }
}

/** What this process really serves, and what of it could not be made. */
function health({ faults }: CompiledSite, number: number): string {
  return ['ok', `release ${number}`, ...faults.map(({ id, words }) => `${id} stays as it was: ${words}`)].join('\n')
}

/** All parameters of the address go along, before the place on the page where one is named. */
function withRest(headers: readonly string[], query: string): string[] {
  return headers.map((value, index) => {
    if (headers[index - 1] !== 'location' || index % 2 === 0) return value
    const [path = '', place] = value.split('#')
    return path + query + (place === undefined ? '' : `#${place}`)
  })
}

/** An address that names what is behind it, by a mark after it or a digest in it: what is there never changes. */
function isForGood(url: string): boolean {
  return url.includes('?') || /-[A-Z0-9]{8}\.\w+$/.test(url)
}

/** Addresses that change with what is behind them, so that browsers may keep them for good. */
export function styleAddress(assets: ReadonlyMap<string, Asset>): string {
  return addressOf(assets, '/look/site.css')
}

export function scriptAddress(assets: ReadonlyMap<string, Asset>): string {
  return addressOf(assets, '/look/count.js')
}

function addressOf(assets: ReadonlyMap<string, Asset>, path: string): string {
  return `${path}?${assets.get(path)?.etag.replace(/\W/g, '').slice(0, 12) ?? ''}`
}
