import type { Knex } from 'knex'
import * as z from 'zod'
import { apply, type ContentDocument } from '@/core/document'
import {
  armName,
  audienceSize,
  forecast,
  goalsOf,
  partsOf,
  readiness,
  RECENT_DAYS,
  routeOf,
  shareOf,
  touches,
  trafficAmong,
  type Design,
  type Forecast,
  type Names,
  type Readiness,
  type ReadinessFacts,
  type Traffic,
  type Version,
} from '@/core/experiment'
import { isForEverybody, ORIGINAL, resolved, type Segment } from '@/core/decide'
import { libraryOf, withParts, type Goal } from '@/core/goals'
import type { DocumentId } from '@/core/ids'
import { listedTypes } from '@/components/references'
import { codesBroughtBy } from '@/components/scripts'
import { isFor } from '@/components/style/reach'
import { SITE } from '@/core/ledger'
import { pagesShowing } from '../stores/document-index'
import { readPublished } from '../stores/documents'
import { listGoals } from '../stores/goals'
import { dayColumn } from '../database/day-column'
import { LOOKED_BACK } from '../stores/last-days'
import { calendarIn, readCalendar, readSettings } from '../stores/settings'
import { recentVisitors } from '../stores/recent-visitors'
import { shareReaching, sumsSince } from '../stores/results'
import { segmentsNow } from '../stores/segments'
import { takenOfGroup, testId, testsWhere, type TestRow } from '../stores/tests'
import { versionsOfTest, versionsOfTests, type VersionRow } from '../stores/versions'
import { AWAITED, NOTHING_SHOWN, shownOf, type When } from './test-shown'

export interface TestFacts {
  /** Whether the readiness goes by what visitors would get; where that is still being looked at, it may change. */
  readonly isLookedAt: boolean
  /** They are being looked at just now. */
  readonly isAwaited: boolean
  readonly versions: readonly Version[]
  readonly goals: readonly Goal[]
  /** Those that conditions may name. */
  readonly segments: readonly Segment[]
  readonly traffic: Traffic
  readonly forecast: Forecast
  readonly readiness: Readiness
  /** The published pages on which each part's document is shown. */
  readonly places: ReadonlyMap<DocumentId, readonly DocumentId[]>
}

export function asVersion({ id, name, edits }: VersionRow): Version {
  return { id, name, edits }
}

/** All that says whether a test can start and how long it would take. */
export async function testFacts(db: Knex, test: TestRow, look: When): Promise<TestFacts> {
  const { design } = test
  const [rows, goals, running, settings, segments] = await Promise.all([
    versionsOfTest(db, test.number),
    listGoals(db),
    testsWhere(db, (query) => void query.whereIn('status', ['running', 'paused']).whereNot({ number: test.number })),
    readSettings(db),
    segmentsNow(db),
  ])
  const primary = goals.find(({ id }) => id === design.primary)
  const versions = rows.map(asVersion)
  const homes = partsOf(design).map(({ document }) => document)
  const wired = withParts(goalsOf(design), libraryOf(goals)).map(({ wiring }) => wiring)
  // By a marker, a type or an address a goal may be wired to any page.
  const everywhere = wired.some(({ kind }) => kind === 'marker' || kind === 'pageType' || kind === 'address')
  const named = wired.flatMap((wiring) => ('document' in wiring ? [wiring.document] : []))
  const published = everywhere ? await readPublished(db, 'all') : await publishedFor(db, [...homes, ...named], versions)
  const places = new Map<DocumentId, readonly DocumentId[]>()
  for (const home of new Set(homes)) places.set(home, await placesFor(db, home, published.get(home)))
  const others = await whatOthersTouch(db, running)
  const everyPlace = [...new Set([...places.values()].flat())]
  const traffic = await trafficOf(db, everyPlace, primary)
  const share = isForEverybody(design.audience) ? 1 : shareOf(audienceSize(design.audience, segments, await recentVisitors(db)))
  const ahead = forecast(design, trafficAmong(traffic, share))
  const shown = await shownOf(db, { test: testId(test.number), design, versions, goals, published, places: everyPlace }, look)
  const facts: ReadinessFacts = {
    // Whom it is for is judged by what its segments ask, not by their names.
    design: { ...design, audience: resolved(design.audience, segments) },
    versions,
    goals,
    published,
    places: new Map([...places].map(([home, pages]) => [home, pages.length])),
    others,
    shown,
    scripts: {
      allowed: settings.scripts,
      versions: rows.flatMap(({ id, document_id, edits }) => {
        return published.has(document_id) && codesBroughtBy(edits).length > 0 ? [id] : []
      }),
    },
    forecast: ahead,
    ofGroup: await ofGroup(db, test),
    takenOfGroup: design.group === '' ? [] : await takenOfGroup(db, design.group, test.number, false),
    now: calendarIn(settings.timeZone).write(new Date()),
  }
  return {
    isLookedAt: shown !== NOTHING_SHOWN && shown !== AWAITED && shown.fault === null,
    isAwaited: shown === AWAITED,
    versions,
    goals,
    segments,
    traffic,
    forecast: ahead,
    readiness: readiness(facts),
    places,
  }
}

