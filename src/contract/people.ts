import * as z from 'zod'
import { accountIdSchema } from '@/core/ids'
import { accountView, roles, when } from './views'

export const emailSchema = z
  .string()
  .trim()
  .max(254, 'at most 254 characters')
  .regex(/^[^\s@<>()",;:\\[\]]+@[^\s@<>()",;:\\[\]]+$/, 'this is no e-mail address; it looks like name@place.example')
export const personNameSchema = z.string().trim().min(1, 'give a name').max(120, 'at most 120 characters')

export const personLine = accountView.extend({
  /** Invited: has not chosen a password yet. */
  state: z.enum(['invited', 'open', 'closed']),
  seenAt: when.nullable(),
  /** Until when a link that was made for them can be used. */
  linkUntil: when.nullable(),
})
export type PersonLine = z.infer<typeof personLine>

/** A link that is used once, shown to be handed on; and whether it was sent as well. */
export const madeLink = z.object({ link: z.string(), until: when, sent: z.boolean() })

export const personRef = z.object({ person: accountIdSchema })
export const invitation = z.object({ email: emailSchema, name: personNameSchema, role: z.enum(roles) })

export const trailLine = z.object({
  seq: z.number(),
  at: when,
  person: z.string(),
  address: z.string(),
  words: z.string(),
  refused: z.boolean(),
  thingKind: z.string(),
  thing: z.string(),
  /** What the thing is called today, where that is known. */
  thingName: z.string(),
  detail: z.string(),
})
const day = z.iso.date('a day looks like 2026-03-01').nullable().default(null)
export const trailFilter = z.object({
  person: accountIdSchema.nullable().default(null),
  search: z.string().max(120).default(''),
  from: day,
  to: day,
})
export type TrailFilter = z.infer<typeof trailFilter>

export const keptMail = z.object({ seq: z.number(), to: z.string(), subject: z.string(), body: z.string(), at: when })
