import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify'
import { callToActionText } from '@/components/call-to-action/fields'
import { propsOf } from '@/components/component-type'
import { ORIGINAL } from '@/core/decide'
import { nodeAt } from '@/core/document'
import { keptKey } from '@/core/experiment'
import { documentIdSchema, type TestId, type VersionId } from '@/core/ids'
import type { Release } from '@/core/release'
import { readUrl } from '@/core/url'
import { callAs, readSignedPass, roundOn, type Pass } from '@/core/letter'
import { signerWith } from '@/serving/signer'
import type { StampedEvent } from '@/core/events'
import { siteRoutes } from '@/core/site-routes'
import { letterEvent, letterExposure } from '@/serving/letter-events'
import type { CompiledSite } from '../compile/compile'
import { inHeader, plain } from '../answers'
import { cookieIn, readKept, readVisitorId, writeKept, writeVisitor } from '../serve/cookies'
import { PIXEL } from './pixel'

interface Around {
  compiled(): CompiledSite | null
  readonly secure: boolean
  /** Seconds until this address may come again; 0 where it may now. */
  wait(request: FastifyRequest): number
  addressOf(request: FastifyRequest): string
  now(): number
  /** Resolves when the events are durable. */
  keep(events: readonly StampedEvent[]): Promise<void>
}

/** What the links and the picture in a newsletter lead to. */
export function letters(site: FastifyInstance, around: Around): void {
  site.get(siteRoutes.letterFollow.at, (request, reply) => follow(request, reply))
  site.get(siteRoutes.letterImage.at, (request, reply) => image(request, reply))

  /**
   * To where the call to action leads, as the version in the letter has it. A browser without an id takes the
   * recipient’s, who was drawn by lot when the letter was sent; one that has its own is shown the version that the
   * letter showed, where it has not been given one, but is not counted: who follows a link has chosen to.
   */
  function follow(request: FastifyRequest, reply: FastifyReply) {
    const compiled = around.compiled()
    const { pass: text, call: id } = request.query as { pass?: unknown; call?: unknown }
    const pass = passIn(text)
    const callId = documentIdSchema.safeParse(id)
    const call = compiled?.release.documents.find((one) => one.id === callId.data && one.kind === 'callToAction')
    if (compiled === null || pass === null || call === undefined)
      return plain(reply, 404, 'This link is not, or is no longer, one of this site’s letters.')
    const round = roundOn(call.id, compiled.release.rounds)
    const version = round === undefined ? ORIGINAL : (pass.carried.get(round.test) ?? ORIGINAL)
    const shown = callAs(call, round, version)
    const to = compiled.view.addressOf(propsOf(callToActionText, nodeAt(shown, shown.root)).link)
    const { cookie } = request.headers
    if (compiled.leavesOut(request.headers, () => around.addressOf(request)) === null) {
      const own = readVisitorId(cookieIn(cookie, 'visitor'))
      const visitor = own ?? pass.recipient
      if (own === null) void reply.header('set-cookie', writeVisitor(visitor, around.secure))
      const before = readKept(cookieIn(cookie, 'kept'))
      const isStranger = own !== null && own !== pass.recipient
      const brought = keptFrom(pass, compiled.release.rounds, isStranger).filter(([key]) => !before.kept.has(key))
      if (brought.length > 0) {
        const kept = new Map([...before.kept, ...brought])
        const carried = new Set<TestId>([...before.carried, ...(isStranger ? brought.map(([key]) => key) : [])])
        void reply.header('set-cookie', writeKept({ ...before, kept, carried }, around.secure))
      }
      // On the way, and never waited for: a visitor is not kept back by counting.
      if (around.wait(request) === 0)
        void around.keep([letterEvent(pass, call.id, visitor, 'followed', new Date(around.now()))]).catch(() => undefined)
    }
    return reply
      .code(302)
      .headers({ location: inHeader(withMarks(to, request.url)), 'cache-control': 'no-store', 'referrer-policy': 'no-referrer' })
      .send()
  }

  function passIn(text: unknown): Pass | null {
    const key = around.compiled()?.release.letterKey ?? ''
    return typeof text === 'string' ? readSignedPass(text, signerWith(key)) : null
  }

  /** Asked for when the letter is opened; names the calls to action in it. */
  function image(request: FastifyRequest, reply: FastifyReply) {
    const { pass: text, calls } = request.query as { pass?: unknown; calls?: unknown }
    const pass = around.wait(request) > 0 ? null : passIn(text)
    const compiled = around.compiled()
    if (pass !== null && compiled !== null && typeof calls === 'string') {
      const known = new Set<string>(compiled.release.documents.map(({ id }) => id))
      const named = calls
        .split('.')
        .slice(0, 20)
        .map((id) => documentIdSchema.safeParse(id))
      const ids = named.flatMap(({ data }) => (data !== undefined && known.has(data) ? [data] : []))
      const at = new Date(around.now())
      const events = [
        ...ids.map((call) => letterEvent(pass, call, pass.recipient, 'shown', at)),
        ...compiled.release.rounds.flatMap((round) => letterExposure(pass, round, at)),
      ]
      if (events.length > 0) void around.keep(events).catch(() => undefined)
    }
    return reply
      .headers({ 'content-type': 'image/gif', 'cache-control': 'no-store', 'cross-origin-resource-policy': 'cross-origin' })
      .send(PIXEL)
  }
}

/** The address’s own UTM marks go along, so that the visit is known to come from the letter. */
function withMarks(to: string, from: string): string {
  const marks = new URLSearchParams(
    [...(readUrl(from, 'http://site')?.searchParams ?? [])].filter(([name]) => name.startsWith('utm_')),
  ).toString()
  if (marks === '' || !to.startsWith('/')) return to
  const [path = '', place] = to.split('#')
  return `${path}${path.includes('?') ? '&' : '?'}${marks}${place === undefined ? '' : `#${place}`}`
}

/**
 * What the letter showed, as a browser keeps it. Once everybody was drawn anew since a test began, whoever takes the
 * recipient’s id draws by that, and only a stranger is told: the letter may be older than the lots of now.
 */
function keptFrom({ carried }: Pass, rounds: Release['rounds'], isStranger: boolean): [TestId, VersionId][] {
  return [...carried].flatMap(([test, version]): [TestId, VersionId][] => {
    const round = rounds.find((one) => one.test === test)
    if (round === undefined || round.generation === 0) return [[test, version]]
    return isStranger ? [[keptKey(round), version]] : []
  })
}
