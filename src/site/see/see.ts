import type { IncomingMessage, ServerResponse } from 'node:http'
import { randomInt } from 'node:crypto'
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify'
import { armAt, decide, noUtm, ORIGINAL, stranger, WHOLE, type Decision } from '@/core/decide'
import type { Round } from '@/core/experiment'
import type { DocumentId, TestId, VersionId } from '@/core/ids'
import type { Release } from '@/core/release'
import { ownPath, plain, policy, SECURITY } from '../answers'
import { compile, type CompiledPage, type CompiledSite } from '../compile/compile'
import type { Assets } from '../compile/on-a-page'
import { routeFor } from '../serve/answer-page'
import { assemblyOf } from '../serve/assemble'
import { cookieIn, readKept } from '../serve/cookies'
import { isLooking } from '../serve/left-out'
import { recognise, type Asked } from '../serve/recognise'
import { strip, type SeenTest } from './strip'

/** What a link from the studio lets its bearer see. */
export interface Look {
  readonly tests: readonly TestId[]
  readonly rounds: readonly Round[]
  readonly until: Date
}

interface SeeParts {
  current(): CompiledSite | null
  now(): number
  log(reason: unknown): void
  /** `null` where there is no such link, or not any more. */
  openLook(key: string): Promise<Look | null>
  readonly addresses: Assets
  /** Where the style of the strip is. */
  readonly style: string
  readonly secure: boolean
  /** Seconds until whoever asks for links that are none may ask again; 0 where they may now. */
  wait(request: IncomingMessage): number
}

/** Rules are looked at as by somebody of whom only the request is known. */
const KNOWS_NOTHING: Asked = {
  pageTypeOf: () => undefined,
  regionOf: () => stranger.region,
  moment: () => stranger.moment,
  at: () => null,
  past: () => null,
  today: () => 0,
  reached: () => [],
  about: () => stranger.attributes,
}

const FRESH = 10_000
const KEPT = 40
const keyPattern = /^[\w-]{22}$/

/**
 * Looking at the site as somebody else would see it, before a test is live as well. All of it is apart from what visitors
 * get: pages are made for whoever looks, are never kept by anybody, and nothing that is done on them is counted.
 */
