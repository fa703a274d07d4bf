import * as z from 'zod'
import { goalKind } from './kind'

/** A name that several components carry, so that a press on any of them is one goal. */
export const markerSchema = z.string().regex(/^[a-z][a-z0-9-]{0,39}$/, 'a marker has small letters, digits and “-”, 1 to 40')

/** A press on anything that carries the marker. */
export const marker = goalKind(z.object({ kind: z.literal('marker'), marker: markerSchema }), {
  label: 'Anything with a marker is pressed',
  words: (wiring) => `anything marked “${wiring.marker}” is pressed`,
  reaches: (wiring, event) => event.kind === 'click' && event.markers.includes(wiring.marker),
  doing: (wiring, { document }) => [{ kind: 'click', document, nodes: [], markers: [wiring.marker] }],
  needs: (wiring) => ({ kind: 'marker', marker: wiring.marker }),
  reported: false,
  begins: () => ({ kind: 'marker', marker: 'reserve' }),
})
