import * as z from 'zod'
import { utmFields } from '../decide'
import { stayedOn } from '../goals'
import type { VisitorEvent } from '../events'

/** Milliseconds. */
export const SILENCE = 30 * 60_000

/** The visit that a visitor is on, or made last. Moments are milliseconds since 1970. */
export const visitSchema = z.object({
  /** From one. */
  number: z.number(),
  beganAt: z.number(),
  lastAt: z.number(),
  document: z.string(),
  /** The page that was shown last, and all that were shown. */
  lastDocument: z.string(),
  documents: z.array(z.string()),
  /** Did not leave at once. */
  stayed: z.boolean(),
  /** `null` where the first page of the visit did not say it. */
  source: z.string().nullable(),
  device: z.string().nullable(),
  language: z.string().nullable().default(null),
  /** By its code of ISO 3166-2. */
  region: z.string().nullable().default(null),
  utm: z.partialRecord(z.enum(utmFields), z.string()).default({}),
  referrer: z.string().default(''),
  /** What the site said of the visitor then. */
  attributes: z
    .array(z.tuple([z.string(), z.string()]))
    .readonly()
    .default([]),
})
export type Visit = z.infer<typeof visitSchema>

/**
 * The visit after an event: a page that is shown after more than thirty minutes of silence begins the next one, however
 * often it is loaded meanwhile. What is reported from elsewhere is no part of a visit.
 */
export function visitAfter(visit: Visit | null, event: VisitorEvent, bounceSeconds: number): Visit | null {
  if (event.kind === 'order' || event.kind === 'event' || event.kind === 'letter') return visit
  const at = event.at.getTime()
  const isOver = visit === null || at - visit.lastAt > SILENCE
  if (event.kind === 'page' && isOver)
    return {
      number: (visit?.number ?? 0) + 1,
      beganAt: at,
      lastAt: at,
      document: event.document,
      lastDocument: event.document,
      documents: [event.document],
      stayed: false,
      source: event.arrival?.source ?? null,
      device: event.arrival?.device ?? null,
      language: event.arrival?.language ?? null,
      region: event.arrival?.region ?? null,
      utm: event.arrival?.utm ?? {},
      referrer: event.arrival?.referrer ?? '',
      attributes: event.arrival?.attributes ?? [],
    }
  if (isOver) return visit
  return {
    ...visit,
    lastAt: at,
    ...(event.kind === 'page' ? showing(visit, event.document) : {}),
    stayed: visit.stayed || stayedOn(event, bounceSeconds),
  }
}

function showing({ documents }: Visit, document: string): Pick<Visit, 'lastDocument' | 'documents'> {
  return { lastDocument: document, documents: documents.includes(document) ? documents : [...documents, document] }
}