export function seeing(parts: SeeParts) {
  const looks = new Map<string, { readonly at: number; readonly look: Look | null }>()
  const pages = new WeakMap<CompiledSite, Map<string, CompiledPage | undefined>>()

  async function lookFor(key: string | undefined, request: IncomingMessage): Promise<Look | null> {
    if (key === undefined || !keyPattern.test(key)) return null
    const known = looks.get(key)
    if (known !== undefined && parts.now() - known.at < FRESH) return known.look
    // Only the database knows what is no link: it is not asked for more than anybody needs.
    if (parts.wait(request) > 0) return null
    const look = await parts.openLook(key)
    remember(looks, key, { at: parts.now(), look })
    return look
  }

  function pageFor(site: CompiledSite, page: CompiledPage, key: string, { rounds }: Look, release: Release): CompiledPage {
    if (rounds.length === 0) return page
    const own = pages.get(site) ?? new Map<string, CompiledPage | undefined>()
    pages.set(site, own)
    const name = `${key} ${page.document}`
    if (!own.has(name)) {
      const only = new Set<DocumentId>([page.document])
      remember(own, name, compile(release, parts.addresses, undefined, [], { only }).byId.get(page.document))
    }
    return own.get(name) ?? page
  }

  async function answer(
    request: IncomingMessage,
    response: ServerResponse,
    site: CompiledSite,
    page: CompiledPage,
  ): Promise<void> {
    const { cookie } = request.headers
    const key = cookieIn(cookie, 'see') ?? ''
    const look = await lookFor(key, request)
    if (look === null) {
      // The link is no longer valid: the page as everybody gets it, without what it had left.
      response.writeHead(302, [
        'set-cookie',
        gone('see', parts.secure),
        'location',
        request.url ?? '/',
        'cache-control',
        'no-store',
      ])
      return void response.end()
    }
    const release = withLook(site.release, look)
    const own = pageFor(site, page, key, look, release)
    const chosen = readKept(cookieIn(cookie, 'seen')).kept
    const minute = Math.floor(parts.now() / 60_000)
    const { visitor } = recognise(
      request.headers,
      minute,
      null,
      { ...KNOWS_NOTHING, at: () => ({ page: page.document, pageType: page.pageType }) },
      () => ({ utm: noUtm, referrer: '' }),
    )
    const decisions = [
      ...decide({ draws: [], ladders: own.ladders }, visitor),
      ...own.draws.map((draw): Decision => ({
        key: draw.test,
        version: versionFor(draw, chosen.get(draw.test), look.tests.includes(draw.test)),
        counted: true,
        reason: { code: 'kept' },
      })),
    ]
    const target = routeFor(own, decisions)
    if (target !== null) {
      response.writeHead(302, ['location', target, 'cache-control', 'no-store'])
      return void response.end()
    }
    const shown = own.draws.flatMap((draw): SeenTest[] => {
      const round = release.rounds.find(({ test }) => test === draw.test)
      const version = decisions.find(({ key: of }) => of === draw.test)?.version ?? ORIGINAL
      if (round === undefined) return []
      const isDraft = look.rounds.some(({ test }) => test === draw.test)
      return [{ round, shown: version, state: isDraft ? 'not live yet' : draw.paused ? 'paused' : 'live' }]
    })
    const foot = strip(shown, { back: request.url ?? '/', style: parts.style })
    const html = assemblyOf(own.chunks)
      .whole(decisions)
      .toString()
      .replace(/<\/body>(?![\s\S]*<\/body>)/, () => `${foot}</body>`)
    const body = Buffer.from(html)
    response.writeHead(200, [
      ...Object.entries({ ...SECURITY, 'content-security-policy': policy(own.scripts) }).flat(),
      ...['content-type', 'text/html; charset=utf-8', 'cache-control', 'private, no-store', 'x-robots-tag', 'noindex'],
      ...['content-length', String(body.length)],
    ])
    response.end(request.method === 'HEAD' ? undefined : body)
  }

  return {
    /** `false` where nobody looks, which a word in their cookies says. */
    serve(request: IncomingMessage, response: ServerResponse, site: CompiledSite, page: CompiledPage): boolean {
      if (!isLooking(request.headers.cookie)) return false
      answer(request, response, site, page).catch((reason: unknown) => {
        parts.log(reason)
        if (response.headersSent) return void response.destroy()
        response.writeHead(503, ['content-type', 'text/plain; charset=utf-8', 'cache-control', 'no-store'])
        response.end('This cannot be looked at just now. Try again in a moment.\n')
      })
      return true
    },

    routes(site: FastifyInstance): void {
      const { secure } = parts
      const begin = async (request: FastifyRequest, reply: FastifyReply) => {
        const { key } = request.params as { key: string }
        const look = await lookFor(key, request.raw)
        if (look === null) return plain(reply, 404, 'This link is not valid any more. Ask for a new one.')
        const seconds = Math.max(1, Math.floor((look.until.getTime() - parts.now()) / 1000))
        return reply
          .code(302)
          .header('set-cookie', [`see=${key}; Max-Age=${seconds}${rest(secure)}`, gone('seen', secure)])
          .headers({ location: onward(asked(request, 'to')), 'cache-control': 'no-store' })
          .send()
      }
      const choose = async (request: FastifyRequest, reply: FastifyReply) => {
        const { cookie } = request.headers
        const look = await lookFor(cookieIn(cookie, 'see'), request.raw)
        const release = parts.current()?.release
        if (look === null || release === undefined)
          return plain(reply, 404, 'This link is not valid any more. Ask for a new one.')
        const { rounds } = withLook(release, look)
        const chosen =
          asked(request, 'as') === 'newcomer'
            ? rounds.map(({ test, design }) => [test, armAt(design.arms, randomInt(WHOLE))] as const)
            : [
                ...readKept(cookieIn(cookie, 'seen')).kept,
                ...rounds.flatMap(({ test, design }) => {
                  const wanted = design.arms.find(({ version }) => version === asked(request, 'version'))
                  return test === asked(request, 'test') && wanted !== undefined ? [[test, wanted.version] as const] : []
                }),
              ]
        const value = [...new Map<TestId, VersionId>(chosen)]
          .slice(-MOST_CHOSEN)
          .map(([test, version]) => `${test}~${version}`)
          .join('.')
        return reply
          .code(302)
          .header('set-cookie', `seen=${value}${rest(secure)}`)
          .headers({ location: onward(asked(request, 'back')), 'cache-control': 'no-store' })
          .send()
      }
      site.get('/see/choose', choose)
      site.get('/see/stop', (request, reply) =>
        reply
          .code(302)
          .header('set-cookie', [gone('see', secure), gone('seen', secure)])
          .headers({ location: onward(asked(request, 'back')), 'cache-control': 'no-store' })
          .send(),
      )
      site.get('/see/:key', begin)
    },
  }
}

const MOST_CHOSEN = 40
const rest = (secure: boolean) => `; Path=/; HttpOnly; SameSite=Lax${secure ? '; Secure' : ''}`
const gone = (name: string, secure: boolean) => `${name}=; Max-Age=0${rest(secure)}`

function withLook(release: Release, { rounds }: Look): Release {
  const replaced = new Set(rounds.map(({ test }) => test))
  const live = release.rounds.filter(({ test }) => !replaced.has(test))
  return { ...release, rounds: [...live, ...rounds.map((round) => ({ ...round, paused: false }))] }
}

/** What was chosen; of a test that the link was made for the first variant, of all others the original. */
function versionFor(
  { arms }: { readonly arms: readonly { readonly version: VersionId }[] },
  chosen: VersionId | undefined,
  isMeant: boolean,
): VersionId {
  if (chosen !== undefined && arms.some(({ version }) => version === chosen)) return chosen
  return (isMeant ? arms[1]?.version : undefined) ?? ORIGINAL
}

function asked(request: FastifyRequest, name: string): string {
  const value = (request.query as Record<string, unknown>)[name]
  return typeof value === 'string' ? value.slice(0, 2000) : ''
}

/** Where to go on: never to another link of this kind. */
const onward = (path: string) => (path.startsWith('/see/') ? '/' : ownPath(path))

function remember<Value>(into: Map<string, Value>, key: string, value: Value): void {
  const [oldest] = into.keys()
  if (into.size >= KEPT && oldest !== undefined) into.delete(oldest)
  into.set(key, value)
}
