import * as z from 'zod'
import { rulesSite, seesAll, when } from './action'

/** A visitor as their browser names them, or by an order that they made. */
export const visitorRef = z.object({
  visitor: z
    .string()
    .trim()
    .regex(/^[0-9a-f]{32}$/, 'a visitor has 32 digits from 0 to 9 and a to f'),
})
export const visitorQuestion = z.object({
  who: z.string().trim().min(1, 'give the visitor’s digits, or the number of an order').max(60),
})

/** All that is kept of a visitor. */
export const visitorView = z.object({
  visitor: z.string(),
  /** In how many rows of what they are known. */
  kept: z.array(z.object({ words: z.string(), rows: z.number() })),
  firstAt: when.nullable(),
  lastAt: when.nullable(),
  visits: z.number(),
  events: z.number(),
  /** What they did, newest first, a few hundred at most. */
  did: z.array(z.object({ at: when, words: z.string() })),
  tests: z.array(z.object({ name: z.string(), version: z.string(), exposed: z.boolean() })),
  goals: z.array(z.object({ name: z.string(), times: z.number(), worth: z.number() })),
  orders: z.array(z.object({ number: z.string(), value: z.number(), refunded: z.number() })),
  /** What they sent with forms. */
  entries: z.array(z.object({ at: when, fields: z.record(z.string(), z.string()) })),
})
export type VisitorView = z.infer<typeof visitorView>

export const visitorActions = {
  /** All that is kept of a visitor; and away with it. */
  'visitor.show': seesAll(visitorQuestion, visitorView.nullable()),
  'visitor.erase': rulesSite(visitorRef, z.object({ events: z.number(), entries: z.number() })),
}
