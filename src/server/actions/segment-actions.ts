import type { Knex } from 'knex'
import * as z from 'zod'
import { mayAs, type GainView, type Output, type RuledPart, type SegmentView } from '@/contract/contract'
import { EVERYBODY, type Segment, type Visitor } from '@/core/decide'
import {
  armName,
  armsEver,
  audienceByDay,
  audienceSize,
  isAsPublished,
  overlaps,
  ruleReach,
  type GainPlan,
  type Overlap,
  type Personalization,
} from '@/core/experiment'
import type { ContentDocument } from '@/core/document'
import { segmentIdSchema, type DocumentId, type RoundId, type SegmentId } from '@/core/ids'
import { isSameData } from '@/core/same-data'
import { titleOf } from '@/components/references'
import { partWords } from '@/components/part-words'
import { inTransaction } from '../database/connect'
import { Failure } from '../failure'
import { newId } from '../new-id'
import { draftsOf, listPages } from '../stores/documents'
import { readPlans } from '../stores/gains'
import { publishedGoals } from '../stores/goals'
import { lastDays } from '../stores/last-days'
import { readSettings } from '../stores/settings'
import { recentVisitors } from '../stores/recent-visitors'
import { goLive } from '../database/go-live'
import { makeRelease } from '../stores/releases'
import {
  holdSegment,
  listSegments,
  MOST_SEGMENTS,
  segmentsNow,
  usesOfSegments,
  type SegmentRow,
  type Uses,
} from '../stores/segments'
import { lastRounds, testId, testsWhere } from '../stores/tests'
import { allRules, livePersonalizations, personalizationId, rulesOn, type VersionRow } from '../stores/versions'
import { renewNaming } from './gains'
import { gainsInShort } from './gain-views'
import type { Area } from './handler'

/** Named conditions, and the parts of the site that have rules. */
export const segmentActions: Area<'segment'> = {
  'segment.around': async ({ db }) => {
    const [segments, goals, { attributes }, tests] = await Promise.all([
      segmentsNow(db),
      publishedGoals(db),
      readSettings(db),
      testsThatDrew(db),
    ])
    return {
      segments: segments.map(({ id, name }) => ({ id, name })),
      goals: goals.map(({ id, name }) => ({ id, name })),
      attributes,
      tests,
    }
  },

  'segment.list': async ({ db }) => {
    const [rows, uses, recent, days] = await Promise.all([listSegments(db), usesOfSegments(db), recentVisitors(db), lastDays(db)])
    const titles = await titlesOf(
      db,
      uses.live.map(({ document }) => document),
    )
    const shared = overlaps(rows, recent)
    const pages = await listPages(db)
    const segments = rows.map((row) => viewOf(row, { rows, uses, recent, days, titles, overlaps: shared.get(row.id) ?? [] }))
    return {
      segments,
      pages: pages.map(({ id, title }) => ({ id, title })),
      pageTypes: [...new Set(pages.map(({ pageType }) => pageType))].sort(),
    }
  },

  'segment.parts': async ({ db }) => {
    const [rules, live, segments, recent] = await Promise.all([
      allRules(db),
      livePersonalizations(db),
      segmentsNow(db),
      recentVisitors(db),
    ])
    const parts = new Map<string, VersionRow[]>()
    for (const rule of rules) {
      const id = personalizationId(rule.document_id, rule.node_id)
      parts.set(id, [...(parts.get(id) ?? []), rule])
    }
    const found: RuledPart[] = []
    const drafts = await draftsOf(
      db,
      rules.map((rule) => rule.document_id),
    )
    const [planFor, gains] = await Promise.all([readPlans(db, [...parts.keys()]), gainsInShort(db)])
    for (const [id, ordered] of parts) {
      const draft = drafts.get(ordered[0]?.document_id ?? ('' as DocumentId))
      const published = live.find((one) => one.id === id) ?? null
      if (draft !== undefined) found.push(ruledPart(draft, ordered, published, { segments, recent, gains, plan: planFor(id) }))
    }
    return { parts: found }
  },

  'segment.create': ({ db, account }, { name, condition }) =>
    inTransaction(db, async (trx) => {
      await refuseTaken(trx, name, null)
      const { total } = z.object({ total: z.coerce.number() }).parse(await trx('segments').count({ total: '*' }).first())
      if (total >= MOST_SEGMENTS)
        throw new Failure(
          'input',
          `There are ${MOST_SEGMENTS} segments already, more than anybody keeps in mind. Remove one first.`,
        )
      const id = segmentIdSchema.parse(newId())
      await trx('segments').insert({
        ...{ id, name, condition: JSON.stringify(condition), lock_version: 1 },
        ...{ updated_at: new Date(), updated_by: account.name },
      })
      return { id }
    }),

  'segment.save': ({ db, account }, { id, lock, name, condition }) =>
    goLive(db, async (trx) => {
      const row = await holdSegment(trx, id)
      if (row.lock_version !== lock)
        throw new Failure(
          'conflict',
          `${row.updated_by} has changed this segment since you opened it. Look at it as it is now, then change it.`,
        )
      await refuseTaken(trx, name, id)
      const isOther = !isSameData(row.condition, condition)
      const isLive = isOther && (await usesOfSegments(trx)).live.some(({ segments }) => segments.includes(id))
      if (isLive && !mayAs(account.role, 'publisher'))
        throw new Failure(
          'role',
          'Rules that are live name this segment, so that a change is seen by visitors at once. Only a publisher can do this.',
        )
      await trx('segments')
        .where({ id })
        .update({
          ...{ name, condition: JSON.stringify(condition), lock_version: lock + 1 },
          ...{ updated_at: new Date(), updated_by: account.name },
        })
      if (isLive) await renewNaming(trx, new Set([id]), account.name)
      return { lock: lock + 1, release: isLive ? await makeRelease(trx, `changed the segment “${name}”`, account.name) : null }
    }),

  'segment.remove': ({ db }, { id }) =>
    goLive(db, async (trx) => {
      const { name } = await holdSegment(trx, id)
      const { rules, live, tests } = await usesOfSegments(trx)
      const [rule] = rules.filter(({ segments }) => segments.includes(id))
      const [test] = tests.filter(({ segments }) => segments.includes(id))
      const isLive = live.some(({ segments }) => segments.includes(id))
      if (rule !== undefined || test !== undefined || isLive)
        throw new Failure(
          'blocked',
          `“${name}” is still named ${rule !== undefined ? `by the rule ‘${rule.name}’ on “${rule.title}”` : test !== undefined ? `by the test “${test.name}”` : 'by a rule that is live'}. Take it out there first.`,
        )
      await trx('segments').where({ id }).delete()
      return {}
    }),
}

