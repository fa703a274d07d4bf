import * as z from 'zod'
import { utmFields, type Utm } from '../../decide'
import { documentIdSchema } from '../../ids'
import { sourceOf } from '../source'
import { eventKind, type Arrival } from './kind'

const arrival = z
  .object({
    source: z.string(),
    device: z.string(),
    language: z.string().nullable().optional(),
    region: z.string().nullable().optional(),
    /** Those of the address’s own marks that say something. */
    utm: z.partialRecord(z.enum(utmFields), z.string().max(80)).optional(),
    /** The host of the page before, where it is another site’s. */
    referrer: z.string().max(200).optional(),
    attributes: z
      .array(z.tuple([z.string(), z.string()]))
      .readonly()
      .optional(),
  })
  .nullable()

/** What is said of it, and nothing of what is not. */
function arrivedFrom(source: string, { device, language, region, utm, referrer = '', attributes }: Arrival) {
  const marks = utmFields.flatMap((field) => (utm?.[field] ? [[field, utm[field]] as const] : []))
  return {
    ...{ source, device, language, region },
    ...(marks.length === 0 ? {} : { utm: Object.fromEntries(marks) as Partial<Utm> }),
    ...(referrer === '' ? {} : { referrer }),
    ...(attributes === undefined || attributes.size === 0 ? {} : { attributes: [...attributes] }),
  }
}

/** A page was shown. */
export const page = eventKind({
  schema: z.object({
    kind: z.literal('page'),
    document: documentIdSchema,
    path: z.string(),
    pageType: z.string(),
    /** The first page of a visit, with where the visitor came from and on what; `null` for every other page. */
    arrival,
  }),
  row: {
    schema: z.object({
      document_id: documentIdSchema,
      about: z.object({ path: z.string(), pageType: z.string(), arrival }).nullable(),
    }),
    write: ({ document, path, pageType, arrival: came }) => ({
      document_id: document,
      about: { path, pageType, arrival: came },
    }),
    read: ({ document_id: document, about }) => ({
      kind: 'page' as const,
      document,
      ...(about ?? { path: '', pageType: '', arrival: null }),
    }),
  },
  wire: {
    /** Where the browser came from, by its own word: the host of the page before, and the address’s own UTM marks. */
    schema: z.strictObject({ k: z.literal('page'), h: z.string().max(200).optional(), u: z.string().max(80).optional() }),
    read: ({ h = '', u = '' }, { document, path, pageType, arrival: came }) => ({
      kind: 'page' as const,
      document,
      path,
      pageType,
      arrival: came === null ? null : arrivedFrom(sourceOf(h, u), came),
    }),
  },
})
