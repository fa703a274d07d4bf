import * as z from 'zod'
import { eventNameSchema } from '../../events'
import { goalKind, nothing } from './kind'

/** Something that is reported by its name. */
export const event = goalKind(z.object({ kind: z.literal('event'), event: eventNameSchema }), {
  label: 'An event is reported',
  words: (wiring) => `“${wiring.event}” is reported`,
  reaches: (wiring, happened) => happened.kind === 'event' && happened.name === wiring.event,
  doing: ({ event: name }, { value }) => [{ kind: 'event', name, value }],
  needs: () => nothing,
  toldByPage: true,
  reported: true,
  begins: () => ({ kind: 'event', event: 'something-happened' }),
})
