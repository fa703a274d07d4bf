import * as z from 'zod'

/** By the clock of the site, as in 2026-12-01T09:00, so that it stays the same hour over a change of clocks. */
export const clockTimeSchema = z.string().regex(/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/, 'a day and a time, such as 2026-12-01T09:00')

/** All that is named here has to hold. */
export const stopRuleSchema = z.object({
  days: z.number().int().min(1, 'at least one day').max(365, 'at most a year'),
  /** Who saw it, of each version that is still drawn. */
  visitors: z.number().int().min(0).max(10_000_000),
  until: z.enum(['enough', 'settled', 'smallLoss']),
})
export type StopRule = Readonly<z.infer<typeof stopRuleSchema>>

export const scheduleSchema = z.object({
  /** `null`: by hand. */
  start: clockTimeSchema.nullable().default(null),
  end: clockTimeSchema.nullable().default(null),
  stop: stopRuleSchema.nullable().default(null),
  /** What happens when it ends by itself. */
  then: z.enum(['wait', 'takeBetter']).default('wait'),
})
export type Schedule = Readonly<z.infer<typeof scheduleSchema>>

export const ADAPT_EVERY = [60, 360, 1440] as const
export const adaptiveSchema = z.object({
  /** Basis points below which no version ever falls. */
  floor: z.number().int().min(100, 'at least 1%').max(5000, 'at most half'),
  /** Minutes from one division to the next, at the least. */
  every: z.union([z.literal(60), z.literal(360), z.literal(1440)]),
})
export type Adaptive = Readonly<z.infer<typeof adaptiveSchema>>
