import { randomBytes } from 'node:crypto'
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify'
import { eventNameSchema } from '@/core/events'
import { readUrl } from '@/core/url'
import { siteRoutes } from '@/core/site-routes'
import { plain } from '../answers'
import type { CompiledSite } from '../compile/compile'
import { cookieIn, readVisitorId } from '../serve/cookies'
import { evaluation } from './evaluation'
import { openApi } from './open-api'
import { PIXEL } from './pixel'
import { reportersOf, type Reporters } from './reporters'
import { takeReports, type Taking } from './take-reports'

const LIMIT = 1_048_576

interface Around extends Taking {
  /** Where the site is, by its settings: what a request says of that is anybody’s word. */
  readonly origin: string
  compiled(): CompiledSite | null
}

/** Reports from elsewhere: by key, from the origins that are listed and no others. */
export function outside(site: FastifyInstance, around: Around): void {
  const reporters = reportersOf(() => around.release())
  site.options('/report', (request, reply) => preflight(request, reply, reporters))
  // An event in the binary mode may bring data of any type: what is taken is asked there, and nowhere else.
  void site.register((reports, _, done) => {
    reports.addContentTypeParser('*', { parseAs: 'string' }, (_request, body, read) => read(null, body))
    reports.post(siteRoutes.report.at, { bodyLimit: LIMIT }, (request, reply) => takeReports(request, reply, reporters, around))
    done()
  })
  site.get(siteRoutes.reportImage.at, (request, reply) => image(request, reply, reporters, around))
  site.get(siteRoutes.openApi.at, (_, reply) => reply.header('access-control-allow-origin', '*').send(openApi(around.origin)))
  site.get(siteRoutes.out.at, (request, reply) => leave(request, reply, reporters))
  evaluation(site, {
    compiled: () => around.compiled(),
    now: () => around.now(),
    wait: (request) => around.wait(request),
    holder: (request) => reporters.holder(request),
    allow: (request, reply) => reporters.allow(request, reply),
  })
}

function preflight(request: FastifyRequest, reply: FastifyReply, reporters: Reporters) {
  reporters.allow(request, reply)
  return reply
    .code(204)
    .headers({
      'access-control-allow-methods': 'POST',
      'access-control-allow-headers': 'authorization, content-type',
      'access-control-max-age': '600',
    })
    .send()
}

/** An event without a script. Always a picture: a page elsewhere must not show a broken one. */
async function image(request: FastifyRequest, reply: FastifyReply, reporters: Reporters, around: Taking) {
  const { key, event } = request.query as { key?: unknown; event?: unknown }
  const reporter = typeof key === 'string' ? reporters.byKey(key) : undefined
  const name = eventNameSchema.safeParse(event)
  const from = originOf(request.headers.referer)
  if (reporter !== undefined && name.success && (from === null || from === reporter.origin) && around.wait(request) === 0) {
    const id = randomBytes(16).toString('hex')
    const visitor = readVisitorId(cookieIn(request.headers.cookie, 'visitor')) ?? id
    const at = new Date(around.now())
    await around.keep([{ id, crowd: 0, visitor, at, kind: 'event', name: name.data, value: null }]).catch(() => undefined)
  }
  return reply
    .headers({ 'content-type': 'image/gif', 'cache-control': 'no-store', 'cross-origin-resource-policy': 'cross-origin' })
    .send(PIXEL)
}

/** On to a listed origin, with the visitor’s id in the address, so that what happens there can be told of the same visitor. */
function leave(request: FastifyRequest, reply: FastifyReply, reporters: Reporters) {
  const { to } = request.query as { to?: unknown }
  const target = typeof to === 'string' ? readUrl(to) : null
  if (target === null || !reporters.lists(target.origin)) return plain(reply, 400, 'This site does not send visitors there.')
  const visitor = request.headers['sec-gpc'] === '1' ? null : readVisitorId(cookieIn(request.headers.cookie, 'visitor'))
  if (visitor !== null) target.searchParams.set('sprig', visitor)
  return reply.code(302).headers({ location: target.href, 'cache-control': 'no-store' }).send()
}

function originOf(address: string | undefined): string | null {
  return readUrl(address ?? '')?.origin ?? null
}
