import * as z from 'zod'
import { attributesSchema, consentSchema, keepings, leavingOutSchema, leftOutReasons, type LeftOut } from '@/core/decide'
import { identitySchema } from '@/core/identity'
import { isTimeZone } from '@/core/time/zone'
import { asks, nothing, rulesSite } from './action'

export const mailServices = ['none', 'standIn'] as const

/** What an administrator decides for the whole site. */
export const siteSettings = z.object({
  identity: identitySchema,
  /** Whether scripts that variants bring may run for visitors. */
  scripts: z.boolean(),
  /** What worth in money is in. */
  currency: z.string().regex(/^[A-Z]{3}$/, 'a currency has three capital letters, such as EUR (ISO 4217)'),
  /** Whose days and clock everything is counted and shown by: a name of the IANA database. */
  timeZone: z.string().max(60).refine(isTimeZone, 'a time zone such as Europe/Berlin'),
  /** Whoever leaves the first page of a visit within these seconds, having done nothing, has bounced. */
  bounceSeconds: z.number().int().min(1).max(600),
  /** What a new test begins with: how many take part (basis points), and for how long a version is kept. */
  share: z.number().int().min(100, 'at least 1%').max(10_000),
  keeping: z.enum(keepings),
  /** Within how many days a new goal counts. */
  withinDays: z.number().int().min(1).max(90),
  /** Whom no test and no count is for. */
  leavingOut: leavingOutSchema,
  consent: consentSchema,
  /** What the site may say of its visitors, for conditions to ask; nothing else of them is kept. */
  attributes: attributesSchema,
  /** Whether this site is there to be shown: what made-up readers of its newsletters do then counts, and says so. */
  demonstration: z.boolean(),
  /** For how many days the audit trail is kept. */
  auditDays: z.number().int().min(30, 'keep at least 30 days').max(3650, 'keep at most 10 years'),
  /** For how many days what visitors do is kept one by one, of those who still come. Numbers stay. */
  eventDays: z.number().int().min(120, 'keep at least 120 days').max(3650, 'keep at most 10 years'),
  /** After how many days without a visit all that is kept of a visitor goes: not before the longest goal is over. */
  visitorDays: z.number().int().min(90, 'keep at least 90 days').max(3650, 'keep at most 10 years'),
  /** How links to passwords are sent: by hand, or by the stand-in for a mail service. */
  mail: z.enum(mailServices),
})

export const settingActions = {
  /** Pages shown in the last seven days to those who are left out, by why they are. */
  'setting.leftOut': asks(
    nothing,
    z.object({ lately: z.array(z.object({ reason: z.enum(leftOutReasons as [LeftOut, ...LeftOut[]]), times: z.number() })) }),
  ),
  'setting.read': asks(nothing, siteSettings),
  'setting.save': rulesSite(siteSettings.partial(), z.object({ release: z.number() })),
}
