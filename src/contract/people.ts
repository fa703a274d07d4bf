import * as z from 'zod'
import { accountIdSchema } from '@/core/ids'
import { accountView, edits, listOf, nothing, paging, roles, rulesSite, seesAll, when } from './action'

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
const dayOrNone = z.iso.date('a day looks like 2026-03-01').nullable().default(null)
export const trailFilter = z.object({
  person: accountIdSchema.nullable().default(null),
  search: z.string().max(120).default(''),
  from: dayOrNone,
  to: dayOrNone,
})
export type TrailFilter = z.infer<typeof trailFilter>

export const keptMail = z.object({ seq: z.number(), to: z.string(), subject: z.string(), body: z.string(), at: when })

export const peopleActions = {
  'person.list': seesAll(nothing, z.object({ people: z.array(personLine) })),
  'person.invite': rulesSite(invitation, madeLink),
  'person.setRole': rulesSite(personRef.extend({ role: z.enum(roles) }), nothing),
  'person.disable': rulesSite(personRef.extend({ disabled: z.boolean() }), nothing),
  /** A link to a new password; whoever is invited and has lost theirs gets another invitation. */
  'person.reset': rulesSite(personRef, madeLink),
  'person.signOut': rulesSite(personRef, nothing),
  /** One's own name and e-mail; for another e-mail the password has to be given. */
  'self.save': edits(z.object({ name: personNameSchema, email: emailSchema, password: z.string().max(200).optional() }), nothing),
  /** What the stand-in for a mail service was given to send. */
  'mail.list': seesAll(nothing, z.object({ on: z.boolean(), mails: z.array(keptMail) })),
  /** Who did what to what. */
  'trail.list': seesAll(trailFilter.extend({ page: paging.page }), listOf(trailLine)),
  'trail.table': seesAll(trailFilter, z.object({ csv: z.string() })),
}
