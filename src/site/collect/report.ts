import * as z from 'zod'
import type { VisitorEvent } from '@/core/goals'
import { documentIdSchema, nodeIdSchema, roundIdSchema, versionIdSchema } from '@/core/ids'

const eventId = z.string().regex(/^[0-9a-f]{32}$/, 'an event’s id has 32 hexadecimal digits')

/** What the browser script sends: the page it is about, and what happened there, each with an id made by the sender. */
export const reportSchema = z.strictObject({
  d: documentIdSchema,
  e: z
    .array(
      z.discriminatedUnion('k', [
        z.strictObject({ i: eventId, k: z.literal('page') }),
        z.strictObject({ i: eventId, k: z.literal('seen'), r: roundIdSchema, v: versionIdSchema }),
        z.strictObject({ i: eventId, k: z.literal('call'), c: documentIdSchema }),
        z.strictObject({ i: eventId, k: z.literal('click'), n: z.array(nodeIdSchema).min(1).max(12) }),
      ]),
    )
    .min(1)
    .max(50),
})
export type Report = z.infer<typeof reportSchema>

/** An event with what makes taking it in twice harmless, and where it belongs: 0 is live, else a rehearsal's number. */
export type StampedEvent = VisitorEvent & { readonly id: string; readonly source: number }

/** The report with what only the server knows: who, when, and for which count. */
export function stamp(report: Report, visitor: string, at: Date, source: number): StampedEvent[] {
  return report.e.map((event): StampedEvent => {
    const shared = { id: event.i, source, visitor, at }
    switch (event.k) {
      case 'page':
        return { ...shared, kind: 'page', document: report.d }
      case 'seen':
        return { ...shared, kind: 'seen', round: event.r, version: event.v }
      case 'call':
        return { ...shared, kind: 'call', document: report.d, call: event.c }
      case 'click':
        return { ...shared, kind: 'click', document: report.d, nodes: event.n }
      default:
        return event satisfies never
    }
  })
}
