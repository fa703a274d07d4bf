import type { Knex } from 'knex'
import * as z from 'zod'
import { throwAway } from '../stores/bin'
import { PAGE_SIZE } from '@/contract/contract'
import { countsAlike, goalSchema, libraryOf, partsOfGoal, type Goal } from '@/core/goals'
import type { TestId } from '@/core/ids'
import { suggestions } from '@/components/goal-suggestions'
import { subjects } from '@/core/ledger'
import { dayColumn } from '../database/day-column'
import { inTransaction } from '../database/connect'
import { Failure, missing } from '../failure'
import { newId } from '../new-id'
import { readDocument } from '../stores/documents'
import { createGoal, goalRows, holdGoal, listGoals, MOST_GOALS, publishGoals, refuseParts } from '../stores/goals'
import { goLive } from '../database/go-live'
import { makeRelease } from '../stores/releases'
import { readSettings } from '../stores/settings'
import { openGains } from '../stores/gains'
import { roundsOf, testId, testsWhere } from '../stores/tests'
import { contains } from '../database/contains'
import { funnelOf, goalLines } from './goal-lines'
import type { Area } from './handler'

export const goalActions: Area<'goal'> = {
  'goal.list': async ({ db }, { page, search, archived }) => {
    const rows = await goalRows(db, (query) => {
      void query.where({ archived: archived ? 1 : 0 })
      if (search !== '') void query.whereILike('name', contains(search))
    })
    return { total: rows.length, lines: await goalLines(db, rows.slice((page - 1) * PAGE_SIZE, page * PAGE_SIZE)) }
  },

  'goal.open': async ({ db }, { goal: id }) => {
    const rows = await goalRows(db, (query) => void query.where({ id }))
    const [line] = await goalLines(db, rows)
    if (line === undefined) throw missing('This goal')
    const library = await listGoals(db)
    const pages: { id: never; title: string; path: string; page_type: string }[] = await db('documents')
      .where({ kind: 'page', binned_at: null })
      .orderBy('position')
      .limit(2000)
      .select('id', 'title', 'path', 'page_type')
    return {
      ...line,
      funnel: await funnelOf(db, line.goal, libraryOf(library)),
      asBefore: await countingAsBefore(db, line.goal),
      library,
      currency: (await readSettings(db)).currency,
      seenAt: await firstReport(db, line.goal),
      pages: pages.map(({ page_type: pageType, ...page }) => ({ ...page, pageType })),
    }
  },

  'goal.create': ({ db, account }, wanted) =>
    inTransaction(db, async (trx) => {
      const known = await listGoals(trx)
      if (known.length >= MOST_GOALS) throw new Failure('input', `The library holds ${MOST_GOALS} goals. Archive one first.`)
      // The same thing is one goal, however often it is pointed at.
      const same = known.find((goal) => JSON.stringify(goal.wiring) === JSON.stringify(wanted.wiring))
      if (same !== undefined) return same
      const goal = goalSchema.parse({
        ...wanted,
        withinDays: wanted.withinDays ?? (await readSettings(trx)).withinDays,
        id: newId(),
      })
      await refuseUnfit(trx, goal)
      await createGoal(trx, goal, account.name)
      return goal
    }),

  'goal.save': ({ db, account }, { lock, ...goal }) =>
    inTransaction(db, async (trx) => {
      const row = await holdGoal(trx, goal.id)
      // Sent again, as its answer was lost: it is there already.
      if (row.lock_version === lock + 1 && JSON.stringify(row.body) === JSON.stringify(goalSchema.parse(goal)))
        return { lock: row.lock_version }
      if (row.lock_version !== lock)
        throw new Failure('conflict', `${row.updated_by} has changed “${row.body.name}” since you opened it. Open it again.`)
      await refuseUnfit(trx, goal)
      await trx('goals')
        .where({ id: goal.id })
        .update({
          name: goal.name,
          body: JSON.stringify(goalSchema.parse(goal)),
          lock_version: lock + 1,
          updated_at: new Date(),
          updated_by: account.name,
        })
      return { lock: lock + 1 }
    }),

  'goal.publish': ({ db, account }, { goal: id, lock }) =>
    goLive(db, async (trx) => {
      const row = await holdGoal(trx, id)
      if (row.lock_version !== lock)
        throw new Failure(
          'conflict',
          `${row.updated_by} has changed “${row.body.name}” since you looked at it. Look at it again.`,
        )
      if (row.archived) throw new Failure('blocked', 'It is archived. Bring it back first.')
      await publishGoals(trx, [id], account.name)
      return { release: await makeRelease(trx, `published the goal “${row.body.name}”`, account.name) }
    }),

  'goal.archive': ({ db, account }, { goal: id, archived }) =>
    goLive(db, async (trx) => {
      const row = await holdGoal(trx, id)
      if (archived) {
        const [line] = await goalLines(trx, [row])
        const test = line?.tests.find(({ status }) => status !== 'settled' && status !== 'ended')
        if (test !== undefined) throw new Failure('blocked', `“${test.name}” counts it. Choose another goal there first.`)
        const part = (await listGoals(trx)).find((goal) => partsOfGoal(goal).includes(id))
        if (part !== undefined) throw new Failure('blocked', `“${part.name}” is made of it. Take it out there first.`)
      }
      await trx('goals')
        .where({ id })
        .update({ archived: archived ? 1 : 0, updated_at: new Date(), updated_by: account.name })
      const reason = `${archived ? 'archived' : 'brought back'} the goal “${row.body.name}”`
      return { release: await makeRelease(trx, reason, account.name) }
    }),

  'goal.remove': ({ db, account }, { goal: id }) =>
    inTransaction(db, async (trx) => {
      const row = await holdGoal(trx, id)
      const [line] = await goalLines(trx, [row])
      if (row.published !== null && !row.archived) throw new Failure('blocked', 'It counts. Archive it first.')
      const [test] = line?.tests ?? []
      if (test !== undefined)
        throw new Failure(
          'blocked',
          `“${test.name}” has it among its goals: it stays archived, so that its results stay readable.`,
        )
      const counted = (await openGains(trx)).some(({ snapshot }) => snapshot.goals.some((goal) => goal.id === id))
      if (counted)
        throw new Failure('blocked', 'What rules gain is counted by it. Choose another goal for them, under Personalize, first.')
      const part = (await goalRows(trx)).find(({ body }) => partsOfGoal(body).includes(id))
      if (part !== undefined) throw new Failure('blocked', `“${part.body.name}” is made of it. Take it out there first.`)
      await throwAway(trx, { goal: id }, account.name)
      return {}
    }),

  'goal.suggest': async ({ db }, { documents }) => {
    const drafts = await Promise.all(documents.map(async (id) => (await readDocument(db, id)).draft))
    const titles: { id: string; title: string }[] = await db('documents').select('id', 'title')
    const known = new Set((await listGoals(db)).map(({ wiring }) => JSON.stringify(wiring)))
    const found = suggestions(drafts, new Map(titles.map(({ id, title }) => [id, title])))
    return { suggestions: found.filter(({ wiring }) => !known.has(JSON.stringify(wiring))) }
  },
}

