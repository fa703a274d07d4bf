import * as z from 'zod'
import { documentIdSchema } from '../../ids'
import { eventKind } from './kind'

/** Milliseconds; a page that takes longer is looked at by nobody. */
const MOST = 120_000
const MOST_SHIFT = 100
const milliseconds = z.number().min(0).max(MOST)
const measured = {
  /** Until the largest thing in view was painted (by the W3C’s measure of it). */
  paint: milliseconds.nullable(),
  /** The slowest answer to a press or a key (W3C Event Timing). */
  response: milliseconds.nullable(),
  /** How far things moved that nobody had asked to (W3C Layout Instability), in the worst five seconds. */
  shift: z.number().min(0).max(MOST_SHIFT).nullable(),
}

const within = (measured: number | undefined, most: number) =>
  measured === undefined || measured < 0 ? null : Math.min(most, measured)

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
      // However absurd: what is refused here would take with it all that was sent together.
      l: z.number().optional(),
      p: z.number().optional(),
      f: z.number().optional(),
    }),
    read: ({ l, p, f }, { document }) => ({
      kind: 'speed' as const,
      document,
      paint: within(l, MOST),
      response: within(p, MOST),
      shift: within(f, MOST_SHIFT),
    }),
  },
})
