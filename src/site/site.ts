import type { IncomingMessage } from 'node:http'
import type { FastifyInstance, FastifyRequest } from 'fastify'
import { STRICT_TRANSPORT } from '@/serving/addresses'
import type { RegionFinder } from '@/serving/regions'
import { methodsAt, notFound, otherMethod, plain, SECURITY, usualPolicies } from './answers'
import type { Asset } from './assets'
import type { LibraryFile } from '@/serving/library-file'
import { noLimits, type Limits } from './collect/allowance'
import { collect, later } from './collect/collecting'
import type { LeftOut } from '@/core/decide'
import type { GoalId } from '@/core/ids'
import type { FormEntry, StampedEvent } from '@/core/events'
import { siteRoutes } from '@/core/site-routes'
import { takeForm } from './collect/forms'
import { GroupCommit } from './collect/group-commit'
import type { CompiledSite } from './compile/compile'
import type { Assets } from './compile/on-a-page'
import { letters } from './outside/letters'
import { outside } from './outside/outside'
import { consent } from './consent'
import { files } from './files'
import { ALL_PAGES, framework } from './framework'
import { cookieIn, readVisitorId } from './serve/cookies'
import { saidOfVisitors } from './said-of-visitors'
import { servingPages } from './serve/pages'
import type { Look } from './see/looks'
import { seeing } from './see/see'

export interface SiteParts {
  /** The newest compiled release; `null` before the first. */
  current(): CompiledSite | null
  readonly assets: ReadonlyMap<string, Asset>
  /** Pictures and films that editors brought, by name, as far as they are loaded. */
  readonly media: ReadonlyMap<string, LibraryFile>
  writeEvents(events: readonly StampedEvent[]): Promise<void>
  keepEntry(entry: FormEntry): Promise<void>
  now(): number
  log(reason: unknown): void
  /** Whether the site is only asked over TLS. */
  readonly secure?: boolean
  /** Whose request it is, by the connection and the proxies that are trusted. */
  addressOf?(request: IncomingMessage): string
  /** Where addresses are; nobody knows where nothing is said. */
  readonly regionOf?: RegionFinder
  readonly limits?: Limits
  /** Where the site is, as others see it: what its own absolute addresses begin with. */
  readonly origin?: string
  /** Headers that say what pages of this site may do and be done to; the usual ones where nothing is said. */
  readonly policies?: Readonly<Record<string, string>>
  /** Goals that a visitor reached and no page could tell of. */
  readonly heardOf?: (visitor: string) => readonly GoalId[]
  /** Told of each page that was shown to somebody who is left out of every test and count. */
  noteLeftOut?(reason: LeftOut): void
  /** What a link from the studio lets its bearer see; nothing where nothing is said. */
  openLook?(key: string): Promise<Look | null>
  /** Where pages find what they are drawn with. */
  readonly addresses?: Assets
  /** The number of the release that is served, for whoever looks after the site. */
  number?(): number
}

const REPORT_LIMIT = 16_384

/** The public site as a server: pages, their assets, forms and the collecting of events. Knows no database. */
export function makeSite(parts: SiteParts): FastifyInstance {
  const { secure = false, limits = noLimits, policies = usualPolicies } = parts
  const everywhere = { ...SECURITY, ...policies, ...(secure ? { 'strict-transport-security': STRICT_TRANSPORT } : {}) }
  const securityLines = Object.entries(everywhere).flat()
  const style = styleAddress(parts.assets)
  const addressFor = (raw: IncomingMessage) => parts.addressOf?.(raw) ?? raw.socket.remoteAddress ?? ''
  const addressOf = ({ raw }: FastifyRequest) => addressFor(raw)
  const commits = new GroupCommit((events) => parts.writeEvents(events))
  const current = () => parts.current()
  const now = () => parts.now()
  const log = (reason: unknown) => parts.log(reason)
  const regionOf = parts.regionOf ?? (() => null)
  const see = seeing({
    ...{ current, now, log, secure, everywhere },
    openLook: async (key) => (await parts.openLook?.(key)) ?? null,
    addresses: parts.addresses ?? { script: scriptAddress(parts.assets), style },
    style: stripStyleAddress(parts.assets),
    wait: (request) => limits('report', { visitor: null, address: addressFor(request) }, now()),
  })
  const servePage = servingPages(
    {
      ...parts,
      ...{ current, now, log, secure, regionOf, securityLines },
      see: (request, response, compiled, page) => see.serve(request, response, compiled, page),
      addressOf: addressFor,
    },
    commits,
  )
  const site = framework({ servePage, log, secure, policies, securityLines })
  files(site, parts)
  see.routes(site)
  consent(site, { current, secure, style })
  const keep = (events: readonly StampedEvent[]) => commits.add(events)
  const wait = (request: FastifyRequest) => {
    const visitor = readVisitorId(cookieIn(request.headers.cookie, 'visitor'))
    return limits('report', { visitor, address: addressOf(request) }, now())
  }
  saidOfVisitors(site, { current, secure, addressOf, wait })
  outside(site, {
    ...{ now, keep, wait },
    origin: parts.origin ?? '',
    release: () => parts.current()?.release ?? null,
    compiled: current,
    later: (reply, reason) => later(reply, reason, parts),
  })
  letters(site, { compiled: current, now, keep, wait, secure, addressOf })
  const around = { ...parts, current, now, keep, addressOf, regionOf, limits, style }
  site.post(siteRoutes.collect.at, { bodyLimit: REPORT_LIMIT }, (request, reply) => collect(request, reply, around))
  site.post(siteRoutes.form.at, (request, reply) => takeForm(request, reply, around))
  site.get(ALL_PAGES, (request, reply) => {
    const compiled = current()
    if (!methodsAt(request.url).includes(request.method)) return otherMethod(request, reply)
    if (compiled === null) return plain(reply, 503, 'The site is starting. Please try again in a moment.')
    if (!servePage(request.raw, reply.raw)) return notFound(reply, compiled, style)
    reply.hijack()
  })
  return site
}

/** Addresses that change with what is behind them, so that browsers may keep them for good. */
export function styleAddress(assets: ReadonlyMap<string, Asset>): string {
  return addressOf(assets, '/look/site.css')
}

/** What the strip of whoever looks by a link is drawn with. */
function stripStyleAddress(assets: ReadonlyMap<string, Asset>): string {
  return addressOf(assets, '/look/see.css')
}

export function scriptAddress(assets: ReadonlyMap<string, Asset>): string {
  return addressOf(assets, '/look/count.js')
}

function addressOf(assets: ReadonlyMap<string, Asset>, path: string): string {
  return `${path}?${assets.get(path)?.etag.replace(/\W/g, '').slice(0, 12) ?? ''}`
}