/** The other tests of its group that have a part of the visitors, or will want one. */
export async function ofGroup(db: Knex, { number, design }: TestRow): Promise<ReadinessFacts['ofGroup']> {
  if (design.group === '') return []
  const rows = await testsWhere(
    db,
    (query) =>
      void query
        .whereIn('status', ['draft', 'scheduled', 'running', 'paused'])
        .whereNot({ number })
        .whereRaw("JSON_VALUE(design, '$.group') = ?", [design.group])
        .orderBy('number')
        .limit(20),
  )
  return rows.map(({ name, status, design: { share } }) => ({ name, share, isLive: status === 'running' || status === 'paused' }))
}

/** However many there are: their versions and what they change are read at once. */
async function whatOthersTouch(db: Knex, tests: readonly TestRow[]): Promise<ReadinessFacts['others']> {
  const [versions, published] = await Promise.all([
    versionsOfTests(
      db,
      tests.map(({ number }) => number),
    ),
    readPublished(db, [...new Set(tests.flatMap(({ design }) => partsOf(design).map(({ document }) => document)))]),
  ])
  return tests.map(({ number, name, design }) => ({
    test: testId(number),
    name,
    touches: touches(design, (versions.get(number) ?? []).map(asVersion), published),
  }))
}

/** Why a test that runs can draw nobody any more, in words; `null` where it can. */
export async function drawsNobody(db: Knex, design: Design): Promise<string | null> {
  const parts = partsOf(design)
  const published = await readPublished(
    db,
    parts.map(({ document }) => document),
  )
  for (const { document, node } of parts) {
    const home = published.get(document)
    if (home === undefined) return 'It can draw nobody any more: what it tests is not published.'
    if (home.nodes[node] === undefined) return 'It can draw nobody any more: the tested part is no longer on the published page.'
    if (home.kind !== 'page' && (await placesFor(db, document, home)).length === 0)
      return 'It can draw nobody any more: what it tests stands on no published page.'
  }
  return null
}

/** What is published of the tested documents, and of the pages that variants send visitors to. */
async function publishedFor(
  db: Knex,
  ids: readonly DocumentId[],
  versions: readonly Version[],
): Promise<Map<DocumentId, ContentDocument>> {
  const published = await readPublished(db, ids)
  const targets = [...published.values()].flatMap((document) =>
    versions.flatMap(({ edits }) => (document.kind === 'page' ? (routeOf(apply(document, edits).document) ?? []) : [])),
  )
  const more = targets.filter((id) => !published.has(id))
  return more.length === 0 ? published : new Map([...published, ...(await readPublished(db, more))])
}

/** The traffic of whatever pages show a document, and how many of its visitors reach a goal. */
export async function trafficAt(db: Knex, document: DocumentId, goal: Goal | undefined): Promise<Traffic> {
  const published = (await readPublished(db, [document])).get(document)
  return trafficOf(db, await placesFor(db, document, published), goal)
}

