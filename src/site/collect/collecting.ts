import type { RegionFinder } from '@/serving/regions'
import { keptKey } from '@/core/experiment'
import type { NodeId } from '@/core/ids'
import { halfCharacterIn } from '@/core/text'
import type { FastifyReply, FastifyRequest } from 'fastify'
import { isOwnOrigin, plain, tooMany } from '../answers'
import type { CompiledSite } from '../compile/compile'
import { cookieIn, readAbout, readKept, readVisit, readVisitorId } from '../serve/cookies'
import { deviceFor, languageFor } from '../serve/recognise'
import type { Limits } from './allowance'
import { Overloaded } from './group-commit'
import { reachedBy } from './reached'
import { parsedJson } from './parsed-json'
import { reportSchema, stamp, type StampedEvent } from '@/core/events'

export interface Collecting {
  current(): CompiledSite | null
  /** Resolves when the events are durable. */
  keep(events: readonly StampedEvent[]): Promise<void>
  addressOf(request: FastifyRequest): string
  readonly regionOf: RegionFinder
  readonly limits: Limits
  readonly secure?: boolean
  now(): number
  log(reason: unknown): void
}

/** Takes what the browser script reports: checked, stamped with what only the server knows, durable before it is thanked for. */
export async function collect(request: FastifyRequest, reply: FastifyReply, parts: Collecting): Promise<FastifyReply> {
  if (!isOwnOrigin(request)) return plain(reply, 403, 'Events are taken from pages of this site only.')
  const { cookie } = request.headers
  const visitor = readVisitorId(cookieIn(cookie, 'visitor'))
  const now = parts.now()
  const wait = parts.limits('collect', { visitor, address: parts.addressOf(request) }, now)
  if (wait > 0) return tooMany(reply, wait)
  // Nothing is kept of whoever is left out; they are thanked all the same.
  const compiled = parts.current()
  const isLeftOut = compiled?.leavesOut(request.headers, () => parts.addressOf(request)) ?? null
  if (visitor === null || isLeftOut !== null) return reply.code(204).send()
  const body = parsedJson(request.body)
  // A database refuses it, and with it all that is written in the same statement.
  const half = halfCharacterIn(body)
  if (half !== null) return plain(reply, 400, `${half.join('.') || 'body'}: this text holds half a character`)
  const report = reportSchema.safeParse(body)
  if (!report.success) {
    const [issue] = report.error.issues
    return plain(reply, 400, `${issue?.path.join('.') || 'body'}: ${issue?.message ?? 'not understood'}`)
  }
  if (compiled === null) return later(reply, new Overloaded('no release is loaded yet'), parts)
  const page = compiled.byId.get(report.data.d)
  if (page === undefined) return plain(reply, 400, 'd: there is no such page')
  const visit = readVisit(cookieIn(cookie, 'visit'), Math.floor(now / 60_000))
  const first = visit === null || (visit.pages.length <= 1 && visit.pages[0] === report.data.d)
  const sender = {
    visitor,
    at: new Date(now),
    crowd: 0,
    knows: (node: NodeId) => compiled.knows(node),
    page: { path: page.path, pageType: page.pageType },
    arrival: first
      ? {
          ...(visit === null ? {} : { utm: visit.utm, referrer: visit.referrer }),
          attributes: readAbout(cookieIn(cookie, 'about'), visitor, compiled.signer, compiled.release.attributes),
          device: deviceFor(request.headers),
          language: languageFor(request.headers),
          region: parts.regionOf(parts.addressOf(request)),
        }
      : null,
  }
  // What a newsletter brought here is shown but not counted: who follows a link has chosen to.
  const { carried } = readKept(cookieIn(cookie, 'kept'))
  const isCarried = (event: StampedEvent) =>
    event.kind === 'seen' && compiled.release.rounds.some((round) => round.id === event.round && carried.has(keptKey(round)))
  const events = stamp(report.data, sender).filter((event) => carried.size === 0 || !isCarried(event))
  try {
    if (events.length > 0) await parts.keep(events)
    const reached = reachedBy(events, compiled, { visitor, cookie, secure: parts.secure })
    if (reached !== null) void reply.header('set-cookie', reached)
    return await reply.code(204).send()
  } catch (reason) {
    return later(reply, reason, parts)
  }
}

/** Where they could not be written: an answer that asks to send them again. */
export function later(reply: FastifyReply, reason: unknown, { log }: Pick<Collecting, 'log'>): FastifyReply {
  if (!(reason instanceof Overloaded)) log(reason)
  return plain(reply.header('retry-after', '5'), 503, 'Events cannot be written just now. Send them again.')
}
