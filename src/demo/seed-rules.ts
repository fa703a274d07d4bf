import type { Condition, SeenPage } from '@/core/decide'
import { ladderOf, noteOfSegments } from '@/core/experiment'
import type { DocumentId, GoalId, NodeId, SegmentId } from '@/core/ids'
import { visitors } from '@/core/simulate'
import { tallyAll } from '@/jobs/work'
import type { Database } from '@/server/database/connect'
import { ruledEventsOf } from '@/server/rehearse'
import { writeEvents } from '@/server/stores/events'
import { openGains } from '@/server/stores/gains'
import { segmentsNow } from '@/server/stores/segments'
import { readCalendar } from '@/server/stores/settings'
import { livePersonalizations, personalizationId } from '@/server/stores/versions'
import { act } from './act'
import { demoParts, demoSegments, demoVisitors, type DemoPart } from './segments'

const DAY = 86_400_000

/** Kinds of visitors, by name: there before any test has its visitors, so that its results can be read by them. */
export async function seedSegments(db: Database): Promise<ReadonlyMap<string, SegmentId>> {
  const ids = new Map<string, SegmentId>()
  for (const segment of demoSegments) ids.set(segment.name, (await act(db, 'segment.create', segment)).id)
  return ids
}

/** The parts that are shown by rule. */
export async function seedRules(db: Database, ids: ReadonlyMap<string, SegmentId>): Promise<void> {
  for (const [index, part] of demoParts.entries()) {
    const place = { document: part.document as DocumentId, node: part.node as NodeId }
    for (const { name, words, condition } of part.rules) {
      const { id, lock } = await act(db, 'version.create', { ...place, manner: 'rule', from: null })
      await act(db, 'version.save', {
        ...{ id, lock, name },
        edits: [{ kind: 'set', node: place.node, prop: 'words', value: words }],
        condition: { kind: 'all', of: [conditionOf(condition, ids)] },
      })
    }
    const { plan, lock } = await act(db, 'personalization.read', place)
    const goals = { primary: part.goal as GoalId, watched: (part.watched ?? []) as GoalId[] }
    await act(db, 'personalization.plan', { ...place, lock, plan: { ...plan, ...goals } })
    await act(db, 'personalization.publish', place)
    await letRulesGain(db, part, 2000 + index)
  }
  const { day } = (await readCalendar(db)).clockOf(new Date())
  for (const { name, visitor } of demoVisitors) await act(db, 'lens.save', { name, visitor: { day, ...visitor } })
}

function conditionOf(condition: DemoPart['rules'][number]['condition'], ids: ReadonlyMap<string, SegmentId>): Condition {
  if (!('segmentNamed' in condition)) return condition
  const segment = ids.get(condition.segmentNamed)
  if (segment === undefined) throw new Error(`seedRules: there is no segment “${condition.segmentNamed}”`)
  return { kind: 'segment', segment, fits: true }
}

/** Moves the beginning of a part’s rules back, and lets visitors come whom they fit. */
async function letRulesGain(
  db: Database,
  { document, node, rules, visitors: crowd, days }: DemoPart,
  seed: number,
): Promise<void> {
  const id = personalizationId(document as DocumentId, node as NodeId)
  const startsAt = new Date(Math.floor(Date.now() / DAY) * DAY - days * DAY)
  await db('rounds').where({ personalization: id }).update({ started_at: startsAt })
  const live = (await livePersonalizations(db, document as DocumentId)).find((one) => one.id === id)
  if (live === undefined) throw new Error(`letRulesGain: ${id} is not live`)
  const open = await openGains(db, [id])
  const roundOf = (round: string | null) => open.find(({ snapshot }) => snapshot.id === round)?.snapshot
  const ruled = {
    ladder: ladderOf(live, await segmentsNow(db)),
    rules: live.rules.flatMap(({ round }) => roundOf(round) ?? []),
    together: roundOf(live.round) ?? null,
  }
  const segmentsOf = noteOfSegments(await segmentsNow(db))
  const calendar = await readCalendar(db)
  const now = Date.now()
  let group: ReturnType<typeof ruledEventsOf> = []
  for (const visitor of visitors({ seed, visitors: crowd, days, startsAt })) {
    // One in three has looked at an instrument on the way.
    const pagesSeen = parseInt(visitor.id.slice(-2), 16) % 3 === 0 ? [aCello] : []
    const also = { pagesSeen, moment: calendar.clockOf(visitor.arrivesAt) }
    const rateOf = (rule: number, isHeld: boolean) => rules[rule]?.rates[isHeld ? 0 : 1] ?? 0
    const events = ruledEventsOf(visitor, ruled, also, rateOf, segmentsOf)
    group.push(...events.filter(({ at }) => at.getTime() < now))
    if (group.length < 3000) continue
    await writeEvents(db, group)
    group = []
  }
  await writeEvents(db, group)
  await tallyAll(db)
}

const aCello: SeenPage = { page: 'cello' as DocumentId, pageType: 'Instrument' }
