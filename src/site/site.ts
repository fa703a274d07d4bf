import { randomUUID } from 'node:crypto'
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http'
import Fastify, { type FastifyInstance, type FastifyReply, type FastifyRequest } from 'fastify'
import { walk } from '@/core/document'
import type { NodeId } from '@/core/ids'
import type { Asset } from './assets'
import type { FormEntry } from './collect/form-entry'
import { GroupCommit, Overloaded } from './collect/group-commit'
import { parsedJson } from './collect/parsed-json'
import { reportSchema, stamp, type StampedEvent } from './collect/report'
import { propsOf } from '@/components/component-type'
import { form, formField } from '@/components/form/fields'
import type { CompiledSite } from './compile/compile'
import { plainPage } from './compile/head'
import { answerPage, type Assignment } from './serve/answer-page'
import { letters } from './outside/letters'
import { outside } from './outside/outside'
import { readCookies, readKept, readVisit, readVisitorId } from './serve/cookies'
import { deviceFor, leftOutBecause } from './serve/recognise'

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
}

const policy = (scripts: readonly string[]) =>
  `default-src 'none'; script-src ${["'self'", ...scripts].join(' ')}; media-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; form-action 'self'; frame-ancestors 'none'; base-uri 'none'`
const SECURITY = {
  'content-security-policy': policy([]),
  'x-content-type-options': 'nosniff',
  'referrer-policy': 'strict-origin-when-cross-origin',
}
const SECURITY_LINES = Object.entries(SECURITY).flat()
const REPORT_LIMIT = 16_384
const FORM_LIMIT = 65_536
const NOTED_LIMIT = 100_000

