import type { Knex } from 'knex'
import * as z from 'zod'
import type { SiteFigures } from '@/contract/contract'
import { documentIdSchema, type DocumentId } from '@/core/ids'
import { SITE, subjects } from '@/core/ledger'
import { lastDays } from '../stores/last-days'

const MOST_PAGES = 8

const row = z.object({ subject: z.string(), day: z.string(), times: z.number(), visitors: z.number() })
const sum = z.object({ subject: z.string(), times: z.coerce.number() })

/** Who came in the last 28 days, today included: from the tallies by day, whatever is tested. */
export async function siteFigures(db: Knex, document: DocumentId | null): Promise<SiteFigures> {
  const days = await lastDays(db)
  const first = days[0] ?? ''
  const page = document ?? SITE
  const wanted = [page, subjects.visitsFrom(page), subjects.stayedFrom(page), subjects.people]
  const found: unknown[] = await db('daily')
    .whereIn('subject', wanted)
    .where('day', '>=', first)
    .select('subject', db.raw("DATE_FORMAT(day, '%Y-%m-%d') AS day"), 'times', 'visitors')
  const known = new Map(found.map((raw) => row.parse(raw)).map((one) => [`${one.subject} ${one.day}`, one]))
  const of = (subject: string, day: string) => known.get(`${subject} ${day}`) ?? { times: 0, visitors: 0 }
  return {
    days: days.map((day) => {
      const visits = of(subjects.visitsFrom(page), day).times
      return {
        day,
        visitors: of(document === null ? subjects.people : page, day).visitors,
        views: of(page, day).times,
        visits,
        bounced: Math.max(0, visits - of(subjects.stayedFrom(page), day).times),
      }
    }),
    sources: document === null ? await shares(db, 'from:', first) : [],
    devices: document === null ? await shares(db, 'on:', first) : [],
    pages: document === null ? await topPages(db, first) : [],
  }
}

/** The largest first. */
async function shares(db: Knex, prefix: string, first: string): Promise<SiteFigures['sources']> {
  const found: unknown[] = await db('daily')
    .whereBetween('subject', [prefix, `${prefix}~`])
    .where('day', '>=', first)
    .groupBy('subject')
    .select('subject')
    .sum({ times: 'times' })
    .orderBy([{ column: 'times', order: 'desc' }, { column: 'subject' }])
    .limit(8)
  return found.map((raw) => sum.parse(raw)).map(({ subject, times }) => ({ name: subject.slice(prefix.length), visits: times }))
}

async function topPages(db: Knex, first: string): Promise<SiteFigures['pages']> {
  const found: unknown[] = await db('daily as t')
    .join('documents as d', 'd.id', 't.subject')
    .where('d.kind', 'page')
    .where('t.day', '>=', first)
    .groupBy('d.id', 'd.title')
    .select('d.id', 'd.title')
    .sum({ views: 't.times' })
    .orderBy([{ column: 'views', order: 'desc' }, { column: 'd.title' }])
    .limit(MOST_PAGES)
  const pages = found.map((raw) => z.object({ id: documentIdSchema, title: z.string(), views: z.coerce.number() }).parse(raw))
  const visits = pages.flatMap(({ id }) => [subjects.visitsFrom(id), subjects.stayedFrom(id)])
  const sums: unknown[] = await db('daily')
    .whereIn('subject', visits)
    .where('day', '>=', first)
    .groupBy('subject')
    .select('subject')
    .sum({ times: 'times' })
  const times = new Map(sums.map((raw) => sum.parse(raw)).map((one) => [one.subject, one.times]))
  return pages.map((page) => {
    const began = times.get(subjects.visitsFrom(page.id)) ?? 0
    return { ...page, visits: began, bounced: Math.max(0, began - (times.get(subjects.stayedFrom(page.id)) ?? 0)) }
  })
}
