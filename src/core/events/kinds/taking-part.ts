import * as z from 'zod'
import { documentIdSchema, roundIdSchema, versionIdSchema } from '../../ids'
import { eventKind, inwardKind } from './kind'

const part = { round: roundIdSchema, version: versionIdSchema }
/** Whether a segment fits whoever it is said of. */
const segmentFit = z.string().regex(/^[0-9a-f]{16}[+-]$/)
const segments = z.array(segmentFit).max(20).readonly().optional()
const row = z.object({ round_id: roundIdSchema, version: versionIdSchema })

/** A visitor was drawn into a version of a test: on which page, with the segments that fitted and those that did not. */
export const assigned = inwardKind({
  schema: z.object({ kind: z.literal('assigned'), ...part, segments, document: documentIdSchema.optional() }),
  row: {
    schema: row.extend({ document_id: documentIdSchema.nullish(), about: z.object({ segments }).nullish() }),
    write: ({ round, version, segments: fitted, document }) => ({
      document_id: document ?? null,
      round_id: round,
      version,
      about: fitted === undefined || fitted.length === 0 ? null : { segments: fitted },
    }),
    read: ({ round_id: round, version, document_id: document, about }) => ({
      ...{ kind: 'assigned' as const, round, version },
      ...(document == null ? {} : { document }),
      ...(about?.segments === undefined ? {} : { segments: about.segments }),
    }),
  },
})

/** What a test varies was really seen. */
export const seen = eventKind({
  schema: z.object({ kind: z.literal('seen'), ...part }),
  row: {
    schema: row,
    write: ({ round, version }) => ({ round_id: round, version }),
    read: ({ round_id: round, version }) => ({ kind: 'seen' as const, round, version }),
  },
  wire: {
    schema: z.strictObject({ k: z.literal('seen'), r: roundIdSchema, v: versionIdSchema }),
    read: ({ r, v }) => ({ kind: 'seen' as const, round: r, version: v }),
  },
})
