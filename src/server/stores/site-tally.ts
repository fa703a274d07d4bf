import type { Knex } from 'knex'
import * as z from 'zod'
import { libraryOf, reaches, stayedOn, stepId, stepsPassed, worthOf, type Goal, type VisitorEvent } from '@/core/goals'
import type { GoalId } from '@/core/ids'
import type { Calendar } from '@/core/time'
import { calendarIn, readSettings } from './settings'

/** The subject that stands for all pages together. */
export const SITE = '*'

/*
 * The site’s own statistics by day, independent of any test. A subject is a page’s id, or:
 *   *            every page            u:*         visitors of the day
 *   g:<goal>     a goal, in the tests or not          g:<goal>--<n>  a step of a funnel
 *   v:<page>     visits that began on a page, v:* all; e:<page> those of them that did not bounce
 *   l:<page>     visits whose last page it is, on the day on which they began
 *   n:<name>     an event that was reported by this name
 *   from:<what>  visits by where they came from       on:<device>    visits by device
 */
export const subjects = {
  goal: (id: GoalId) => `g:${id}`,
  visitsFrom: (page: string) => `v:${page}`,
  stayedFrom: (page: string) => `e:${page}`,
  lastPage: (page: string) => `l:${page}`,
  source: (source: string) => `from:${source.slice(0, 40)}`,
  device: (device: string) => `on:${device}`,
  named: (name: string) => `n:${name.slice(0, 58)}`,
  people: 'u:*',
} as const

interface Hit {
  readonly subject: string
  readonly visitor: string
  readonly day: string
  readonly times: number
  readonly worth: number
}

const hex = z.instanceof(Buffer).transform((bytes) => bytes.toString('hex'))

/** Adds what these events were to the days of pages, goals, sources and devices. */
export async function addToSiteStatistics(
  trx: Knex.Transaction,
  events: readonly VisitorEvent[],
  goals: readonly Goal[],
): Promise<void> {
  const library = libraryOf(goals)
  const { timeZone, bounceSeconds } = await readSettings(trx)
  const { dayOf } = calendarIn(timeZone)
  const hits: Hit[] = []
  const hit = (event: VisitorEvent, subject: string, times = 1, worth = 0) =>
    hits.push({ subject, visitor: event.visitor, day: dayOf(event.at), times, worth })
  for (const event of events) {
    if (event.kind === 'page') {
      hit(event, event.document)
      hit(event, SITE)
      hit(event, `u:${dayOf(event.at)}`)
    }
    // Reported under this name, whether a goal counts it yet or not.
    if (event.kind === 'event') hit(event, subjects.named(event.name))
    if (event.kind === 'order') hit(event, subjects.named('*order'))
    for (const goal of goals) {
      if (reaches(goal, event, library)) hit(event, subjects.goal(goal.id), 1, worthOf(goal, event))
      else if (event.kind === 'order' && event.value < 0 && takesOrders(goal, library))
        hit(event, subjects.goal(goal.id), 0, event.value)
    }
  }
  hits.push(...(await visitHits(trx, events, dayOf, bounceSeconds)))
  hits.push(...(await funnelHits(trx, events, goals, dayOf)))
  await addHits(trx, hits)
}

function takesOrders(goal: Goal, library: ReturnType<typeof libraryOf>): boolean {
  if (goal.worthFrom !== 'reported') return false
  const { wiring } = goal
  return (
    wiring.kind === 'order' || (wiring.kind === 'anyOf' && wiring.goals.some((id) => library.get(id)?.wiring.kind === 'order'))
  )
}

/** Visits by where they began, came from and on what; and whether whoever made them did more than look at one page. */
async function visitHits(
  trx: Knex.Transaction,
  events: readonly VisitorEvent[],
  dayOf: Calendar['dayOf'],
  bounceSeconds: number,
): Promise<Hit[]> {
  const row = z.object({
    visitor: hex,
    began_at: z.date(),
    document_id: z.string(),
    last_id: z.string().nullable(),
    stayed: z.coerce.boolean(),
  })
  const found: unknown[] = await trx('visits').whereIn('visitor', keys(events))
  const last = new Map(found.map((raw) => row.parse(raw)).map((visit) => [visit.visitor, visit]))
  const changed = new Set<string>()
  const hits: Hit[] = []
  for (const event of events) {
    const hit = (subject: string, day = dayOf(event.at), times = 1) =>
      hits.push({ subject, visitor: event.visitor, day, times, worth: 0 })
    if (event.kind === 'page' && event.arrival !== null) {
      const { visitor, at: began_at, document } = event
      last.set(visitor, { visitor, began_at, document_id: document, last_id: document, stayed: false })
      changed.add(visitor)
      hit(subjects.lastPage(document))
      hit(subjects.visitsFrom(event.document))
      hit(subjects.visitsFrom(SITE))
      hit(subjects.source(event.arrival.source))
      hit(subjects.device(event.arrival.device))
    }
    const before = last.get(event.visitor)
    if (event.kind === 'page' && before !== undefined && event.at >= before.began_at && before.last_id !== event.document) {
      const day = dayOf(before.began_at)
      if (before.last_id !== null) hit(subjects.lastPage(before.last_id), day, -1)
      hit(subjects.lastPage(event.document), day)
      last.set(event.visitor, { ...before, last_id: event.document })
      changed.add(event.visitor)
    }
    const visit = last.get(event.visitor)
    if (visit === undefined || visit.stayed || event.at < visit.began_at || !stayedOn(event, bounceSeconds)) continue
    last.set(event.visitor, { ...visit, stayed: true })
    changed.add(event.visitor)
    // On the day on which the visit began, so that a share of visits is one of the same day.
    hit(subjects.stayedFrom(visit.document_id), dayOf(visit.began_at))
    hit(subjects.stayedFrom(SITE), dayOf(visit.began_at))
  }
  const rows = [...changed].flatMap((visitor) => {
    const visit = last.get(visitor)
    return visit === undefined ? [] : [{ ...visit, visitor: Buffer.from(visitor, 'hex') }]
  })
  if (rows.length > 0) await trx('visits').insert(rows).onConflict('visitor').merge()
  return hits
}

