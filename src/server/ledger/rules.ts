import type { Knex } from 'knex'
import * as z from 'zod'
import { armsEver, goalsOf, partsOf } from '@/core/experiment'
import { libraryOf, withParts } from '@/core/goals'
import { documentIdSchema, nodeIdSchema, type DocumentId, type NodeId, type RoundId } from '@/core/ids'
import { countedRound, type CountedRound, type SiteRules, type Span } from '@/core/ledger'
import { jsonColumn } from '../database/json-column'
import { rulesBody } from '../stores/counting-rules'
import { calendarIn } from '../stores/settings'
import { roundsById, type RoundRow } from '../stores/tests'

const ruleRow = z.object({ id: z.string(), since: z.date(), body: jsonColumn(rulesBody) })
/** Rules never change once they are noted. */
const read = new Map<string, SiteRules>()

export async function readSiteRules(db: Knex): Promise<readonly SiteRules[]> {
  const found: { id: string }[] = await db('counting_rules').orderBy('number').select('id')
  const missing = found.filter(({ id }) => !read.has(id)).map(({ id }) => id)
  const rows: unknown[] = missing.length === 0 ? [] : await db('counting_rules').whereIn('id', missing)
  for (const raw of rows) {
    const row = ruleRow.parse(raw)
    const { timeZone, bounceSeconds, goals } = row.body
    const { dayOf } = calendarIn(timeZone)
    read.set(row.id, { since: row.since, dayOf, bounceSeconds, goals, library: libraryOf(goals) })
  }
  return found.flatMap(({ id }) => read.get(id) ?? [])
}

const EVER: Span = { from: new Date(0), to: null }

/** @param isLive in a rehearsal the days are made up, so the round’s own times do not bound it */
export async function readRounds(db: Knex, ids: readonly RoundId[], isLive: boolean): Promise<Map<RoundId, CountedRound>> {
  const rows = ids.length === 0 ? [] : await roundsById(db, ids)
  return new Map(rows.map((row) => [row.snapshot.id, asCounted(row, isLive)]))
}

function asCounted(row: RoundRow, isLive: boolean): CountedRound {
  const { id, design, goals } = row.snapshot
  const library = libraryOf(goals)
  return countedRound({
    id,
    versions: armsEver(row.epochs).map(({ version }) => version),
    keeping: design.keeping,
    goals: goalsOf(design).flatMap((goal) => library.get(goal) ?? []),
    primary: design.primary,
    goalParts: withParts(goalsOf(design), library),
    parts: partsOf(design).map(({ node }) => node),
    open: isLive ? openSpans(row) : [EVER],
    // Simulated visitors are drawn by what holds now, on days that are made up.
    reweighed: isLive ? row.reweighed.map(({ at }) => at) : [],
  })
}

/** When a round was running: from its start to its end, but for its pauses. */
export function openSpans({ started_at, ended_at, pauses }: Pick<RoundRow, 'started_at' | 'ended_at' | 'pauses'>): Span[] {
  const spans: Span[] = []
  let from: Date | null = started_at
  for (const pause of pauses) {
    if (from !== null) spans.push({ from, to: pause.from })
    from = pause.to
  }
  return from === null ? spans : [...spans, { from, to: ended_at }]
}

/** Calls to action by their roots, which they keep. */
export async function readCalls(db: Knex): Promise<Map<NodeId, DocumentId>> {
  const rows: unknown[] = await db('documents')
    .where({ kind: 'callToAction' })
    .select('id', db.raw("JSON_VALUE(draft, '$.root') AS root"))
  const schema = z.object({ id: documentIdSchema, root: nodeIdSchema })
  return new Map(rows.map((row) => schema.parse(row)).map(({ id, root }) => [root, id]))
}
