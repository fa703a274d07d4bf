import { randomInt } from 'node:crypto'
import type { IncomingMessage } from 'node:http'
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify'
import { armAt, WHOLE } from '@/core/decide'
import type { Round } from '@/core/experiment'
import type { TestId, VersionId } from '@/core/ids'
import { siteRoutes } from '@/core/site-routes'
import { ownPath, plain } from '../answers'
import type { CompiledSite } from '../compile/compile'
import { cookieIn, readKept } from '../serve/cookies'
import { withLook, type Look } from './looks'

interface Parts {
  current(): CompiledSite | null
  now(): number
  readonly secure: boolean
  lookFor(key: string | undefined, request: IncomingMessage): Promise<Look | null>
}

/** A link is opened, steps through versions, and is put away: each is an address that leads on to a page. */
export function choosing(site: FastifyInstance, parts: Parts): void {
  const { secure } = parts
  site.get(siteRoutes.seeChoose.at, async (request, reply) => {
    const { cookie } = request.headers
    const look = await parts.lookFor(cookieIn(cookie, 'see'), request.raw)
    const release = parts.current()?.release
    if (look === null || release === undefined) return noLink(reply)
    const chosen = chosenBy(request, withLook(release, look).rounds, readKept(cookieIn(cookie, 'seen')).kept)
    const value = chosen.map(([test, version]) => `${test}~${version}`).join('.')
    return leadOn(reply, asked(request, 'back'), [`seen=${value}${rest(secure)}`])
  })
  site.get(siteRoutes.seeStop.at, (request, reply) =>
    leadOn(reply, asked(request, 'back'), [gone('see', secure), gone('seen', secure)]),
  )
  site.get(siteRoutes.see.at, async (request, reply) => {
    const { key } = request.params as { key: string }
    const look = await parts.lookFor(key, request.raw)
    if (look === null) return noLink(reply)
    const seconds = Math.max(1, Math.floor((look.until.getTime() - parts.now()) / 1000))
    return leadOn(reply, asked(request, 'to'), [`see=${key}; Max-Age=${seconds}${rest(secure)}`, gone('seen', secure)])
  })
}

const MOST_CHOSEN = 40

/** The versions that are looked at from now on: all drawn as for somebody new, or one in the place of what was. */
function chosenBy(
  request: FastifyRequest,
  rounds: readonly Round[],
  before: ReadonlyMap<TestId, VersionId>,
): readonly (readonly [TestId, VersionId])[] {
  if (asked(request, 'as') === 'newcomer')
    return rounds.map(({ test, design }) => [test, armAt(design.arms, randomInt(WHOLE))] as const).slice(-MOST_CHOSEN)
  const now = rounds.flatMap(({ test, design }) => {
    const wanted = design.arms.find(({ version }) => version === asked(request, 'version'))
    return test === asked(request, 'test') && wanted !== undefined ? [[test, wanted.version] as const] : []
  })
  return [...new Map([...before, ...now])].slice(-MOST_CHOSEN)
}

const noLink = (reply: FastifyReply) => plain(reply, 404, 'This link is not valid any more. Ask for a new one.')

function leadOn(reply: FastifyReply, path: string, cookies: string[]): FastifyReply {
  return reply
    .code(302)
    .header('set-cookie', cookies)
    .headers({ location: onward(path), 'cache-control': 'no-store' })
    .send()
}

const rest = (secure: boolean) => `; Path=/; HttpOnly; SameSite=Lax${secure ? '; Secure' : ''}`
export const gone = (name: string, secure: boolean) => `${name}=; Max-Age=0${rest(secure)}`

function asked(request: FastifyRequest, name: string): string {
  const value = (request.query as Record<string, unknown>)[name]
  return typeof value === 'string' ? value.slice(0, 2000) : ''
}

/** Where to go on: never to another link of this kind. */
const onward = (path: string) => (path.startsWith('/see/') ? '/' : ownPath(path))
