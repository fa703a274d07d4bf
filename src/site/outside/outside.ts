import { createHash, randomBytes } from 'node:crypto'
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify'
import { happenedOutside, type OutsideReport } from '@/core/goals'
import { eventNameSchema, type StampedEvent } from '@/core/events'
import { eventIdOf } from '@/serving/event-id'
import type { RoundId, TestId, VersionId } from '@/core/ids'
import type { Release } from '@/core/release'
import { readUrl } from '@/core/url'
import { cookieIn, readVisitorId } from '../serve/cookies'
import { plain, tooMany } from '../answers'
import type { CompiledSite } from '../compile/compile'
import { evaluation } from './evaluation'
import { PIXEL } from './pixel'
import { openApi } from './open-api'
import { isBinaryCloudEvent, readBinary, readReports, reportTypes, Unreadable, type ReportType } from './read-reports'

const LIMIT = 1_048_576

interface Around {
  /** Where the site is, by its settings: what a request says of that is anybody’s word. */
  readonly origin: string
  release(): Release | null
  compiled(): CompiledSite | null
  now(): number
  /** Resolves when the events are durable. */
  keep(events: readonly StampedEvent[]): Promise<void>
  /** Seconds until this address may come again; 0 where it may now. */
  wait(request: FastifyRequest): number
  /** Where they could not be written: an answer that asks to send them again. */
  later(reply: FastifyReply, reason: unknown): FastifyReply
}

type Reporter = Release['reporters'][number]

