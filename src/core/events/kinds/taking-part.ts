import * as z from 'zod'
import { roundIdSchema, versionIdSchema } from '../../ids'
import { eventKind, inwardKind } from './kind'

const part = { round: roundIdSchema, version: versionIdSchema }
const row = z.object({ round_id: roundIdSchema, version: versionIdSchema })

/** A visitor was drawn into a version of a test. */
export const assigned = inwardKind({
  schema: z.object({ kind: z.literal('assigned'), ...part }),
  row: {
    schema: row,
    write: ({ round, version }) => ({ round_id: round, version }),
    read: ({ round_id: round, version }) => ({ kind: 'assigned' as const, round, version }),
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
