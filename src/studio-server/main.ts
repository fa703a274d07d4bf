import { createServer, type IncomingMessage, type ServerResponse } from 'node:http'
import next from 'next'
import { logger } from '@/serving/logger'
import * as z from 'zod'
import { isSecure, STRICT_TRANSPORT, studioOrigin } from '@/serving/addresses'
import { CLIENT_ADDRESS } from '@/serving/client-address-header'
import { clientAddresses } from '@/serving/client-address'
import { keepConnections } from '@/serving/connections'
import { keepGoing } from '@/serving/keep-going'

const settings = z
  .object({
    STUDIO_PORT: z.coerce.number().int().default(4100),
    STUDIO_HOST: z.string().default('127.0.0.1'),
    SPRIG_TRUSTED_PROXIES: z.string().default(''),
  })
  .parse(process.env)

const log = logger('studio')
const addressOf = clientAddresses(settings.SPRIG_TRUSTED_PROXIES)
const methods = new Set(['GET', 'HEAD', 'POST'])
keepGoing((reason) => log.error(reason))

const studio = next({ dev: false, dir: process.cwd(), hostname: settings.STUDIO_HOST, port: settings.STUDIO_PORT })
const handle = studio.getRequestHandler()

/**
 * The framework's own server would believe any client about its address, and answers some requests with a fault of its own.
 * What stands before it here knows the connection.
 */
async function answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
  if (!methods.has(request.method ?? '')) return refuse(response, 405, 'Use GET, HEAD or POST.', { allow: 'GET, HEAD, POST' })
  if (!isAddress(request.url ?? '')) return refuse(response, 400, 'This address cannot be read.')
  request.headers[CLIENT_ADDRESS] = addressOf(request)
  if (isSecure(studioOrigin())) response.setHeader('strict-transport-security', STRICT_TRANSPORT)
  await handle(request, response)
}

/** Every path segment must be text in UTF-8 (RFC 3986, 2.1 and 2.5), and the whole of a bearable length. */
function isAddress(url: string): boolean {
  if (url.length > 4000 || !url.startsWith('/')) return false
  try {
    decodeURIComponent(url.split('?')[0] ?? '')
    return true
  } catch {
    return false
  }
}

function refuse(response: ServerResponse, status: number, words: string, more: Record<string, string> = {}): void {
  response.writeHead(status, { 'content-type': 'text/plain; charset=utf-8', 'x-content-type-options': 'nosniff', ...more })
  response.end(`${words}\n`)
}

const server = keepConnections(
  createServer((request, response) => {
    answer(request, response).catch((reason: unknown) => {
      log.error(reason)
      if (!response.headersSent) refuse(response, 500, 'Something went wrong here; it has been written down. Please try again.')
      else response.destroy()
    })
  }),
)

void studio.prepare().then(
  () =>
    server.listen(settings.STUDIO_PORT, settings.STUDIO_HOST, () => log.info({ port: settings.STUDIO_PORT }, 'studio listening')),
  (reason: unknown) => {
    log.fatal(reason, 'the studio cannot start')
    process.exit(1)
  },
)

const stop = () => {
  server.close(() => process.exit(0))
  server.closeIdleConnections()
  setTimeout(() => process.exit(0), 3000).unref()
}
process.on('SIGTERM', stop)
process.on('SIGINT', stop)
