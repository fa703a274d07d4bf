import type { IncomingMessage, ServerResponse } from 'node:http'
import type { FastifyInstance } from 'fastify'
import { decide, noUtm, ORIGINAL, stranger, type Decision } from '@/core/decide'
import type { DocumentId, VersionId } from '@/core/ids'
import type { Release } from '@/core/release'
import { policy } from '../answers'
import { compile, type CompiledPage, type CompiledSite } from '../compile/compile'
import type { Assets } from '../compile/on-a-page'
import { routeFor } from '../serve/answer-page'
import { assemblyOf } from '../serve/assemble'
import { cookieIn, readKept } from '../serve/cookies'
import { isLooking } from '../serve/left-out'
import { recognise, type Asked } from '../serve/recognise'
import { choosing, gone } from './choosing'
import { openingLooks, remember, withLook, type Look, type Opening } from './looks'
import { strip, type SeenTest } from './strip'

interface SeeParts extends Opening {
  current(): CompiledSite | null
  log(reason: unknown): void
  readonly addresses: Assets
  /** Where the style of the strip is. */
  readonly style: string
  readonly secure: boolean
  /** On every answer of the site. */
  readonly everywhere: Readonly<Record<string, string>>
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

/**
 * Looking at the site as somebody else would see it, before a test is live as well. All of it is apart from what visitors
 * get: pages are made for whoever looks, are never kept by anybody, and nothing that is done on them is counted.
 */
export function seeing(parts: SeeParts) {
  const lookFor = openingLooks(parts)
  const pages = new WeakMap<CompiledSite, Map<string, CompiledPage | undefined>>()

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

  async function answer(request: IncomingMessage, site: CompiledSite, page: CompiledPage): Promise<Answer> {
    const key = cookieIn(request.headers.cookie, 'see') ?? ''
    const look = await lookFor(key, request)
    // The link is no longer valid: the page as everybody gets it, without what it had left.
    if (look === null) return { to: request.url ?? '/', headers: ['set-cookie', gone('see', parts.secure)] }
    const release = withLook(site.release, look)
    const own = pageFor(site, page, key, look, release)
    const decisions = decidedFor(request, own, look, Math.floor(parts.now() / 60_000))
    const to = routeFor(own, decisions)
    if (to !== null) return { to, headers: [] }
    const foot = strip(seenOn(own, decisions, look, release), { back: request.url ?? '/', style: parts.style })
    const html = assemblyOf(own.chunks).whole(decisions).toString()
    return { html: html.replace(/<\/body>(?![\s\S]*<\/body>)/, () => `${foot}</body>`), scripts: own.scripts }
  }

  return {
    /** `false` where nobody looks, which a word in their cookies says. */
    serve(request: IncomingMessage, response: ServerResponse, site: CompiledSite, page: CompiledPage): boolean {
      if (!isLooking(request.headers.cookie)) return false
      answer(request, site, page)
        .then((found) => send(request, response, found, parts.everywhere))
        .catch((reason: unknown) => {
          parts.log(reason)
          if (response.headersSent) return void response.destroy()
          response.writeHead(503, [
            ...Object.entries(parts.everywhere).flat(),
            'content-type',
            'text/plain; charset=utf-8',
            'cache-control',
            'no-store',
          ])
          response.end('This cannot be looked at just now. Try again in a moment.\n')
        })
      return true
    },

    routes(site: FastifyInstance): void {
      const { secure } = parts
      choosing(site, { current: () => parts.current(), now: () => parts.now(), secure, lookFor })
    },
  }
}

/** A page, or on to another one. */
type Answer =
  | { readonly html: string; readonly scripts: CompiledPage['scripts'] }
  | { readonly to: string; readonly headers: readonly string[] }

function send(
  request: IncomingMessage,
  response: ServerResponse,
  answer: Answer,
  everywhere: Readonly<Record<string, string>>,
): void {
  if ('to' in answer) {
    response.writeHead(302, [
      ...Object.entries(everywhere).flat(),
      ...answer.headers,
      'location',
      answer.to,
      'cache-control',
      'no-store',
    ])
    return void response.end()
  }
  const body = Buffer.from(answer.html)
  response.writeHead(200, [
    ...Object.entries({ ...everywhere, 'content-security-policy': policy(answer.scripts) }).flat(),
    ...['content-type', 'text/html; charset=utf-8', 'cache-control', 'private, no-store', 'x-robots-tag', 'noindex'],
    ...['content-length', String(body.length)],
  ])
  response.end(request.method === 'HEAD' ? undefined : body)
}

/** Rules by the request alone, tests by what was chosen. */
function decidedFor({ headers }: IncomingMessage, page: CompiledPage, { tests }: Look, minute: number): readonly Decision[] {
  const chosen = readKept(cookieIn(headers.cookie, 'seen')).kept
  const at = { page: page.document, pageType: page.pageType }
  const came = { utm: noUtm, referrer: '' }
  const { visitor } = recognise(headers, minute, null, { ...KNOWS_NOTHING, at: () => at }, () => came)
  return [
    ...decide({ draws: [], ladders: page.ladders }, visitor),
    ...page.draws.map((draw): Decision => ({
      key: draw.test,
      version: versionFor(draw, chosen.get(draw.test), tests.includes(draw.test)),
      counted: true,
      reason: { code: 'kept' },
    })),
  ]
}

/** The tests of a page, as the strip tells of them. */
function seenOn(page: CompiledPage, decisions: readonly Decision[], look: Look, { rounds }: Release): readonly SeenTest[] {
  return page.draws.flatMap((draw): SeenTest[] => {
    const round = rounds.find(({ test }) => test === draw.test)
    const shown = decisions.find(({ key }) => key === draw.test)?.version ?? ORIGINAL
    if (round === undefined) return []
    const isDraft = look.rounds.some(({ test }) => test === draw.test)
    return [{ round, shown, state: isDraft ? 'not live yet' : draw.paused ? 'paused' : 'live' }]
  })
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
