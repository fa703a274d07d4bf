import { createHash } from 'node:crypto'
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify'
import fresh from 'fresh'
import * as z from 'zod'
import { allowedOf, decide, devices, matches, noUtm, stranger, type Decision, type Segment, type Visitor } from '@/core/decide'
import { sourceOf } from '@/core/events'
import { armName, drawOf } from '@/core/experiment'
import { testIdSchema, versionIdSchema, type TestId, type VersionId } from '@/core/ids'
import type { Release } from '@/core/release'
import { halfCharacterIn } from '@/core/text'
import { siteRoutes } from '@/core/site-routes'
import { eventIdOf } from '@/serving/event-id'
import type { CompiledSite } from '../compile/compile'

/*
 * Decisions over HTTP by the OpenFeature Remote Evaluation Protocol (https://openfeature.dev/docs/reference/other-technologies/ofrep/):
 * a test is a flag, and what it resolves to the id of a version; a segment is one that is true for whom it fits. Nothing is counted by asking; whoever shows a version
 * reports that it was seen (`kind` “exposure” at /report), by the visitor that the answer names.
 */

const text = z.string().max(300)
/** What is asked about. What is not known here is passed over. */
const contextSchema = z.looseObject({
  targetingKey: z.string().min(1).max(300).optional(),
  device: z.enum(devices).optional(),
  language: z.string().max(20).optional(),
  region: z.string().max(12).optional(),
  visits: z.number().int().min(1).max(100_000).optional(),
  referrer: text.optional(),
  utm_source: text.optional(),
  utm_medium: text.optional(),
  utm_campaign: text.optional(),
  utm_term: text.optional(),
  utm_content: text.optional(),
})
type AskedContext = z.infer<typeof contextSchema>
/** Versions that this visitor was given before, by test: they keep them. */
const keptSchema = z.record(z.string(), z.unknown())

interface ReadContext {
  readonly context: AskedContext
  readonly kept: ReadonlyMap<TestId, VersionId>
  /** What was said of the visitor and cannot be meant: it is as if it were not said. */
  readonly passedOver: readonly string[]
}

/** One thing that cannot be meant costs the conditions that ask for it, and nothing else. */
function readContext(given: Readonly<Record<string, unknown>>): ReadContext {
  const understood: Record<string, unknown> = {}
  const passedOver: string[] = []
  for (const [name, value] of Object.entries(given)) {
    if (name === 'kept') continue
    const fits = contextSchema.safeParse({ [name]: value }).success && halfCharacterIn(value) === null
    if (fits) understood[name] = value
    else passedOver.push(name)
  }
  const kept = new Map<TestId, VersionId>()
  const lines = keptSchema.safeParse(given.kept ?? {})
  if (!lines.success) passedOver.push('kept')
  for (const [test, version] of Object.entries(lines.data ?? {})) {
    const line = z.tuple([testIdSchema, versionIdSchema]).safeParse([test, version])
    if (line.success) kept.set(...line.data)
    else passedOver.push(`kept.${test}`)
  }
  return { context: contextSchema.parse(understood), kept, passedOver: passedOver.map((name) => name.slice(0, 60)).slice(0, 20) }
}
const bodySchema = z.looseObject({ context: z.unknown() })

interface Evaluating {
  compiled(): CompiledSite | null
  now(): number
  /** Seconds until this address may come again; 0 where it may now. */
  wait(request: FastifyRequest): number
  /** Whose key it is, from an origin that it is for; `null` where nobody's. */
  holder(request: FastifyRequest): { readonly id: string } | null
  /** Says to a browser that pages of listed origins may read the answer. */
  allow(request: FastifyRequest, reply: FastifyReply): void
}

export function evaluation(site: FastifyInstance, around: Evaluating): void {
  for (const path of ['/ofrep/v1/evaluate/flags', '/ofrep/v1/evaluate/flags/:key'])
    site.options(path, (request, reply) => {
      around.allow(request, reply)
      return reply
        .code(204)
        .headers({
          'access-control-allow-methods': 'POST',
          'access-control-allow-headers': 'authorization, content-type, if-none-match',
          'access-control-expose-headers': 'etag, retry-after',
          'access-control-max-age': '600',
        })
        .send()
    })

  site.post(siteRoutes.flag.at, { bodyLimit: 65_536 }, (request, reply) => {
    const { key } = request.params as { key: string }
    const asked = begin(request, reply, around, { key })
    if (asked === null) return reply
    const round = asked.release.rounds.find(({ test }) => test === key)
    const segment = asked.release.segments.find(({ id }) => id === key)
    const found = round !== undefined ? evaluated(round, asked) : segment !== undefined ? fitted(segment, asked) : null
    if (found === null)
      return reply
        .code(404)
        .send({ key, errorCode: 'FLAG_NOT_FOUND', errorDetails: 'No test that is live, and no segment, has this id.' })
    return reply.header('cache-control', 'private, no-store').send(found)
  })

  site.post(siteRoutes.flags.at, { bodyLimit: 65_536 }, (request, reply) => {
    const asked = begin(request, reply, around, {})
    if (asked === null) return reply
    const { rounds, segments } = asked.release
    const flags = [...rounds.map((round) => evaluated(round, asked)), ...segments.map((segment) => fitted(segment, asked))]
    const body = JSON.stringify({ flags })
    const etag = `"${createHash('sha256').update(body).digest('base64url').slice(0, 27)}"`
    void reply.headers({ etag, 'cache-control': 'private, no-cache' })
    // A list of tags, a weak one and “*” as well (RFC 9110, 13.1.2).
    if (isKnown(request.headers['if-none-match'], etag)) return reply.code(304).send()
    return reply.header('content-type', 'application/json').send(body)
  })
}

