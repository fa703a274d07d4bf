import * as z from 'zod'
import type { VisitorEvent } from '../events'
import type { GoalId } from '../ids'
import { textsSchema } from './codec'
import type { Reached } from './progress'
import type { Adder } from './rows'
import type { Visit } from './visit'

/** The subject that stands for all pages together. */
export const SITE = '*'

/*
 * The site’s own figures by day, independent of any test. A subject is a page’s id, or:
 *   *            every page            u:*         visitors of the day
 *   g:<goal>     a goal, in the tests or not          g:<goal>--<n>  a step of a funnel
 *   v:<page>     visits that began on a page, v:* all; e:<page> those of them that did not bounce
 *   p:<page>     visits in which it was shown, on the day on which they began
 *   l:<page>     visits whose last page it is, on the day on which they began
 *   n:<name>     an event that was reported by this name
 *   from:<what>  visits by where they came from       on:<device>    visits by device
 */
export const subjects = {
  goal: (id: GoalId) => `g:${id}`,
  visitsFrom: (page: string) => `v:${page}`,
  stayedFrom: (page: string) => `e:${page}`,
  visitsWith: (page: string) => `p:${page}`,
  lastPage: (page: string) => `l:${page}`,
  source: (source: string) => `from:${source.slice(0, 40)}`,
  device: (device: string) => `on:${device}`,
  named: (name: string) => `n:${name.slice(0, 58)}`,
  people: 'u:*',
} as const

/** What the site’s figures have to remember of a visitor. */
export const presenceSchema = z.object({
  /** The day on which something was last looked at. */
  day: z.string().nullable(),
  /** Subjects that this visitor has been counted for: visitors are counted once each, on the first of their days. */
  known: textsSchema,
})
export type Presence = z.output<typeof presenceSchema>

interface Around {
  readonly visit: { readonly before: Visit | null; readonly after: Visit | null }
  /** What the event is for the goals of the site. */
  readonly reached: readonly Reached[]
  dayOf(at: Date): string
  readonly sums: Adder
  /** Told of each subject that this visitor is counted for from now on. */
  readonly first: (subject: string, day: string) => void
}

/** @param presence is changed */
export function foldSite(presence: Presence, event: VisitorEvent, around: Around): void {
  const { sums, dayOf, visit } = around
  const day = dayOf(event.at)
  const hit = (subject: string, times = 1, worth = 0) => {
    const isNew = !presence.known.has(subject)
    if (isNew) {
      presence.known.add(subject)
      around.first(subject, day)
    }
    sums.add('site', { subject, day }, { times, worth, visitors: isNew ? 1 : 0 })
  }
  if (event.kind === 'page') {
    hit(event.document)
    hit(SITE)
    sums.add('site', { subject: subjects.people, day }, { times: 1, visitors: presence.day === day ? 0 : 1 })
    presence.day = day
  }
  // Reported under this name, whether a goal counts it yet or not.
  if (event.kind === 'event') hit(subjects.named(event.name))
  if (event.kind === 'order' && event.value >= 0) hit(subjects.named('*order'))
  for (const { goal, times, worth } of around.reached) hit(subjects.goal(goal), times, worth)
  foldVisit(visit.before, visit.after, hit, around)
}

/** Visits by where they began, came from and on what; where they have come to; and whether it was more than one look. */
function foldVisit(
  before: Visit | null,
  after: Visit | null,
  hit: (subject: string) => void,
  { sums, dayOf }: Pick<Around, 'sums' | 'dayOf'>,
): void {
  if (after === null || after === before) return
  // On the day on which the visit began, so that a share of visits is one of the same day.
  const day = dayOf(new Date(after.beganAt))
  const count = (subject: string, times: 1 | -1) => sums.add('site', { subject, day }, { times })
  if (after.number !== before?.number) {
    hit(subjects.visitsFrom(after.document))
    hit(subjects.visitsFrom(SITE))
    if (after.source !== null) hit(subjects.source(after.source))
    if (after.device !== null) hit(subjects.device(after.device))
    count(subjects.visitsWith(after.document), 1)
    count(subjects.lastPage(after.document), 1)
    return
  }
  if (after.documents.length > before.documents.length) count(subjects.visitsWith(after.lastDocument), 1)
  if (after.lastDocument !== before.lastDocument) {
    count(subjects.lastPage(before.lastDocument), -1)
    count(subjects.lastPage(after.lastDocument), 1)
  }
  if (after.stayed && !before.stayed) {
    count(subjects.stayedFrom(after.document), 1)
    count(subjects.stayedFrom(SITE), 1)
  }
}