/** Whoever passed the step before and does the next one, whatever they were shown. */
async function funnelHits(
  trx: Knex.Transaction,
  events: readonly VisitorEvent[],
  goals: readonly Goal[],
  dayOf: Calendar['dayOf'],
): Promise<Hit[]> {
  const library = libraryOf(goals)
  const funnels = goals.flatMap((goal) => (goal.wiring.kind === 'steps' ? [{ goal, steps: goal.wiring.goals }] : []))
  const all = funnels.flatMap(({ goal, steps }) => steps.map((_, index) => subjects.goal(stepId(goal.id, index + 1))))
  if (all.length === 0) return []
  const found: unknown[] = await trx('firsts')
    .whereIn('subject', all)
    .whereIn('visitor', keys(events))
    .select('subject', 'visitor')
  const passed = new Map<string, Set<string>>()
  const passedBy = (visitor: string) => {
    const mine = passed.get(visitor) ?? new Set<string>()
    passed.set(visitor, mine)
    return mine
  }
  for (const raw of found) {
    const row = z.object({ subject: z.string(), visitor: hex }).parse(raw)
    passedBy(row.visitor).add(row.subject.slice(2))
  }
  return events.flatMap((event) =>
    funnels.flatMap(({ goal, steps }): Hit[] => {
      const mine = passedBy(event.visitor)
      const behind = stepsPassed(goal, mine)
      const next = library.get(steps[behind] as GoalId)
      if (next === undefined || !reaches(next, event, library)) return []
      const step = stepId(goal.id, behind + 1)
      mine.add(step)
      const hit = { visitor: event.visitor, day: dayOf(event.at), times: 1 }
      const through = behind + 1 === steps.length ? [{ ...hit, subject: subjects.goal(goal.id), worth: goal.worth }] : []
      return [{ ...hit, subject: subjects.goal(step), worth: 0 }, ...through]
    }),
  )
}

function keys(events: readonly VisitorEvent[]): Buffer[] {
  return [...new Set(events.map(({ visitor }) => visitor))].map((visitor) => Buffer.from(visitor, 'hex'))
}

async function addHits(trx: Knex.Transaction, hits: readonly Hit[]): Promise<void> {
  if (hits.length === 0) return
  // Where visits end is a count of visits: who made them is not noted.
  const people = hits.filter(({ subject }) => !subject.startsWith('l:'))
  const firsts = new Map(people.map((hit) => [`${hit.subject} ${hit.visitor}`, hit]).reverse() as [string, Hit][])
  const pairs = [...firsts.values()].map((hit) => [hit.subject, Buffer.from(hit.visitor, 'hex')])
  const known: unknown[] = await trx('firsts').select('subject', 'visitor').whereIn(['subject', 'visitor'], pairs)
  for (const raw of known) {
    const row = z.object({ subject: z.string(), visitor: hex }).parse(raw)
    firsts.delete(`${row.subject} ${row.visitor}`)
  }
  if (firsts.size > 0)
    await trx('firsts').insert(
      [...firsts.values()].map(({ subject, visitor, day }) => ({ subject, visitor: Buffer.from(visitor, 'hex'), day })),
    )
  const sums = new Map<string, { subject: string; day: string; times: number; visitors: number; worth: number }>()
  const sumOf = ({ subject, day }: Hit) => {
    // Visitors of a day are noted day by day, and shown as one subject.
    const shown = subject.startsWith('u:') ? subjects.people : subject
    const sum = sums.get(`${shown} ${day}`) ?? { subject: shown, day, times: 0, visitors: 0, worth: 0 }
    sums.set(`${shown} ${day}`, sum)
    return sum
  }
  for (const hit of hits) {
    const sum = sumOf(hit)
    sum.times += hit.times
    sum.worth += hit.worth
  }
  for (const hit of firsts.values()) sumOf(hit).visitors++
  await trx.raw(
    `INSERT INTO daily (subject, day, times, visitors, worth) VALUES ${[...sums].map(() => '(?,?,?,?,?)').join(',')}
     ON DUPLICATE KEY UPDATE times = times + VALUES(times), visitors = visitors + VALUES(visitors), worth = worth + VALUES(worth)`,
    [...sums.values()].flatMap(({ subject, day, times, visitors, worth }) => [subject, day, times, visitors, worth]),
  )
}

export async function forgetSiteStatistics(trx: Knex.Transaction): Promise<void> {
  for (const table of ['firsts', 'daily', 'visits']) await trx(table).delete()
}
