import * as z from 'zod'
import { documentIdSchema } from '../../ids'
import { sourceOf } from '../source'
import { eventKind } from './kind'

const arrival = z
  .object({
    source: z.string(),
    device: z.string(),
    language: z.string().nullable().optional(),
    region: z.string().nullable().optional(),
  })
  .nullable()

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
      arrival:
        came === null ? null : { source: sourceOf(h, u), device: came.device, language: came.language, region: came.region },
    }),
  },
})
