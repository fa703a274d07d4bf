import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify'
import { siteRoutes } from '@/core/site-routes'
import * as z from 'zod'
import { isOwnOrigin, plain, tooMany } from './answers'
import { parsedJson } from './collect/parsed-json'
import type { CompiledSite } from './compile/compile'
import { cookieIn, readAbout, readVisitorId, writeAbout } from './serve/cookies'

interface SaidParts {
  current(): CompiledSite | null
  readonly secure: boolean
  addressOf(request: FastifyRequest): string
  /** Seconds until they may come again; 0 where they may now. */
  wait(request: FastifyRequest): number
}

const MOST = 2048
/** By name; `null` takes back what was said. */
const saidSchema = z.record(z.string().max(30), z.string().max(30).nullable())

/**
 * Where pages of the site say what only the site knows of a visitor, such as their membership: names and values that the
 * settings list, and nothing else. It travels in the visitor's own browser, signed; no server keeps it.
 */
export function saidOfVisitors(site: FastifyInstance, { current, secure, addressOf, wait }: SaidParts): void {
  site.post(siteRoutes.visitor.at, { bodyLimit: MOST }, (request: FastifyRequest, reply: FastifyReply) => {
    if (!isOwnOrigin(request)) return plain(reply, 403, 'This is taken from pages of this site only.')
    const seconds = wait(request)
    if (seconds > 0) return tooMany(reply, seconds)
    const compiled = current()
    if (compiled === null) return plain(reply, 503, 'The site is starting. Please try again in a moment.')
    const said = saidSchema.safeParse(parsedJson(request.body))
    if (!said.success) return plain(reply, 400, 'Send an object in JSON: names with values, or with null.')
    const { attributes } = compiled.release
    for (const [name, value] of Object.entries(said.data)) {
      const known = attributes.find((one) => one.name === name)
      if (known === undefined) return plain(reply, 400, `${name}: the settings list no such attribute`)
      if (value !== null && !known.values.includes(value))
        return plain(reply, 400, `${name}: one of ${known.values.join(', ')}, or null`)
    }
    const visitor = readVisitorId(cookieIn(request.headers.cookie, 'visitor'))
    // Nothing is kept of whoever is left out; they are answered all the same.
    if (visitor === null || compiled.leavesOut(request.headers, () => addressOf(request)) !== null) return reply.code(204).send()
    const now = readAbout(cookieIn(request.headers.cookie, 'about'), visitor, compiled.signer, attributes)
    for (const [name, value] of Object.entries(said.data)) {
      if (value === null) now.delete(name)
      else now.set(name, value)
    }
    return reply
      .header('set-cookie', writeAbout(now, visitor, compiled.signer, secure))
      .header('cache-control', 'no-store')
      .code(204)
      .send()
  })
}
