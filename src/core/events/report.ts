import * as z from 'zod'
import { documentIdSchema, type NodeId } from '../ids'
import { allKinds, happeningSchema, type Happening, type VisitorEvent } from './happening'
import type { Received } from './kinds/kind'

const eventId = z.string().regex(/^[0-9a-f]{32}$/, 'an event’s id has 32 hexadecimal digits')

/** The kinds that pages report, each in its compact form with an id made by the page. */
const { seen, page, call, click, outbound, read, stay, speed, event } = allKinds
const reported = { seen, page, call, click, out: outbound, read, stay, speed, event }

const { seen: first, ...others } = reported
const identified = { i: eventId }
const said = z.discriminatedUnion('k', [
  first.wire.schema.extend(identified),
  ...Object.values(others).map(({ wire }) => wire.schema.extend(identified)),
])

/** What the browser script sends: the page it is about, and what happened there. */
export const reportSchema = z.strictObject({ d: documentIdSchema, e: z.array(said).min(1).max(50) })
export type Report = z.infer<typeof reportSchema>

/** An event with what makes taking it in twice harmless, and where it belongs: 0 is live, else a rehearsal's number. */
export type StampedEvent = VisitorEvent & { readonly id: string; readonly crowd: number }

/** The same, read back from where it was kept for a while. */
export const stampedEventSchema = z.intersection(
  z.object({ id: eventId, crowd: z.number().int().min(0), visitor: eventId, at: z.coerce.date() }),
  happeningSchema,
)

/** What only the server knows of a report: who sent it and when, the page as it is served, and how the visit began. */
export interface Sender {
  /** Whether the site shows a component of this id. */
  readonly knows?: (node: NodeId) => boolean
  readonly visitor: string
  readonly at: Date
  readonly crowd: number
  readonly page: Pick<Received, 'path' | 'pageType'>
  readonly arrival: Received['arrival']
}

type Said = Report['e'][number]

/** Each reads what its own schema let through. */
reported satisfies { readonly [K in Said['k']]: { readonly wire: { readonly schema: z.ZodType<{ k: K }> } } }

/** The report with what only the server knows. */
export function stamp(report: Report, { visitor, at, crowd, page: about, arrival, knows = () => false }: Sender): StampedEvent[] {
  const received: Received = { document: report.d, ...about, arrival, knows }
  return report.e.map(({ i: id, ...one }): StampedEvent => {
    const readWire = reported[one.k].wire.read as (said: Omit<Said, 'i'>, received: Received) => Happening
    return { id, crowd, visitor, at, ...readWire(one, received) }
  })
}