/** The published pages whose visitors meet a document. */
export async function placesFor(db: Knex, id: DocumentId, document: ContentDocument | undefined): Promise<DocumentId[]> {
  if (document === undefined) return []
  if (document.kind === 'page') return [id, ...(await listsOf(db, document))]
  if (document.kind === 'style') {
    const pages = await readPublished(db, 'all')
    return [...pages.values()].filter((page) => isFor(document, page)).map((page) => page.id)
  }
  return (await pagesShowing(db, id)).map((place) => place.id)
}

/** Pages that list pages of this page's type. */
async function listsOf(db: Knex, page: ContentDocument): Promise<DocumentId[]> {
  const type = page.nodes[page.root]?.props.pageType
  const candidates: { document_id: DocumentId }[] = await db('revisions as r')
    .join('documents as d', (on) => on.on('r.document_id', 'd.id').andOn('r.number', 'd.published_revision'))
    .where('d.kind', 'page')
    .whereILike('r.body', '%"pageList"%')
    .select('r.document_id')
  const lists = await readPublished(
    db,
    candidates.map(({ document_id }) => document_id),
  )
  return [...lists.values()].filter((list) => listedTypes(list).includes(String(type))).map(({ id }) => id)
}

/**
 * New visitors a day of the pages where the test shows, and the share of them that reached the goal, over the last 28
 * days or as many as there are. Of several pages, nobody is counted twice: never more than the site has.
 */
async function trafficOf(db: Knex, pages: readonly DocumentId[], goal: Goal | undefined): Promise<Traffic> {
  const calendar = await readCalendar(db)
  const recent = calendar.lastDays(LOOKED_BACK, new Date())
  const since = recent[0] ?? ''
  const sums = await sumsSince(db, since, [...pages, SITE])
  const busiest = [...pages].sort((one, other) => (sums.get(other)?.visitors ?? 0) - (sums.get(one)?.visitors ?? 0))[0]
  const together = pages.reduce((sum, page) => sum + (sums.get(page)?.visitors ?? 0), 0)
  const visitors = Math.min(together, sums.get(SITE)?.visitors ?? together)
  const subject = pages.length > 3 ? SITE : (busiest ?? SITE)
  const first: unknown = await db('daily').where({ subject }).where('day', '>=', since).orderBy('day').first('day')
  const began = first === undefined ? null : z.object({ day: dayColumn }).parse(first).day
  // Days without anybody are days all the same, but only from the first on which somebody came.
  const days = began === null ? LOOKED_BACK : Math.max(1, recent.filter((day) => day >= began).length)
  return {
    visitorsPerDay: visitors / days,
    recent: await recentDays(db, subject, { began, pages: visitors, days: recent }),
    baseRate: goal === undefined || visitors === 0 ? null : await shareReaching(db, subject, goal, since),
  }
}

/** By day, as the busiest of the pages had them and as many as all pages together. */
async function recentDays(
  db: Knex,
  subject: string,
  of: { readonly began: string | null; readonly pages: number; readonly days: readonly string[] },
): Promise<number[]> {
  // Today is no full day, and that on which the first came was none either.
  const full = of.days.slice(-RECENT_DAYS - 1, -1).filter((day) => of.began !== null && day > of.began)
  const rows: unknown[] = await db('daily')
    .where({ subject })
    .where('day', '>=', of.days[0] ?? '')
    .select('day', 'visitors')
  const schema = z.object({ day: dayColumn, visitors: z.coerce.number() })
  const byDay = new Map(rows.map((row) => schema.parse(row)).map(({ day, visitors }) => [day, visitors]))
  const together = [...byDay.values()].reduce((sum, visitors) => sum + visitors, 0)
  return together === 0 ? [] : full.map((day) => ((byDay.get(day) ?? 0) * of.pages) / together)
}

export function namesFor(
  design: Design,
  versions: readonly Pick<Version, 'id' | 'name'>[],
  goals: readonly Goal[],
  titles: ReadonlyMap<string, string> = new Map(),
): Names {
  return {
    version: (id) => {
      if (id === ORIGINAL) return 'Original'
      const own = versions.find((version) => version.id === id)?.name
      return own ?? (design.arms.some(({ version }) => version === id) ? armName(design, versions, id) : 'a variant')
    },
    goal: (id) => goals.find((goal) => goal.id === id)?.name ?? 'the goal',
    page: (id) => titles.get(id) ?? 'a page',
  }
}
