import type { FastifyReply, FastifyRequest } from 'fastify'
import { happenedOutside, type OutsideReport } from '@/core/goals'
import type { StampedEvent } from '@/core/events'
import type { RoundId, TestId, VersionId } from '@/core/ids'
import type { Release } from '@/core/release'
import { eventIdOf } from '@/serving/event-id'
import { plain, tooMany } from '../answers'
import { isBinaryCloudEvent, readBinary, readReports, reportTypes, Unreadable, type ReportType } from './read-reports'
import type { Reporter, Reporters } from './reporters'

export interface Taking {
  release(): Release | null
  now(): number
  /** Resolves when the events are durable. */
  keep(events: readonly StampedEvent[]): Promise<void>
  /** Seconds until this address may come again; 0 where it may now. */
  wait(request: FastifyRequest): number
  /** Where they could not be written: an answer that asks to send them again. */
  later(reply: FastifyReply, reason: unknown): FastifyReply
}

/** Reports of what happened elsewhere, each kept or refused by itself. */
export async function takeReports(request: FastifyRequest, reply: FastifyReply, reporters: Reporters, around: Taking) {
  reporters.allow(request, reply)
  const release = around.release()
  if (release === null) return plain(reply.header('retry-after', '5'), 503, 'The site is starting. Send it again.')
  const reporter = reporters.bearer(request)
  if (reporter === undefined)
    return plain(reply.header('www-authenticate', 'Bearer'), 401, 'This needs a key that is listed: Authorization: Bearer …')
  const wait = around.wait(request)
  if (wait > 0) return tooMany(reply, wait)
  const { origin } = request.headers
  if (origin !== undefined && origin !== reporter.origin) return plain(reply, 403, `This key is for ${reporter.origin}.`)
  const coding = request.headers['content-encoding'] ?? 'identity'
  if (coding !== 'identity') return plain(reply.header('accept-encoding', 'identity'), 415, 'Send it as it is, not packed.')
  const type = (request.headers['content-type'] ?? '').split(';')[0]?.trim().toLowerCase()
  const isBinary = isBinaryCloudEvent(request.headers)
  if (!isBinary && !reportTypes.includes(type as ReportType))
    return plain(reply, 415, `Send one of: ${reportTypes.join(', ')}; or a CloudEvent in the binary mode.`)
  const body = typeof request.body === 'string' ? request.body : ''
  let read: Read
  try {
    read = isBinary ? readBinary(request.headers, body) : readReports(type as ReportType, body)
  } catch (reason) {
    if (!(reason instanceof Unreadable)) throw reason
    return reply.code(400).send({ kept: [], refused: [{ place: 0, field: '', fault: reason.message }] })
  }
  const { kept, refused } = sorted(read, release, reporter, around.now())
  try {
    if (kept.length > 0) await around.keep(kept.map(({ event }) => event))
  } catch (reason) {
    return around.later(reply, reason)
  }
  return reply.code(refused.length > 0 ? 400 : 200).send({ kept: kept.map(({ id }) => id), refused })
}

type Read = ReturnType<typeof readReports>

/** What is an event, and what is none, with the reason. */
function sorted(read: Read, release: Release, reporter: Reporter, now: number) {
  const refused: { place: number; field: string; fault: string }[] = []
  const kept: { id: string; event: StampedEvent }[] = []
  for (const one of read) {
    if (!('report' in one)) {
      refused.push(one)
      continue
    }
    const outcome = happenedOutside(one.report, now, { currency: release.currency, roundOf: roundIn(release) })
    if ('fault' in outcome) refused.push({ place: one.place, field: outcome.field, fault: outcome.fault })
    else kept.push({ id: one.id, event: { ...outcome.happening, at: outcome.at, ...stampOf(one, reporter) } })
  }
  return { kept, refused }
}

function roundIn({ rounds }: Release): (test: TestId, version: VersionId) => RoundId | null {
  return (test, version) => {
    const round = rounds.find((one) => one.test === test)
    return round?.design.arms.some((arm) => arm.version === version) === true ? round.id : null
  }
}

/** What is sent again, by the same key under the same id, is the same event. An order is one by its number, whoever reports it. */
function stampOf(
  { report, identity }: { report: OutsideReport; identity: string },
  { id }: Reporter,
): { id: string; crowd: number; visitor: string } {
  const own = report.kind === 'order' ? `order ${report.order} ` : `${id} ${identity}`
  return { id: eventIdOf(own), crowd: 0, visitor: report.visitor ?? eventIdOf(`nobody ${own}`) }
}
