import * as z from 'zod'
import { editsSchema } from '@/core/document'
import { documentIdSchema, testIdSchema, versionIdSchema } from '@/core/ids'
import { asks, goesLive, listOf, lock, nothing, paging, when } from './action'

/** A share between 0 and 1. */
const part = z.number().min(0).max(1)

/** What a simulated sending is told: how many people of the made-up list get the letter, and what is true of them. */
export const sendingPlan = z.object({
  readers: z.number().int().min(10, 'at least 10 readers').max(50_000, 'at most 50,000 readers'),
  opens: part,
  follows: z.object({ original: part, variant: part }),
  buys: part,
  /** What each of those orders, in the currency of the site. */
  value: z.number().min(0).max(100_000),
})
export type SendingPlan = z.infer<typeof sendingPlan>

export const letterLine = z.object({
  id: documentIdSchema,
  subject: z.string(),
  campaign: z.string(),
  /** Over all of its sendings. */
  sendings: z.number(),
  sent: z.number(),
  opened: z.number(),
  followed: z.number(),
  orders: z.number(),
  revenue: z.number(),
  lastSentAt: when.nullable(),
  updatedAt: when,
  updatedBy: z.string(),
})
export type LetterLine = z.infer<typeof letterLine>

/** A call to action in a newsletter, with the test on it and what each of its versions changes. */
export const letterCall = z.object({
  call: documentIdSchema,
  title: z.string(),
  published: z.boolean(),
  test: z.object({ id: testIdSchema, name: z.string() }).nullable(),
  versions: z.array(z.object({ version: versionIdSchema, name: z.string(), edits: editsSchema })),
})
export type LetterCall = z.infer<typeof letterCall>

export const sendingView = z.object({
  number: z.number(),
  subject: z.string(),
  at: when,
  by: z.string(),
  status: z.enum(['waiting', 'sending', 'sent', 'stopped']),
  /** Why it was stopped, where nobody did. */
  message: z.string(),
  plan: sendingPlan,
  sent: z.number(),
  opened: z.number(),
  followed: z.number(),
  orders: z.number(),
  revenue: z.number(),
  /** The forms in which it was sent, by the versions in them. */
  looks: z.array(z.object({ look: z.number(), sent: z.number(), words: z.string() })),
  calls: z.array(
    z.object({
      call: documentIdSchema,
      title: z.string(),
      versions: z.array(
        z.object({ version: versionIdSchema, name: z.string(), sent: z.number(), shown: z.number(), followed: z.number() }),
      ),
    }),
  ),
})
export type SendingView = z.infer<typeof sendingView>

export const letterView = z.object({
  calls: z.array(letterCall),
  /** What keeps it from being sent, in words. */
  blocks: z.array(z.string()),
  sendings: z.array(sendingView),
  currency: z.string(),
})
export type LetterView = z.infer<typeof letterView>

export const letterActions = {
  'letter.list': asks(
    z.object({ ...paging, campaign: z.string().max(120).default('') }),
    listOf(letterLine).extend({ currency: z.string() }),
  ),
  'letter.open': asks(z.object({ document: documentIdSchema }), letterView),
  /** Begins to send the draft as it is now, by the stand-in for a mailing service. */
  'letter.send': goesLive(z.object({ document: documentIdSchema, lock, plan: sendingPlan }), z.object({ number: z.number() })),
  'letter.stop': goesLive(z.object({ number: z.number().int() }), nothing),
  /** A letter as one of its readers got it. */
  'letter.look': asks(
    z.object({ number: z.number().int(), look: z.number().int() }),
    z.object({ html: z.string(), words: z.string() }),
  ),
}
