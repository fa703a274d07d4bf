import type { Knex } from 'knex'
import * as z from 'zod'
import { PAGE_SIZE } from '@/contract/contract'
import { inTransaction } from '../database/connect'
import { Failure } from '../failure'
import { holdTest, testId, testNumber, testsWhere } from '../stores/tests'
import { whereSaid } from '../database/contains'
import { kindsOf, likelyGain } from '@/core/experiment'
import { pastTests, tagsUsed } from '../stores/past-tests'
import type { Area } from './handler'
import { decisionView } from './test-lines'

export const notebookActions: Area<'notebook' | 'tag'> = {
  'tag.list': async ({ db }) => ({ tags: await tagsUsed(db) }),

  'notebook.list': async ({ db }, { page, search, tag }) => {
    const narrow = (query: Knex.QueryBuilder) => {
      void query.whereNotNull('decision')
      if (search !== '') whereSaid(query, ['name', 'design', 'decision', 'notes', 'tags'], search)
      if (tag !== '') void query.whereRaw('JSON_CONTAINS(tags, ?)', [JSON.stringify(tag)])
    }
    const total = z
      .object({ total: z.coerce.number() })
      .parse(await db('tests').modify(narrow).count({ total: '*' }).first()).total
    const rows = await testsWhere(db, (query) => {
      narrow(query)
      void query
        .orderByRaw('settled_at IS NULL, settled_at DESC, number DESC')
        .limit(PAGE_SIZE)
        .offset((page - 1) * PAGE_SIZE)
    })
    const titles = new Map<string, string>(
      (
        await db('documents')
          .whereIn(
            'id',
            rows.map(({ document_id }) => document_id),
          )
          .select('id', 'title')
      ).map((row: { id: string; title: string }) => [row.id, row.title]),
    )
    const pictured = new Set<number>(
      (
        await db('pictures')
          .whereIn(
            'test_number',
            rows.map(({ number }) => number),
          )
          .select('test_number')
      ).map((row: { test_number: number }) => row.test_number),
    )
    const lines = rows.flatMap((row) => {
      if (row.decision === null || row.started_at === null) return []
      const { problem, change, expected } = row.design
      return [
        {
          test: testId(row.number),
          name: row.name,
          page: titles.get(row.document_id) ?? '',
          problem,
          change,
          expected,
          decision: decisionView(row.decision),
          hasPictures: pictured.has(row.number),
          arms: row.decision.arms,
          goal: row.decision.goal,
          startedAt: row.started_at.toISOString(),
          ...{ campaign: row.design.campaign, tags: row.tags, notes: row.notes },
          ...{ changed: row.decision.changed, tested: row.decision.tested },
        },
      ]
    })
    return { lines, total }
  },

  'notebook.kinds': async ({ db }) => ({
    kinds: kindsOf(await pastTests(db)).map(({ kind, tests, paid, average, prior, each }) => ({
      ...{ kind, tests, paid, average },
      likely: prior === null ? null : likelyGain(prior),
      each: each.slice(0, MOST_COMPARED).map(({ of, lift, shrunk, interval }) => ({
        ...{ test: of.test, name: of.name, lift, shrunk, interval },
      })),
    })),
  }),

  'notebook.picture': async ({ db }, { test, which }) => {
    const row: unknown = await db('pictures')
      .where({ test_number: testNumber(test), which })
      .first('html')
    return { html: row === undefined ? null : z.object({ html: z.string() }).parse(row).html }
  },

  'notebook.write': ({ db }, { test, lesson }) =>
    inTransaction(db, async (trx) => {
      const row = await holdTest(trx, test)
      if (row.decision === null) throw new Failure('conflict', 'This test has no entry in the notebook yet.')
      await trx('tests')
        .where({ number: row.number })
        .update({ decision: JSON.stringify({ ...row.decision, lesson }) })
      return {}
    }),
}

/** Of one kind, those with the largest gains. */
const MOST_COMPARED = 30
