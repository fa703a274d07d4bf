import * as z from 'zod'
import type { noUtm } from '../decide'
import { devices, numberOf, stranger, utmFields, type RememberedPage, type SeenPage, type Visitor } from '../decide'
import { sourceOf } from '../events'
import { documentIdSchema, goalIdSchema, testIdSchema, versionIdSchema, type DocumentId } from '../ids'

const MOST_PAGES = 30
const mark = z.string().max(120)

/** Somebody as whom the site is looked at: what is said of them, and for the rest a person like any other. */
export const madeUpSchema = z.object({
  device: z.enum(devices).default('computer'),
  /** ISO 3166-2; `null`: not known. */
  region: z.string().max(12).nullable().default(null),
  language: z.string().max(12).nullable().default(null),
  /** How often they have come, this visit counted. */
  visits: z.number().int().min(1).max(1000).default(1),
  /** The host of the page before. */
  referrer: z.string().max(200).default(''),
  utm: z
    .object(
      Object.fromEntries(utmFields.map((field) => [field, mark.default('')])) as Record<
        keyof typeof noUtm,
        z.ZodDefault<typeof mark>
      >,
    )
    .prefault({}),
  /** In this visit, in their order; and in visits before it. */
  pagesSeen: z.array(documentIdSchema).max(MOST_PAGES).default([]),
  pagesBefore: z.array(documentIdSchema).max(MOST_PAGES).default([]),
  /** In how many of those visits each of them was seen, and how many days ago last. */
  beforeVisits: z.number().int().min(1).max(99).default(1),
  beforeDays: z.number().int().min(1).max(365).default(1),
  goals: z.array(goalIdSchema).max(MOST_PAGES).default([]),
  /** Versions of tests that they were given before. */
  given: z
    .array(z.object({ test: testIdSchema, version: versionIdSchema }))
    .max(MOST_PAGES)
    .default([]),
  attributes: z.record(z.string().max(30), z.string().max(30)).default({}),
  /** By the site’s clock. */
  day: z.iso.date().default('2026-01-01'),
  hour: z.number().int().min(0).max(23).default(12),
  /** Which of all who are alike: it is what chance goes by. */
  person: z.number().int().min(1).max(9999).default(1),
})
export type MadeUp = Readonly<z.infer<typeof madeUpSchema>>

/** The same as the site would know them. */
export function asVisitor(of: MadeUp, pageTypeOf: (page: DocumentId) => string): Visitor {
  const { device, region, language, visits, referrer, utm, day, hour, goals, person } = of
  const seen = (pages: readonly DocumentId[]): SeenPage[] => pages.map((page) => ({ page, pageType: pageTypeOf(page) }))
  const pagesSeen = seen(of.pagesSeen)
  return {
    ...stranger,
    ...{ device, region, language, visits, pagesSeen },
    id: idOf(person),
    beginning: { source: sourceOf(referrer, utm.source), utm, referrer },
    moment: { day, weekday: weekdayOf(day), hour },
    pagesEver: rememberedPages(pagesSeen, seen(of.pagesBefore), of),
    goalsReached: goals,
    attributes: new Map(Object.entries(of.attributes)),
    kept: new Map(of.given.map(({ test, version }) => [test, version])),
  }
}

/** Whoever saw something in so many visits has come more often than that. */
export function agreeing(of: MadeUp): MadeUp {
  return of.pagesBefore.length === 0 ? of : { ...of, visits: Math.max(of.visits, of.beforeVisits + 1) }
}

function rememberedPages(
  now: readonly SeenPage[],
  before: readonly SeenPage[],
  { beforeVisits, beforeDays }: MadeUp,
): RememberedPage[] {
  const isIn = (pages: readonly SeenPage[], page: SeenPage) => pages.some((one) => one.page === page.page)
  return [
    ...now.map((page) => ({ ...page, visits: isIn(before, page) ? beforeVisits + 1 : 1, daysAgo: 0 })),
    ...before.filter((page) => !isIn(now, page)).map((page) => ({ ...page, visits: beforeVisits, daysAgo: beforeDays })),
  ]
}

/** Monday is 1 and Sunday 7. */
const weekdayOf = (day: string) => ((new Date(`${day}T00:00:00Z`).getUTCDay() + 6) % 7) + 1

/** 128 bits that are the same for the same person, and lie among those of visitors. */
function idOf(person: number): string {
  return ['a', 'b', 'c', 'd'].map((part) => numberOf(`person ${person} ${part}`).toString(16).padStart(8, '0')).join('')
}