/** The public site as a server: pages, their assets, forms and the collecting of events. Knows no database. */
export function makeSite(parts: SiteParts): FastifyInstance {
  const site = Fastify({
    // Pages are answered before the framework: its routing and hooks have nothing to add to bytes that are ready.
    serverFactory: (framework) =>
      createServer((request, response) => void (servePage(request, response) || framework(request, response))),
    logger: false,
    bodyLimit: FORM_LIMIT,
    trustProxy: false,
    routerOptions: { ignoreTrailingSlash: true },
  })
  const commits = new GroupCommit((events) => parts.writeEvents(events))
  const noted = new Set<string>()

  /** Once per visitor and round in this process is enough: more would count the same. */
  const note = (assignments: readonly Assignment[]) => {
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

  site.addContentTypeParser(
    ['text/plain', 'application/json', 'application/x-www-form-urlencoded'],
    { parseAs: 'string' },
    (_, body, done) => done(null, body),
  )
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
    return plain(reply, loaded === null ? 503 : 200, loaded === null ? 'no release is loaded yet' : 'ok')
  })

  site.get('/look/*', (request, reply) =>
    sendAsset(request, reply, parts.assets.get(request.url.split('?')[0] ?? ''), request.url.includes('?')),
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

  function sendAsset(request: FastifyRequest, reply: FastifyReply, asset: Asset | undefined, forGood: boolean) {
    if (asset === undefined) return plain(reply, 404, 'There is no such file.')
    const unchanged = request.headers['if-none-match'] === asset.etag
    const headers = {
      ...SECURITY,
      'content-type': asset.type,
      etag: asset.etag,
      'cache-control': forGood ? 'public, max-age=31536000, immutable' : 'public, max-age=300',
      'accept-ranges': 'bytes',
    }
    if (unchanged) return reply.code(304).headers(headers).send()
    const range = rangeOf(request.headers.range, asset.body.length)
    if (range === null) return reply.code(200).headers(headers).send(asset.body)
    const [from, to] = range
    return reply
      .code(206)
      .headers({ ...headers, 'content-range': `bytes ${from}-${to}/${asset.body.length}` })
      .send(asset.body.subarray(from, to + 1))
  }

  outside(site, {
    release: () => parts.current()?.release ?? null,
    now: () => parts.now(),
    keep: (events) => commits.add(events),
    cookies: (request) => readCookies(request.headers.cookie),
    plain,
    later: (reply, reason) => later(reply, reason),
  })
  letters(site, {
    compiled: () => parts.current(),
    now: () => parts.now(),
    keep: (events) => commits.add(events),
    plain,
  })
  site.post('/collect', { bodyLimit: REPORT_LIMIT }, (request, reply) => collect(request, reply))
  site.post('/forms/:document/:node', (request, reply) => takeForm(request, reply))

  site.get('/*', (request, reply) => {
    const compiled = parts.current()
    if (compiled === null) return plain(reply, 503, 'The site is starting. Please try again in a moment.')
    if (!servePage(request.raw, reply.raw)) return notFound(reply, compiled)
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
      response.writeHead(301, [...SECURITY_LINES, 'location', moved + (mark < 0 ? '' : url.slice(mark)), 'content-length', '0'])
      response.end()
      return true
    }
    const campaign = mark < 0 ? null : new URLSearchParams(url.slice(mark)).get('utm_campaign')
    const answer = answerPage(compiled, page, request.headers, campaign, parts.now())
    note(answer.assignments)
    const security =
      page.scripts.length === 0 ? SECURITY_LINES : ['content-security-policy', policy(page.scripts), ...SECURITY_LINES.slice(2)]
    const headers = answer.status === 302 && mark >= 0 ? withRest(answer.headers, url.slice(mark)) : answer.headers
    response.writeHead(answer.status, [...security, ...headers, 'content-length', String(answer.body?.length ?? 0)])
    response.end(answer.body === null || request.method === 'HEAD' ? undefined : answer.body)
    return true
  }

  async function collect(request: FastifyRequest, reply: FastifyReply) {
    if (!isOwnOrigin(request)) return plain(reply, 403, 'Events are taken from pages of this site only.')
    const cookies = readCookies(request.headers.cookie)
    const visitor = readVisitorId(cookies.get('visitor'))
    // Nothing is kept of whoever is left out; they are thanked all the same.
    if (visitor === null || leftOutBecause(request.headers, cookies, request.headers['user-agent'] ?? '') !== null)
      return reply.code(204).send()
    const report = reportSchema.safeParse(parsedJson(request.body))
    if (!report.success) {
      const [issue] = report.error.issues
      return plain(reply, 400, `${issue?.path.join('.') || 'body'}: ${issue?.message ?? 'not understood'}`)
    }
    const now = parts.now()
    const compiled = parts.current()
    if (compiled === null) return later(reply, new Overloaded('no release is loaded yet'))
    const page = compiled.byId.get(report.data.d)
    if (page === undefined) return plain(reply, 400, 'd: there is no such page')
    const visit = readVisit(cookies.get('visit'), Math.floor(now / 60_000))
    const first = visit === null || (visit.pages.length <= 1 && visit.pages[0] === report.data.d)
    const sender = {
      visitor,
      at: new Date(now),
      source: 0,
      page: { path: page.path, pageType: page.pageType },
      arrival: first ? { device: deviceFor(request.headers), campaign: visit?.campaign ?? null } : null,
    }
    // What a newsletter brought here is shown but not counted: who follows a link has chosen to.
    const { carried } = readKept(cookies.get('kept'))
    const isCarried = (event: StampedEvent) =>
      event.kind === 'seen' && compiled.release.rounds.some(({ id, test }) => id === event.round && carried.has(test))
    const events = stamp(report.data, sender).filter((event) => carried.size === 0 || !isCarried(event))
    try {
      if (events.length > 0) await commits.add(events)
      return await reply.code(204).send()
    } catch (reason) {
      return later(reply, reason)
    }
  }

  function later(reply: FastifyReply, reason: unknown) {
    if (!(reason instanceof Overloaded)) parts.log(reason)
    return plain(reply.header('retry-after', '5'), 503, 'Events cannot be written just now. Send them again.')
  }

  async function takeForm(request: FastifyRequest, reply: FastifyReply) {
    const compiled = parts.current()
    if (compiled === null || !isOwnOrigin(request)) return plain(reply, 403, 'This form can only be sent from its own page.')
    const { document: documentId, node: nodeId } = request.params as { document: string; node: string }
    const document = compiled.release.documents.find(({ id }) => id === documentId)
    const node = document?.nodes[nodeId]
    if (document === undefined || node?.type !== 'form') return notFound(reply, compiled)
    const sent = new URLSearchParams(typeof request.body === 'string' ? request.body : '')
    const fields = walk(document, nodeId as NodeId).flatMap((id) => {
      const field = document.nodes[id]
      return field?.type === 'formField' ? [propsOf(formField, field)] : []
    })
    const lacking = fields.find(({ name, required }) => required && (sent.get(name) ?? '').trim() === '')
    if (lacking !== undefined)
      return plain(reply, 400, `Please go back and fill in “${lacking.label}”. What you typed is still there.`)
    const values = Object.fromEntries(fields.map(({ name }) => [name, (sent.get(name) ?? '').slice(0, 2000)]))
    try {
      const cookies = readCookies(request.headers.cookie)
      const leftOut = leftOutBecause(request.headers, cookies, request.headers['user-agent'] ?? '') !== null
      const visitor = leftOut ? null : readVisitorId(cookies.get('visitor'))
      await parts.keepEntry({
        id: randomUUID().replaceAll('-', ''),
        at: new Date(parts.now()),
        document: document.id,
        node: nodeId as NodeId,
        values,
        visitor,
      })
    } catch (reason) {
      parts.log(reason)
      return plain(
        reply.header('retry-after', '30'),
        503,
        'We could not keep your message just now. Please go back and send it again in a minute; what you typed is still there.',
      )
    }
    return reply
      .code(303)
      .header('location', compiled.view.addressOf(propsOf(form, node).next))
      .send()
  }

  function plain(reply: FastifyReply, status: number, words: string) {
    return reply
      .code(status)
      .headers({ ...SECURITY, 'content-type': 'text/plain; charset=utf-8', 'cache-control': 'no-store' })
      .send(`${words}\n`)
  }

  function notFound(reply: FastifyReply, compiled: CompiledSite) {
    const body = `<main class="section ground-cream"><div class="measure text"><h1 class="heading grand">There is no page here.</h1><div class="text lead"><p>It may have moved. <a href="${compiled.view.addressOf('page:home')}">Start again from the front</a>.</p></div></div></main>`
    return reply
      .code(404)
      .headers({ ...SECURITY, 'content-type': 'text/html; charset=utf-8', 'cache-control': 'no-store' })
      .send(plainPage('Not here', styleAddress(parts.assets), body))
  }

  return site
}

/** All parameters of the address go along, before the place on the page where one is named. */
function withRest(headers: readonly string[], query: string): string[] {
  return headers.map((value, index) => {
    if (headers[index - 1] !== 'location' || index % 2 === 0) return value
    const [path = '', place] = value.split('#')
    return path + query + (place === undefined ? '' : `#${place}`)
  })
}

/** The one range of bytes that players of films ask for (RFC 9110, 14.2); anything else gets the whole. */
function rangeOf(header: string | undefined, length: number): [from: number, to: number] | null {
  const match = /^bytes=(\d+)-(\d*)$/.exec(header ?? '')
  if (match === null) return null
  const from = Number(match[1])
  const to = match[2] === '' ? length - 1 : Math.min(Number(match[2]), length - 1)
  return from <= to ? [from, to] : null
}

/** A browser always names the origin of a cross-site POST; what comes without one is no browser. */
function isOwnOrigin(request: FastifyRequest): boolean {
  const { origin, host } = request.headers
  if (origin === undefined) return true
  try {
    return new URL(origin).host === host
  } catch {
    return false
  }
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
