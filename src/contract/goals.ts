import * as z from 'zod'
import { statuses } from '@/core/experiment'
import { goalSchema, wiringSchema } from '@/core/goals'
import { documentIdSchema, goalIdSchema, nodeIdSchema, testIdSchema } from '@/core/ids'
import { asks, edits, goesLive, listOf, lock, miniatureView, nothing, paging, when } from './action'

/** What a goal is, but for its id and name. */
export const goalBody = goalSchema.omit({ id: true, name: true })

export const goalStates = ['draft', 'published', 'changed', 'archived'] as const

/** A component, or a whole document, that a goal is wired to. */
export const goalPlace = z.object({
  document: documentIdSchema,
  title: z.string(),
  path: z.string(),
  node: nodeIdSchema.nullable(),
  /** How it looks there; `null` where nothing of it is published any more. */
  miniature: miniatureView.nullable(),
})

export const goalLine = z.object({
  goal: goalSchema,
  state: z.enum(goalStates),
  lock,
  /** In the last 28 days: how often it was reached, by how many for the first time, their share of all new visitors, what it brought. */
  times: z.number(),
  visitors: z.number(),
  rate: z.number().nullable(),
  worth: z.number(),
  /** How often, day by day, the oldest first. */
  days: z.array(z.number()),
  /** A few of the places, and how many there are. */
  places: z.array(goalPlace),
  placesInAll: z.number(),
  tests: z.array(
    z.object({ id: testIdSchema, name: z.string(), status: z.enum(statuses), as: z.enum(['decides', 'watched', 'guard']) }),
  ),
  /** What is missing before it can count, in words; empty where nothing is. */
  lacks: z.string(),
  updatedBy: z.string(),
  updatedAt: when,
})
export type GoalLine = z.infer<typeof goalLine>

export const goalView = goalLine.extend({
  /** Running tests that count it as it was when their round began, which is not how it is now. */
  asBefore: z.array(z.object({ test: testIdSchema, name: z.string() })),
  /** Who passed each step in the last 28 days, for a funnel. */
  funnel: z.array(z.object({ goal: goalIdSchema, name: z.string(), passed: z.number() })),
  library: z.array(goalSchema),
  currency: z.string(),
  /** When something was first reported under its name, for an event or order; `null` before. */
  seenAt: z.string().nullable(),
  pages: z.array(z.object({ id: documentIdSchema, title: z.string(), path: z.string(), pageType: z.string() })),
})
export type GoalView = z.infer<typeof goalView>

export const suggestion = z.object({ name: z.string(), why: z.string(), wiring: wiringSchema })
export type GoalSuggestion = z.infer<typeof suggestion>

export const goalActions = {
  'goal.list': asks(z.object({ ...paging, archived: z.boolean().default(false) }), listOf(goalLine)),
  /** Goals of which a page can tell at once that they were reached: conditions may ask for them. */
  'goal.open': asks(z.object({ goal: goalIdSchema }), goalView),
  /** Within how many days it counts is as the settings say, where nothing is said. */
  'goal.create': edits(
    goalBody.extend({ name: goalSchema.shape.name, withinDays: goalSchema.shape.withinDays.removeDefault().optional() }),
    goalSchema,
  ),
  'goal.save': edits(goalSchema.extend({ lock }), z.object({ lock })),
  'goal.publish': goesLive(z.object({ goal: goalIdSchema, lock }), z.object({ release: z.number() })),
  'goal.archive': goesLive(z.object({ goal: goalIdSchema, archived: z.boolean() }), z.object({ release: z.number() })),
  'goal.remove': edits(z.object({ goal: goalIdSchema }), nothing),
  /** What could count on these pages: forms, calls to action, confirmation pages, links to elsewhere. */
  'goal.suggest': asks(
    z.object({ documents: z.array(documentIdSchema).min(1).max(60) }),
    z.object({ suggestions: z.array(suggestion) }),
  ),
}