const MOST_TESTS = 40

/** The latest of them, with the versions that they gave: each as it was called then. */
async function testsThatDrew(db: Knex): Promise<Output<'segment.around'>['tests']> {
  const rows = await testsWhere(
    db,
    (query) => void query.whereNotIn('status', ['draft', 'scheduled']).orderBy('number', 'desc').limit(MOST_TESTS),
  )
  const rounds = await lastRounds(
    db,
    rows.map(({ number }) => number),
  )
  return rows.flatMap(({ number, name }) => {
    const round = rounds.get(number)
    if (round === undefined) return []
    const { design, versions } = round.snapshot
    const given = armsEver(round.epochs).map(({ version }) => ({ id: version, name: armName(design, versions, version) }))
    return [{ id: testId(number), name, versions: given }]
  })
}

async function refuseTaken(trx: Knex.Transaction, name: string, but: SegmentId | null): Promise<void> {
  const others: unknown[] = await trx('segments').where({ name }).select('id')
  if (others.some((row) => z.object({ id: segmentIdSchema }).parse(row).id !== but))
    throw new Failure('input', `There is a segment “${name}” already. Choose another name.`)
}

async function titlesOf(db: Knex, ids: readonly string[]): Promise<ReadonlyMap<string, string>> {
  const rows: unknown[] = ids.length === 0 ? [] : await db('documents').whereIn('id', ids).select('id', 'title')
  return new Map(
    z
      .array(z.object({ id: z.string(), title: z.string() }))
      .parse(rows)
      .map(({ id, title }) => [id, title]),
  )
}

interface Around {
  readonly rows: readonly SegmentRow[]
  readonly uses: Uses
  readonly recent: readonly Visitor[]
  readonly days: readonly string[]
  readonly titles: ReadonlyMap<string, string>
  readonly overlaps: readonly Overlap[]
}

function viewOf(row: SegmentRow, { rows, uses, recent, days, titles, overlaps: shared }: Around): SegmentView {
  const { id, name, condition, lock_version: lock, updated_at: at, updated_by: by } = row
  const naming = <Use extends { readonly segments: readonly SegmentId[] }>(of: readonly Use[]) =>
    of.filter(({ segments }) => segments.includes(id))
  return {
    ...{ id, name, condition, lock, at: at.toISOString(), by },
    size: audienceSize(condition, [], recent),
    days: audienceByDay(condition, [], recent, days),
    overlaps: shared.map((one) => ({ ...one, name: rows.find((other) => other.id === one.id)?.name ?? '' })),
    rules: naming(uses.rules),
    tests: naming(uses.tests),
    live: [...new Set(naming(uses.live).map(({ document }) => document))].map((document) => ({
      id: document,
      title: titles.get(document) ?? document,
    })),
  }
}

function ruledPart(
  draft: ContentDocument,
  ordered: readonly VersionRow[],
  live: Personalization | null,
  {
    segments,
    recent,
    gains,
    plan,
  }: {
    readonly segments: readonly Segment[]
    readonly recent: readonly Visitor[]
    readonly gains: ReadonlyMap<RoundId, GainView>
    readonly plan: GainPlan
  },
): RuledPart {
  const node = ordered[0]?.node_id ?? draft.root
  const reach = ruleReach(
    ordered.map(({ condition }) => condition ?? EVERYBODY),
    segments,
    recent,
  )
  const rules = rulesOn(ordered, node)
  const gainOf = (round: RoundId | null | undefined) => (round == null ? null : (gains.get(round) ?? null))
  return {
    document: draft.id,
    title: titleOf(draft),
    node,
    part: partWords(draft, node),
    live: live !== null,
    changed: live !== null && !isAsPublished(live, { rules, plan }),
    holdout: live?.holdout ?? 0,
    together: gainOf(live?.round),
    rules: rules.map(({ version, condition }, at) => ({
      ...{ version: version.id, name: version.name, condition },
      reach: reach[at] ?? { kind: 'unknown' },
      gain: gainOf(live?.rules.find((rule) => rule.version.id === version.id)?.round),
    })),
  }
}
