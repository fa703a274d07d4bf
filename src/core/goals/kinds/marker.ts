import * as z from 'zod'
import { markerSchema } from '../../events'
import { goalKind } from './kind'

/** A press on anything that carries the marker. */
export const marker = goalKind(z.object({ kind: z.literal('marker'), marker: markerSchema }), {
  label: 'Anything with a marker is pressed',
  words: (wiring) => `anything marked “${wiring.marker}” is pressed`,
  reaches: (wiring, event) => event.kind === 'click' && event.markers.includes(wiring.marker),
  doing: (wiring, { document }) => [{ kind: 'click', document, nodes: [], markers: [wiring.marker] }],
  needs: (wiring) => ({ kind: 'marker', marker: wiring.marker }),
  toldByPage: true,
  reported: false,
  begins: () => ({ kind: 'marker', marker: 'reserve' }),
})