/** Running tests whose round counts this goal as it was. */
async function countingAsBefore(db: Knex, goal: Goal): Promise<{ test: TestId; name: string }[]> {
  const running = await testsWhere(db, (query) => void query.where({ status: 'running' }).orderBy('number'))
  const found: { test: TestId; name: string }[] = []
  for (const { number, name } of running) {
    const [round] = await roundsOf(db, number)
    const then = round?.snapshot.goals.find(({ id }) => id === goal.id)
    if (then !== undefined && !countsAlike(then, goal)) found.push({ test: testId(number), name })
  }
  return found
}

/** The day on which something was first reported under the goal’s name. */
async function firstReport(db: Knex, { wiring }: Goal): Promise<string | null> {
  const name = wiring.kind === 'event' ? wiring.event : wiring.kind === 'order' ? '*order' : null
  if (name === null) return null
  const row: unknown = await db('daily')
    .where({ subject: subjects.named(name) })
    .min({ day: 'day' })
    .first()
  return z.object({ day: dayColumn.nullable() }).parse(row).day
}

/** A component that is not there, or parts that a goal cannot be made of. */
async function refuseUnfit(trx: Knex.Transaction, goal: Goal): Promise<void> {
  const { wiring } = goal
  if ('node' in wiring) {
    const { draft } = await readDocument(trx, wiring.document)
    if (draft.nodes[wiring.node] === undefined)
      throw new Failure('input', 'That component is no longer on the page. Point at another one.')
    if (wiring.kind === 'form' && draft.nodes[wiring.node]?.type !== 'form')
      throw new Failure('input', 'That is no form. Point at a form.')
  } else if ('document' in wiring) await readDocument(trx, wiring.document)
  await refuseParts(trx, [goal])
}