/** Reports from elsewhere: by key, from the origins that are listed and no others. */
export function outside(site: FastifyInstance, around: Around): void {
  site.addContentTypeParser([...reportTypes.slice(1)], { parseAs: 'string' }, (_, body, done) => done(null, body))
  site.options('/report', (request, reply) => preflight(request, reply))
  site.post('/report', { bodyLimit: LIMIT }, (request, reply) => take(request, reply))
  site.get('/report/image', (request, reply) => image(request, reply))
  site.get('/report/openapi.json', (_, reply) => reply.header('access-control-allow-origin', '*').send(openApi(around.origin)))
  site.get('/out', (request, reply) => leave(request, reply))

  const reporters = () => around.release()?.reporters ?? []
  const byKey = (key: string): Reporter | undefined => {
    const hash = createHash('sha256').update(key).digest('hex')
    return reporters().find((one) => one.hash === hash)
  }

  /** Exactly the origins that have a key, none by pattern (Fetch standard, CORS protocol). */
  function allow(request: FastifyRequest, reply: FastifyReply): void {
    const { origin } = request.headers
    if (origin !== undefined && reporters().some((one) => one.origin === origin))
      void reply.header('access-control-allow-origin', origin).header('vary', 'Origin')
  }

  function bearer(request: FastifyRequest): Reporter | undefined {
    const key = /^Bearer (\S{1,200})$/i.exec(request.headers.authorization ?? '')?.[1]
    return key === undefined ? undefined : byKey(key)
  }

  /** Whose key comes with it, from an origin that it is for. */
  function holder(request: FastifyRequest): Reporter | null {
    const reporter = bearer(request)
    const { origin } = request.headers
    return reporter === undefined || (origin !== undefined && origin !== reporter.origin) ? null : reporter
  }
  evaluation(site, {
    compiled: () => around.compiled(),
    now: () => around.now(),
    wait: (request) => around.wait(request),
    holder,
    allow,
  })

  function preflight(request: FastifyRequest, reply: FastifyReply) {
    allow(request, reply)
    return reply
      .code(204)
      .headers({
        'access-control-allow-methods': 'POST',
        'access-control-allow-headers': 'authorization, content-type',
        'access-control-max-age': '600',
      })
      .send()
  }

  async function take(request: FastifyRequest, reply: FastifyReply) {
    allow(request, reply)
    const release = around.release()
    if (release === null) return plain(reply.header('retry-after', '5'), 503, 'The site is starting. Send it again.')
    const reporter = bearer(request)
    if (reporter === undefined)
      return plain(reply.header('www-authenticate', 'Bearer'), 401, 'This needs a key that is listed: Authorization: Bearer …')
    const wait = around.wait(request)
    if (wait > 0) return tooMany(reply, wait)
    const { origin } = request.headers
    if (origin !== undefined && origin !== reporter.origin) return plain(reply, 403, `This key is for ${reporter.origin}.`)
    const coding = request.headers['content-encoding'] ?? 'identity'
    if (coding !== 'identity') return plain(reply.header('accept-encoding', 'identity'), 415, 'Send it as it is, not packed.')
    const type = (request.headers['content-type'] ?? '').split(';')[0]?.trim().toLowerCase()
    const isBinary = isBinaryCloudEvent(request.headers)
    if (!isBinary && !reportTypes.includes(type as ReportType))
      return plain(reply, 415, `Send one of: ${reportTypes.join(', ')}; or a CloudEvent in the binary mode.`)
    const body = typeof request.body === 'string' ? request.body : ''
    let read: ReturnType<typeof readReports>
    try {
      read = isBinary ? readBinary(request.headers, body) : readReports(type as ReportType, body)
    } catch (reason) {
      if (!(reason instanceof Unreadable)) throw reason
      return reply.code(400).send({ kept: [], refused: [{ place: 0, field: '', fault: reason.message }] })
    }
    const refused: { place: number; field: string; fault: string }[] = []
    const kept: { id: string; event: StampedEvent }[] = []
    for (const one of read) {
      if (!('report' in one)) {
        refused.push(one)
        continue
      }
      const outcome = happenedOutside(one.report, around.now(), { currency: release.currency, roundOf: roundIn(release) })
      if ('fault' in outcome) refused.push({ place: one.place, field: outcome.field, fault: outcome.fault })
      else kept.push({ id: one.id, event: { ...outcome.happening, at: outcome.at, ...stampOf(one, reporter) } })
    }
    try {
      if (kept.length > 0) await around.keep(kept.map(({ event }) => event))
    } catch (reason) {
      return around.later(reply, reason)
    }
    return reply.code(refused.length > 0 ? 400 : 200).send({ kept: kept.map(({ id }) => id), refused })
  }

  /** An event without a script. Always a picture: a page elsewhere must not show a broken one. */
  async function image(request: FastifyRequest, reply: FastifyReply) {
    const { key, event } = request.query as { key?: unknown; event?: unknown }
    const reporter = typeof key === 'string' ? byKey(key) : undefined
    const name = eventNameSchema.safeParse(event)
    const from = originOf(request.headers.referer)
    if (reporter !== undefined && name.success && (from === null || from === reporter.origin) && around.wait(request) === 0) {
      const id = randomBytes(16).toString('hex')
      const visitor = readVisitorId(cookieIn(request.headers.cookie, 'visitor')) ?? id
      const at = new Date(around.now())
      await around.keep([{ id, source: 0, visitor, at, kind: 'event', name: name.data, value: null }]).catch(() => undefined)
    }
    return reply
      .headers({ 'content-type': 'image/gif', 'cache-control': 'no-store', 'cross-origin-resource-policy': 'cross-origin' })
      .send(PIXEL)
  }

  /** On to a listed origin, with the visitor’s id in the address, so that what happens there can be told of the same visitor. */
  function leave(request: FastifyRequest, reply: FastifyReply) {
    const { to } = request.query as { to?: unknown }
    const target = typeof to === 'string' ? readUrl(to) : null
    if (target === null || !reporters().some(({ origin }) => origin === target.origin))
      return plain(reply, 400, 'This site does not send visitors there.')
    const visitor = request.headers['sec-gpc'] === '1' ? null : readVisitorId(cookieIn(request.headers.cookie, 'visitor'))
    if (visitor !== null) target.searchParams.set('sprig', visitor)
    return reply.code(302).headers({ location: target.href, 'cache-control': 'no-store' }).send()
  }
}

function roundIn({ rounds }: Release): (test: TestId, version: VersionId) => RoundId | null {
  return (test, version) => {
    const round = rounds.find((one) => one.test === test)
    return round?.design.arms.some((arm) => arm.version === version) === true ? round.id : null
  }
}

/** What is sent again, by the same key under the same id, is the same event. An order is one by its number, whoever reports it. */
function stampOf(
  { report, identity }: { report: OutsideReport; identity: string },
  { id }: Reporter,
): { id: string; source: number; visitor: string } {
  const own = report.kind === 'order' ? `order ${report.order} ` : `${id} ${identity}`
  return { id: eventIdOf(own), source: 0, visitor: report.visitor ?? eventIdOf(`nobody ${own}`) }
}

function originOf(address: string | undefined): string | null {
  return readUrl(address ?? '')?.origin ?? null
}
