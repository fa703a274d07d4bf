import type { Knex } from 'knex'
import * as z from 'zod'
import {
  forecast,
  readiness,
  touches,
  type Forecast,
  type Names,
  type Readiness,
  type ReadinessFacts,
  type Traffic,
  type Version,
} from '@/core/experiment'
import { ORIGINAL } from '@/core/decide'
import type { Goal } from '@/core/goals'
import { readPublished } from '../stores/documents'
import { listGoals } from '../stores/goals'
import { dayOf } from '../stores/tally'
import { shareReaching, sumsSince } from '../stores/results'
import { testId, testsWhere, type TestRow } from '../stores/tests'
import { versionsOfTest, type VersionRow } from '../stores/versions'

const DAY = 86_400_000
const WINDOW_DAYS = 28

export interface TestFacts {
  readonly versions: readonly Version[]
  readonly goals: readonly Goal[]
  readonly traffic: Traffic
  readonly forecast: Forecast
  readonly readiness: Readiness
}

export function asVersion({ id, name, edits }: VersionRow): Version {
  return { id, name, edits }
}

/** All that says whether a test can start and how long it would take. */
export async function testFacts(db: Knex, test: TestRow): Promise<TestFacts> {
  const { design } = test
  const [rows, goals, running] = await Promise.all([
    versionsOfTest(db, test.number),
    listGoals(db),
    testsWhere(
      db,
      (query) =>
        void query
          .where({ document_id: design.document })
          .whereIn('status', ['running', 'paused'])
          .whereNot({ number: test.number }),
    ),
  ])
  const primary = goals.find(({ id }) => id === design.primary)
  const published = await readPublished(db, [design.document, ...(primary === undefined ? [] : [primary.wiring.document])])
  const versions = rows.map(asVersion)
  const others: ReadinessFacts['others'] = await Promise.all(
    running.map(async (other) => ({
      test: testId(other.number),
      name: other.name,
      document: other.design.document,
      touches: touches(other.design.node, (await versionsOfTest(db, other.number)).map(asVersion)),
    })),
  )
  const traffic = await trafficOf(db, design.document, primary)
  const ahead = forecast(design, traffic)
  return {
    versions,
    goals,
    traffic,
    forecast: ahead,
    readiness: readiness({ design, versions, goals, published, others, forecast: ahead }),
  }
}

/** New visitors of the page a day, and the share of them that reached the goal, over the last 28 days or as many as there are. */
async function trafficOf(db: Knex, page: string, goal: Goal | undefined): Promise<Traffic> {
  const since = dayOf(new Date(Date.now() - WINDOW_DAYS * DAY))
  const visitors = (await sumsSince(db, since, [page])).get(page)?.visitors ?? 0
  const first: unknown = await db('daily').where({ subject: page }).where('day', '>=', since).orderBy('day').first('day')
  const began = first === undefined ? null : z.object({ day: z.date() }).parse(first).day
  const days = began === null ? WINDOW_DAYS : Math.max(1, Math.min(WINDOW_DAYS, Math.round((Date.now() - began.getTime()) / DAY)))
  return {
    visitorsPerDay: visitors / days,
    baseRate: goal === undefined || visitors === 0 ? null : await shareReaching(db, page, goal, since),
  }
}

export function namesFor(
  versions: readonly Pick<Version, 'id' | 'name'>[],
  goals: readonly Goal[],
  titles: ReadonlyMap<string, string> = new Map(),
): Names {
  return {
    version: (id) => (id === ORIGINAL ? 'Original' : (versions.find((version) => version.id === id)?.name ?? 'a variant')),
    goal: (id) => goals.find((goal) => goal.id === id)?.name ?? 'the goal',
    page: (id) => titles.get(id) ?? 'a page',
  }
}
