import * as z from 'zod'
import { documentIdSchema, nodeIdSchema } from '../../ids'
import { markerSchema } from '../marker'
import { chained, chainSchema } from './chain'
import { eventKind } from './kind'

/** Something was pressed. */
export const click = eventKind({
  schema: z.object({
    kind: z.literal('click'),
    document: documentIdSchema,
    /** The component that was pressed, then those it stands in, from the inside out. */
    nodes: z.array(nodeIdSchema).readonly(),
    markers: z.array(z.string()).readonly(),
  }),
  row: {
    schema: z.object({
      document_id: documentIdSchema,
      nodes: chainSchema,
      about: z.object({ markers: z.array(z.string()) }).nullable(),
    }),
    write: ({ document, nodes, markers }) => ({
      document_id: document,
      nodes: chained(nodes),
      about: markers.length === 0 ? null : { markers },
    }),
    read: ({ document_id: document, nodes, about }) => ({
      kind: 'click' as const,
      document,
      nodes,
      markers: about?.markers ?? [],
    }),
  },
  wire: {
    schema: z.strictObject({
      k: z.literal('click'),
      n: z.array(nodeIdSchema).max(12),
      m: z.array(markerSchema).max(8).default([]),
    }),
    read: ({ n, m }, { document }) => ({ kind: 'click' as const, document, nodes: n, markers: m }),
  },
})
