import * as z from 'zod'
import { documentIdSchema } from '../../ids'
import { eventKind } from './kind'

/** Milliseconds; a page that takes longer is looked at by nobody. */
const milliseconds = z.number().min(0).max(120_000)
const measured = {
  /** Until the largest thing in view was painted (W3C Largest Contentful Paint). */
  paint: milliseconds.nullable(),
  /** The slowest answer to a press or a key (W3C Event Timing). */
  response: milliseconds.nullable(),
  /** How far things moved that nobody had asked to (W3C Layout Instability), in the worst five seconds. */
  shift: z.number().min(0).max(100).nullable(),
}

/** How fast a page was in a visitor’s own browser, as far as that measures it: said once, when the page is left. */
export const speed = eventKind({
  schema: z.object({ kind: z.literal('speed'), document: documentIdSchema, ...measured }),
  row: {
    schema: z.object({ document_id: documentIdSchema, about: z.object(measured) }),
    write: ({ document, paint, response, shift }) => ({ document_id: document, about: { paint, response, shift } }),
    read: ({ document_id: document, about }) => ({ kind: 'speed' as const, document, ...about }),
  },
  wire: {
    schema: z.strictObject({
      k: z.literal('speed'),
      l: milliseconds.optional(),
      p: milliseconds.optional(),
      f: z.number().min(0).max(100).optional(),
    }),
    read: ({ l = null, p = null, f = null }, { document }) => ({
      kind: 'speed' as const,
      document,
      paint: l,
      response: p,
      shift: f,
    }),
  },
})
