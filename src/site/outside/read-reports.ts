import type * as z from 'zod'
import { halfCharacterIn } from '@/core/text'
import { cloudEventSchema, outsideReportSchema, reportOfCloudEvent, type OutsideReport } from '@/core/goals'

/** What may be sent at once. */
export const MOST_REPORTS = 1000

/** A report that was understood or not, with its place in what was sent, counted from one. */
export type ReadReport =
  | { readonly place: number; readonly report: OutsideReport }
  | { readonly place: number; readonly field: string; readonly fault: string }

export class Unreadable extends Error {}

export const reportTypes = [
  'application/json',
  'application/x-ndjson',
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
  if (type === 'application/x-ndjson')
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
    return JSON.parse(text) as unknown
  } catch {
    return undefined
  }
}

function checked(place: number, value: unknown): ReadReport {
  const half = halfCharacterIn(value)
  if (half !== null) return { place, field: half.join('.'), fault: 'this text holds half a character' }
  const found = outsideReportSchema.safeParse(value)
  return found.success ? { place, report: found.data } : { place, ...firstFault(found.error) }
}

function cloud(place: number, value: unknown): ReadReport {
  const found = cloudEventSchema.safeParse(value)
  return found.success ? checked(place, reportOfCloudEvent(found.data)) : { place, ...firstFault(found.error) }
}

function firstFault(error: z.ZodError): { field: string; fault: string } {
  const [issue] = error.issues
  return { field: issue?.path.join('.') ?? '', fault: issue?.message ?? 'not understood' }
}
