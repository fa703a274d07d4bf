import type * as z from 'zod'
import { halfCharacterIn } from '@/core/text'
import { eventIdOf } from '@/serving/event-id'
import { cloudEventSchema, outsideReportSchema, reportOfCloudEvent, type CloudEvent, type OutsideReport } from '@/core/goals'

/** What may be sent at once. */
export const MOST_REPORTS = 1000

/** A report that was understood or not, with its place in what was sent, counted from one. */
export type ReadReport =
  | {
      readonly place: number
      readonly report: OutsideReport
      /** As its sender calls it. */
      readonly id: string
      /** What makes it one: sent again, it is the same. */
      readonly identity: string
    }
  | { readonly place: number; readonly field: string; readonly fault: string }

export class Unreadable extends Error {}

export const reportTypes = [
  'application/json',
  'application/x-ndjson',
  'application/jsonl',
  'application/cloudevents+json',
  'application/cloudevents-batch+json',
] as const
export type ReportType = (typeof reportTypes)[number]

/**
 * Reports in any of the forms that are taken: JSON (one, or a list), NDJSON (one a line), CloudEvents 1.0 structured and
 * batched. Each is judged by itself.
 *
 * @throws {Unreadable} where the whole cannot be read as what it says it is
 */
export function readReports(type: ReportType, body: string): ReadReport[] {
  if (type === 'application/x-ndjson' || type === 'application/jsonl')
    return bounded(body.split(/\r?\n/).flatMap((line, index) => (line.trim() === '' ? [] : [[index + 1, line] as const]))).map(
      ([place, line]) => {
        const value = parsed(line)
        return value === undefined ? { place, field: '', fault: 'this line is no JSON' } : checked(place, value)
      },
    )
  const value = parsed(body)
  if (value === undefined) throw new Unreadable('The body is no JSON.')
  const many = Array.isArray(value) ? (value as unknown[]) : null
  if (type === 'application/cloudevents-batch+json' && many === null) throw new Unreadable('A batch of CloudEvents is a list.')
  if (type === 'application/cloudevents+json' && many !== null) throw new Unreadable('One structured CloudEvent is an object.')
  const isCloud = type !== 'application/json'
  return bounded(many ?? [value]).map((one, index) => (isCloud ? cloud(index + 1, one) : checked(index + 1, one)))
}

function bounded<Of>(list: Of[]): Of[] {
  if (list.length === 0) throw new Unreadable('There is nothing in it.')
  if (list.length > MOST_REPORTS) throw new Unreadable(`At most ${MOST_REPORTS} reports may come at once.`)
  return list
}

function parsed(text: string): unknown {
  try {
    // Some programs put a byte-order mark before it.
    return JSON.parse(text.replace(/^\uFEFF/, '')) as unknown
  } catch {
    return undefined
  }
}

function checked(place: number, value: unknown): ReadReport {
  const half = halfCharacterIn(value)
  if (half !== null) return { place, field: half.join('.'), fault: 'this text holds half a character' }
  const found = outsideReportSchema.safeParse(value)
  if (!found.success) return { place, ...firstFault(found.error) }
  return { place, report: found.data, id: found.data.id, identity: found.data.id }
}

function cloud(place: number, value: unknown): ReadReport {
  const half = halfCharacterIn(value)
  if (half !== null) return { place, field: half.join('.'), fault: 'this text holds half a character' }
  const found = cloudEventSchema.safeParse(value)
  if (!found.success) return { place, ...firstFault(found.error) }
  const { data_base64: packed, ...bare } = found.data
  if (packed == null) return reported(place, bare)
  if (bare.data != null) return { place, field: 'data_base64', fault: 'an event has data or data_base64, and not both' }
  const text = Buffer.from(packed, 'base64').toString('utf8')
  // What says that it is no JSON is not read, and says nothing more.
  if (!isJson(bare.datacontenttype)) return reported(place, bare)
  if (text.trim() === '') return reported(place, bare)
  const data = parsed(text)
  if (data === undefined) return { place, field: 'data', fault: 'it is said to be JSON and is none' }
  const again = cloudEventSchema.safeParse({ ...bare, data })
  if (halfCharacterIn(data) !== null) return { place, field: 'data', fault: 'this text holds half a character' }
  return again.success ? reported(place, again.data) : { place, ...firstFault(again.error) }
}

function reported(place: number, event: CloudEvent): ReadReport {
  const { id, source, data } = event
  const identity = `cloud event ${JSON.stringify([source, id])}`
  const read = checked(place, reportOfCloudEvent(event, eventIdOf(identity), data))
  return 'report' in read ? { ...read, id, identity } : read
}

/** JSON where nothing is said (CloudEvents JSON format 1.0.2, 3.1.1). */
function isJson(type: string | null | undefined): boolean {
  return type == null || /^[^;]*[/+]json\s*(;|$)/i.test(type)
}

/** Headers of a request, by their names in small letters. */
type Headers = Readonly<Record<string, string | string[] | undefined>>

/** Whether a request is a CloudEvent in the binary mode: its attributes in headers, its data as the body. */
export function isBinaryCloudEvent(headers: Headers): boolean {
  // What says that it is structured is that, whatever headers stand beside it (HTTP protocol binding 1.0.2, 3).
  if (String(headers['content-type']).trim().toLowerCase().startsWith('application/cloudevents')) return false
  return headers['ce-specversion'] !== undefined || headers['ce-id'] !== undefined
}

/**
 * An event in the binary mode (CloudEvents HTTP protocol binding 1.0.2, 3.1). It is put into the structured one, so that both
 * are judged by the same lines.
 */
export function readBinary(headers: Headers, body: string): ReadReport[] {
  const attributes = Object.entries(headers).flatMap(([name, value]) =>
    // Its data are the body, and of what type they are is a header of its own.
    typeof value === 'string' && /^ce-(?!data)/.test(name) ? [[name.slice(3), headerText(value)] as const] : [],
  )
  const type = headers['content-type']
  return [
    cloud(1, {
      ...Object.fromEntries(attributes),
      ...(typeof type === 'string' ? { datacontenttype: type } : {}),
      ...(body === '' ? {} : { data_base64: Buffer.from(body).toString('base64') }),
    }),
  ]
}

/** What is outside ASCII comes percent-encoded in a header (3.1.3.2), and quotes may stand around the whole. */
function headerText(value: string): string {
  const bare = /^".*"$/.test(value) ? value.slice(1, -1).replace(/\\(.)/g, '$1') : value
  try {
    return decodeURIComponent(bare)
  } catch {
    return bare
  }
}

function firstFault(error: z.ZodError): { field: string; fault: string } {
  const [issue] = error.issues
  return { field: issue?.path.join('.') ?? '', fault: issue?.message ?? 'not understood' }
}
