import type { Knex } from 'knex'
import * as z from 'zod'
import type { NextPlace } from '@/contract/contract'
import { propsOf } from '@/components/component-type'
import { form } from '@/components/form/fields'
import type { ContentDocument } from '@/core/document'
import { stakeOf, type Loss } from '@/core/experiment'
import { libraryOf, partsOfGoal, stepId, type Goal } from '@/core/goals'
import { documentIdSchema, type DocumentId } from '@/core/ids'
import { SITE, subjects } from '@/core/ledger'
import { readPublished } from '../stores/documents'
import { publishedGoals } from '../stores/goals'
import { firstDay } from '../stores/last-days'

const MOST = 6

const sumRow = z.object({
  subject: z.string(),
  times: z.coerce.number(),
  visitors: z.coerce.number(),
  worth: z.coerce.number(),
})
type Sum = z.infer<typeof sumRow>

/**
 * Pages and steps of funnels by what is lost there: from the tallies of four weeks alone. On a page whoever went no
 * further in that visit is lost; leaving from where a form or a funnel ends is none.
 */
export async function whereNext(db: Knex, only: DocumentId | null): Promise<NextPlace[]> {
  const [goals, pages, forms] = await Promise.all([publishedGoals(db), pagesOf(db, only), pagesWithForms(db)])
  const ends = endsOf(forms, goals)
  const lookedAt = pages.filter(({ id }) => !ends.has(id))
  const sums = await sumsOf(db, [
    ...lookedAt.flatMap(({ id }) => [subjects.visitsWith(id), subjects.lastPage(id)]),
    ...goals.map(({ id }) => subjects.goal(id)),
    ...goals.flatMap((goal) => partsOfGoal(goal).map((_, index) => subjects.goal(stepId(goal.id, index + 1)))),
    subjects.visitsFrom(SITE),
  ])
  const brought = broughtIn(goals, sums)
  const unit = brought.money > 0 ? 'money' : 'points'
  const visits = sums.get(subjects.visitsFrom(SITE))?.times ?? 0
  const onPages = lookedAt.flatMap(({ id, title, path }) => {
    const [shown, left] = [sums.get(subjects.visitsWith(id)), sums.get(subjects.lastPage(id))]
    const loss = {
      came: shown?.times ?? 0,
      lost: left?.times ?? 0,
      worth: visits === 0 ? 0 : brought[unit] / visits,
      brought: brought[unit],
    }
    return ranked({ kind: 'page', id, name: title, path, next: '' }, loss, unit)
  })
  const inFunnels = only === null ? goals.flatMap((goal) => stepsOf(goal, goals, sums, brought)) : []
  return [...onPages, ...inFunnels].sort((a, b) => b.share - a.share).slice(0, MOST)
}

type Brought = Readonly<Record<Goal['worthIn'], number>>

function ranked(
  place: Pick<NextPlace, 'kind' | 'id' | 'name' | 'path' | 'next'>,
  loss: Loss,
  unit: Goal['worthIn'],
): NextPlace[] {
  const stake = stakeOf(loss)
  return stake === null ? [] : [{ ...place, came: loss.came, lost: loss.lost, in: unit, ...stake }]
}

/** Of those who passed a step, the ones who did not pass the next; worth what the funnel brings for each who passed it. */
function stepsOf(goal: Goal, goals: readonly Goal[], sums: ReadonlyMap<string, Sum>, brought: Brought): NextPlace[] {
  if (goal.wiring.kind !== 'steps') return []
  const library = libraryOf(goals)
  const names = goal.wiring.goals.map((id) => library.get(id)?.name ?? 'a goal that is gone')
  const passed = names.map((_, index) => sums.get(subjects.goal(stepId(goal.id, index + 1)))?.visitors ?? 0)
  const through = passed.at(-1) ?? 0
  return names.slice(1).flatMap((next, index) => {
    const [came = 0, wentOn = 0] = passed.slice(index, index + 2)
    const worth = came === 0 ? 0 : (goal.worth * through) / came
    const loss = { came, lost: came - wentOn, worth, brought: brought[goal.worthIn] }
    return ranked({ kind: 'step', id: goal.id, name: names[index] ?? '', path: goal.name, next }, loss, goal.worthIn)
  })
}

/** All that was reached, by unit; what is made of other goals would count twice. */
function broughtIn(goals: readonly Goal[], sums: ReadonlyMap<string, Sum>): Brought {
  const of = (unit: Goal['worthIn']) =>
    goals
      .filter((goal) => goal.worthIn === unit && partsOfGoal(goal).length === 0)
      .reduce((sum, { id }) => sum + (sums.get(subjects.goal(id))?.worth ?? 0), 0)
  return { points: of('points'), money: of('money') }
}

/** Where whoever leaves has done what they came for: the pages to which forms lead, and with which funnels end. */
function endsOf(documents: readonly ContentDocument[], goals: readonly Goal[]): Set<string> {
  const library = libraryOf(goals)
  const thanks = documents.flatMap(({ nodes }) =>
    Object.values(nodes).flatMap((node) =>
      node.type === 'form' ? [/^page:([a-z0-9-]+)/.exec(propsOf(form, node).next)?.[1] ?? ''] : [],
    ),
  )
  const lastSteps = goals.flatMap(({ wiring }) => {
    const last = wiring.kind === 'steps' ? library.get(wiring.goals.at(-1) ?? ('' as Goal['id'])) : undefined
    return last?.wiring.kind === 'page' ? [last.wiring.document as string] : []
  })
  return new Set([...thanks, ...lastSteps])
}

/** Only these are read whole. */
async function pagesWithForms(db: Knex): Promise<ContentDocument[]> {
  const found: unknown[] = await db('documents as d')
    .join('revisions as r', (on) => on.on('r.document_id', 'd.id').andOn('r.number', 'd.published_revision'))
    .where('r.body', 'like', '%"type":"form"%')
    .select('d.id')
  const ids = found.map((row) => z.object({ id: documentIdSchema }).parse(row).id)
  return [...(await readPublished(db, ids)).values()]
}

const pageRow = z.object({ id: documentIdSchema, title: z.string(), path: z.string() })

async function pagesOf(db: Knex, only: DocumentId | null) {
  const found: unknown[] = await db('documents')
    .where({ kind: 'page' })
    .whereNotNull('published_revision')
    .modify((query) => {
      if (only !== null) void query.where({ id: only })
    })
    .limit(2000)
    .select('id', 'title', 'path')
  return found.map((row) => pageRow.parse(row))
}

async function sumsOf(db: Knex, wanted: readonly string[]): Promise<Map<string, Sum>> {
  const found: unknown[] = await db('daily')
    .whereIn('subject', wanted)
    .where('day', '>=', await firstDay(db))
    .groupBy('subject')
    .select('subject')
    .sum({ times: 'times', visitors: 'visitors', worth: 'worth' })
  return new Map(found.map((row) => sumRow.parse(row)).map((sum) => [sum.subject, sum]))
}
