import * as z from 'zod'
import { goalKind, nothing } from './kind'

/** The name of something reported by a script, a snippet or a server. */
export const eventNameSchema = z
  .string()
  .regex(/^[a-z][a-z0-9._-]{0,59}$/, 'an event’s name begins with a small letter and has small letters, digits, “.”, “_” and “-”')

/** Something that is reported by its name. */
export const event = goalKind(z.object({ kind: z.literal('event'), event: eventNameSchema }), {
  label: 'An event is reported',
  words: (wiring) => `“${wiring.event}” is reported`,
  reaches: (wiring, happened) => happened.kind === 'event' && happened.name === wiring.event,
  doing: (wiring) => [{ kind: 'event', name: wiring.event, value: null }],
  needs: () => nothing,
  reported: true,
  begins: () => ({ kind: 'event', event: 'something-happened' }),
})