function isKnown(known: string | undefined, etag: string): boolean {
  return known !== undefined && fresh({ 'if-none-match': known }, { etag })
}

interface Asked {
  readonly release: Release
  readonly passedOver: readonly string[]
  readonly visitor: Visitor
}

/** Who asks, and about whom; `null` where that was answered already. */
function begin(request: FastifyRequest, reply: FastifyReply, around: Evaluating, flag: { readonly key?: string }): Asked | null {
  around.allow(request, reply)
  // Else a browser hides from pages of other origins what they would ask with the next time.
  void reply.header('access-control-expose-headers', 'etag, retry-after')
  const refuse = (status: number, answer: object | undefined) => {
    void reply.code(status).send(answer)
    return null
  }
  const compiled = around.compiled()
  if (compiled === null) return refuse(503, { errorDetails: 'The site is starting. Ask again in a moment.' })
  const holder = around.holder(request)
  if (holder === null) {
    void reply.header('www-authenticate', 'Bearer')
    return refuse(401, { errorDetails: 'This needs a key that is listed, from its own origin: Authorization: Bearer …' })
  }
  const wait = around.wait(request)
  if (wait > 0) {
    void reply.header('retry-after', String(wait))
    return refuse(429, undefined)
  }
  const wrong = (errorCode: string, errorDetails: string) => refuse(400, { ...flag, errorCode, errorDetails })
  const body = bodySchema.safeParse(parsed(request.body))
  if (!body.success) return wrong('PARSE_ERROR', 'The body is an object in JSON with a “context”.')
  const given = z.record(z.string(), z.unknown()).safeParse(body.data.context ?? {})
  if (!given.success) return wrong('INVALID_CONTEXT', 'The “context” is an object.')
  const read = readContext(given.data)
  if (read.context.targetingKey === undefined)
    return given.data.targetingKey == null
      ? wrong('TARGETING_KEY_MISSING', 'Who is it for? Name the visitor in “targetingKey”, always the same.')
      : wrong('INVALID_CONTEXT', 'The “targetingKey” is a text of 1 to 300 characters.')
  const { passedOver } = read
  return { release: compiled.release, visitor: visitorOf(read, holder.id, compiled, around.now()), passedOver }
}

/** Says with an answer what of the context could not be meant. */
const saying = ({ passedOver }: Asked) => (passedOver.length === 0 ? {} : { passedOver: passedOver.join(', ') })

function parsed(body: unknown): unknown {
  try {
    return typeof body === 'string' ? JSON.parse(body) : undefined
  } catch {
    return undefined
  }
}

function visitorOf({ context, kept }: ReadContext, holder: string, compiled: CompiledSite, now: number): Visitor {
  const { targetingKey = '', device, language, region, visits, referrer = '' } = context
  const utm = {
    source: context.utm_source ?? noUtm.source,
    medium: context.utm_medium ?? noUtm.medium,
    campaign: context.utm_campaign ?? noUtm.campaign,
    term: context.utm_term ?? noUtm.term,
    content: context.utm_content ?? noUtm.content,
  }
  const words = Object.entries(context).flatMap(([name, value]) => (typeof value === 'string' ? [[name, value] as const] : []))
  return {
    ...stranger,
    attributes: allowedOf(words, compiled.release.attributes),
    // A visitor of this site is known by the id that it gave; whoever else is known by what their own site calls them.
    id: /^[0-9a-f]{32}$/.test(targetingKey) ? targetingKey : eventIdOf(`visitor of ${holder} ${targetingKey}`),
    device: device ?? stranger.device,
    language: language ?? null,
    region: region ?? null,
    visits: visits ?? 1,
    beginning: { source: sourceOf(referrer, utm.source), utm, referrer },
    moment: compiled.momentOf(now),
    kept,
  }
}

type Round = Release['rounds'][number]

function evaluated(round: Round, asked: Asked): object {
  const { visitor } = asked
  // What is kept is told by the test's own name, whatever it is kept as in browsers.
  const [decision] = decide({ draws: [{ ...drawOf(round, round), keptAs: round.test }], ladders: [] }, visitor)
  if (decision === undefined) throw new Error('a draw without a decision')
  const { version, counted, reason } = decision
  return {
    key: round.test,
    value: version,
    variant: version,
    reason: reasonOf(reason),
    metadata: {
      test: round.design.name,
      version: armName(round.design, round.versions, version),
      counted,
      why: reason.code,
      visitor: visitor.id ?? '',
      ...saying(asked),
    },
  }
}

/** Whether a segment fits. */
function fitted({ id, name, condition }: Segment, asked: Asked): object {
  const { visitor } = asked
  const fits = matches(condition, visitor)
  return {
    ...{ key: id, value: fits, variant: fits ? 'in' : 'out', reason: fits ? 'TARGETING_MATCH' : 'STATIC' },
    metadata: { segment: name, visitor: visitor.id ?? '', ...saying(asked) },
  }
}

/** In the words of the protocol. */
function reasonOf({ code }: Decision['reason']): 'SPLIT' | 'DISABLED' | 'STATIC' {
  if (code === 'drawn' || code === 'kept') return 'SPLIT'
  return code === 'paused' || code === 'leftOut' ? 'DISABLED' : 'STATIC'
}
