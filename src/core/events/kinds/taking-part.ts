import * as z from 'zod'
import { roundIdSchema, versionIdSchema } from '../../ids'
import { eventKind, inwardKind } from './kind'

const part = { round: roundIdSchema, version: versionIdSchema }
/** Whether a segment fits whoever it is said of. */
const segmentFit = z.string().regex(/^[0-9a-f]{16}[+-]$/)
const segments = z.array(segmentFit).max(20).readonly().optional()
const row = z.object({ round_id: roundIdSchema, version: versionIdSchema })

/** A visitor was drawn into a version of a test, with the segments that fitted then and those that did not. */
export const assigned = inwardKind({
  schema: z.object({ kind: z.literal('assigned'), ...part, segments }),
  row: {
    schema: row.extend({ about: z.object({ segments }).nullish() }),
    write: ({ round, version, segments: fitted }) => ({
      round_id: round,
      version,
      about: fitted === undefined || fitted.length === 0 ? null : { segments: fitted },
    }),
    read: ({ round_id: round, version, about }) => ({
      ...{ kind: 'assigned' as const, round, version },
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
