import * as z from 'zod'
import type { VisitorEvent } from '../../events'
import { goalKind, nothing } from './kind'

/** Did not bounce: did something on the first page of a visit, went on from it, or stayed this long. */
export const noBounce = goalKind(z.object({ kind: z.literal('noBounce'), seconds: z.number().int().min(1).max(600) }), {
  label: 'Somebody does not leave at once',
  words: ({ seconds }) => `the visitor does something, or stays ${seconds} seconds`,
  reaches: ({ seconds }, event) => stayedOn(event, seconds),
  doing: ({ seconds }, { document }) => [{ kind: 'stay', document, seconds }],
  needs: () => nothing,
  seconds: ({ seconds }) => seconds,
  toldByPage: true,
  reported: false,
  begins: () => ({ kind: 'noBounce', seconds: 5 }),
})

/** Anything but being shown the first page of a visit, or leaving it within the seconds. */
export function stayedOn(event: VisitorEvent, seconds: number): boolean {
  switch (event.kind) {
    case 'page':
      return event.arrival === null
    case 'stay':
      return event.seconds >= seconds
    case 'click':
    case 'form':
    case 'outbound':
      return true
    // A refund is nobody’s doing on the page.
    case 'order':
      return event.value >= 0
    default:
      return false
  }
}
