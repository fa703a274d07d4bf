import * as z from 'zod'
import { goalKind, nothing } from './kind'

/** One page was looked at this long. */
export const stay = goalKind(z.object({ kind: z.literal('stay'), seconds: z.number().int().min(1).max(3600) }), {
  label: 'Somebody stays on a page',
  words: ({ seconds }) => `the visitor stays ${seconds} seconds on one page`,
  reaches: ({ seconds }, event) => event.kind === 'stay' && event.seconds >= seconds,
  doing: ({ seconds }, { document }) => [{ kind: 'stay', document, seconds }],
  needs: () => nothing,
  seconds: ({ seconds }) => seconds,
  toldByPage: true,
  reported: false,
  begins: () => ({ kind: 'stay', seconds: 30 }),
})
