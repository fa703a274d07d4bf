import { createHash } from 'node:crypto'
import * as z from 'zod'
import { eventNameSchema, happeningSchema, markerSchema, sourceOf, type VisitorEvent } from '@/core/goals'
import { documentIdSchema, nodeIdSchema, roundIdSchema, versionIdSchema } from '@/core/ids'

/** In the currency of the site. */
export const reportedValue = z.number().min(-1_000_000).max(1_000_000)

const eventId = z.string().regex(/^[0-9a-f]{32}$/, 'an event’s id has 32 hexadecimal digits')

/** Where the browser came from, by its own word: the host of the page before, and the address’s own UTM marks. */
const arrivedFrom = { h: z.string().max(200).optional(), u: z.string().max(80).optional() }

/** What the browser script sends: the page it is about, and what happened there, each with an id made by the sender. */
export const reportSchema = z.strictObject({
  d: documentIdSchema,
  e: z
    .array(
      z.discriminatedUnion('k', [
        z.strictObject({ i: eventId, k: z.literal('page'), ...arrivedFrom }),
        z.strictObject({ i: eventId, k: z.literal('seen'), r: roundIdSchema, v: versionIdSchema }),
        z.strictObject({ i: eventId, k: z.literal('call'), c: documentIdSchema }),
        z.strictObject({
          i: eventId,
          k: z.literal('click'),
          n: z.array(nodeIdSchema).max(12),
          m: z.array(markerSchema).max(8).default([]),
        }),
        z.strictObject({ i: eventId, k: z.literal('out'), a: z.url().max(500) }),
        z.strictObject({ i: eventId, k: z.literal('read'), n: nodeIdSchema }),
        z.strictObject({ i: eventId, k: z.literal('stay'), s: z.number().int().min(1).max(3600) }),
        z.strictObject({ i: eventId, k: z.literal('event'), w: eventNameSchema, x: reportedValue.optional() }),
      ]),
    )
    .min(1)
    .max(50),
})
export type Report = z.infer<typeof reportSchema>

/** An event with what makes taking it in twice harmless, and where it belongs: 0 is live, else a rehearsal's number. */
export type StampedEvent = VisitorEvent & { readonly id: string; readonly source: number }

/** The same, read back from where it was kept for a while. */
export const stampedEventSchema = z.intersection(
  z.object({ id: eventId, source: z.number().int().min(0), visitor: eventId, at: z.coerce.date() }),
  happeningSchema,
)

/** The id of an event that is made here and not by a browser: 128 bits of SHA-256, so that the same thing is the same event. */
export function eventIdOf(what: string): string {
  return createHash('sha256').update(what).digest('hex').slice(0, 32)
}

/** What only the server knows of a report: who sent it and when, the page as it is served, and how the visit began. */
export interface Sender {
  readonly visitor: string
  readonly at: Date
  readonly source: number
  readonly page: { readonly path: string; readonly pageType: string }
  /** `null` where this is not the first page of a visit. */
  readonly arrival: { readonly device: string; readonly campaign: string | null } | null
}

/** The report with what only the server knows. */
export function stamp(report: Report, { visitor, at, source, page, arrival }: Sender): StampedEvent[] {
  return report.e.map((event): StampedEvent => {
    const shared = { id: event.i, source, visitor, at }
    switch (event.k) {
      case 'page': {
        const from = sourceOf(event.h ?? '', event.u ?? '')
        const came = arrival === null ? null : { source: from, device: arrival.device }
        return { ...shared, kind: 'page', document: report.d, ...page, arrival: came }
      }
      case 'seen':
        return { ...shared, kind: 'seen', round: event.r, version: event.v }
      case 'call':
        return { ...shared, kind: 'call', document: report.d, call: event.c }
      case 'click':
        return { ...shared, kind: 'click', document: report.d, nodes: event.n, markers: event.m }
      case 'out':
        return { ...shared, kind: 'outbound', document: report.d, address: event.a }
      case 'read':
        return { ...shared, kind: 'read', document: report.d, node: event.n }
      case 'stay':
        return { ...shared, kind: 'stay', document: report.d, seconds: event.s }
      case 'event':
        return { ...shared, kind: 'event', name: event.w, value: event.x ?? null }
      default:
        return event satisfies never
    }
  })
}
