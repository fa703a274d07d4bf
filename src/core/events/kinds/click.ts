import * as z from 'zod'
import { documentIdSchema, nodeIdSchema } from '../../ids'
import { markerSchema } from '../marker'
import { chained, chainSchema } from './chain'
import { eventKind } from './kind'

/** From the left and from the top, 0 to 9. */
const spot = z.tuple([z.number().int().min(0).max(9), z.number().int().min(0).max(9)]).readonly()

/** Something was pressed. */
export const click = eventKind({
  schema: z.object({
    kind: z.literal('click'),
    document: documentIdSchema,
    /** The component that was pressed, then those it stands in, from the inside out. */
    nodes: z.array(nodeIdSchema).readonly(),
    markers: z.array(z.string()).readonly(),
    /**
     * Where in the innermost component, in tenths of its width and height; only of one that the site shows, so that
     * nobody can make rows for components that do not exist.
     */
    spot: spot.optional(),
  }),
  row: {
    schema: z.object({
      document_id: documentIdSchema,
      nodes: chainSchema,
      about: z.object({ markers: z.array(z.string()).default([]), spot: spot.optional() }).nullable(),
    }),
    write: ({ document, nodes, markers, spot: where }) => ({
      document_id: document,
      nodes: chained(nodes),
      about:
        markers.length === 0 && where === undefined
          ? null
          : { ...(markers.length === 0 ? {} : { markers }), ...(where === undefined ? {} : { spot: where }) },
    }),
    read: ({ document_id: document, nodes, about }) => ({
      kind: 'click' as const,
      document,
      nodes,
      markers: about?.markers ?? [],
      ...(about?.spot === undefined ? {} : { spot: about.spot }),
    }),
  },
  wire: {
    schema: z.strictObject({
      k: z.literal('click'),
      n: z.array(nodeIdSchema).max(12),
      m: z.array(markerSchema).max(8).default([]),
      p: spot.optional(),
    }),
    read: ({ n, m, p }, { document, knows }) => ({
      ...{ kind: 'click' as const, document, nodes: n, markers: m },
      ...(p !== undefined && n[0] !== undefined && knows(n[0]) ? { spot: p } : {}),
    }),
  },
})
