import { createServer, type IncomingMessage, type ServerResponse } from 'node:http'
import Fastify, { type FastifyInstance } from 'fastify'
import { STRICT_TRANSPORT } from '@/serving/addresses'
import { siteRoutes } from '@/core/site-routes'
import { keepConnections } from '@/serving/connections'
import { otherMethod, plain } from './answers'

const BODY_LIMIT = 65_536
/** The route of whatever is no other one’s. */
export const ALL_PAGES = '/*'
const known: ReadonlySet<string> = new Set(Object.values(siteRoutes).map(({ at }) => at))

interface Framing {
  /** `false` where it is no page: then the framework answers. */
  servePage(request: IncomingMessage, response: ServerResponse): boolean
  log(reason: unknown): void
  readonly secure: boolean
  readonly policies: Readonly<Record<string, string>>
  /** Headers of every answer, name after value. */
  readonly securityLines: readonly string[]
}

/** The framework behind the pages: what it reads, what it says where something is wrong, and which headers all answers have. */
export function framework({ servePage, log, secure, policies, securityLines }: Framing): FastifyInstance {
  const site = Fastify({
    // Pages are answered before the framework: its routing and hooks have nothing to add to bytes that are ready.
    serverFactory: (handle) =>
      keepConnections(
        createServer((request, response) => {
          try {
            if (!servePage(request, response)) handle(request, response)
          } catch (reason) {
            fail(response, reason)
          }
        }),
      ),
    logger: false,
    // What is no request has no method either: an answer without a body is right for all, and says that this was the last.
    clientErrorHandler: (reason, socket) => {
      if (reason.code === 'ECONNRESET' || socket.destroyed || !socket.writable) return void socket.destroy()
      const status =
        reason.code === 'HPE_HEADER_OVERFLOW'
          ? '431 Request Header Fields Too Large'
          : reason.code === 'ERR_HTTP_REQUEST_TIMEOUT'
            ? '408 Request Timeout'
            : '400 Bad Request'
      const lines = securityLines.flatMap((name, at) => (at % 2 === 0 ? [`${name}: ${securityLines[at + 1] ?? ''}`] : []))
      socket.end(
        [`HTTP/1.1 ${status}`, ...lines, 'cache-control: no-store', 'content-length: 0', 'connection: close', '', ''].join(
          '\r\n',
        ),
      )
    },
    bodyLimit: BODY_LIMIT,
    trustProxy: false,
    routerOptions: { ignoreTrailingSlash: true },
    // An address that is no text in UTF-8 never reaches a route.
    frameworkErrors: (_, __, reply) => void plain(reply, 400, 'This address cannot be read.'),
  })

  // A route that the list does not know could be taken by a page.
  site.addHook('onRoute', ({ url }) => {
    if (url !== ALL_PAGES && !known.has(url)) throw new Error(`the route ${url} is missing in core/site-routes.ts`)
  })

  /** Whatever one request did, the next one is answered. */
  function fail(response: ServerResponse, reason: unknown): void {
    log(reason)
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
    if (status >= 500) log(reason)
    return plain(
      reply,
      status,
      status >= 500 ? 'Something went wrong here. Please try again.' : 'This request could not be understood.',
    )
  })
  return site
}
