import type { Knex } from 'knex'
import * as z from 'zod'
import { PAGE_SIZE, takenOffSchema, type TakenOff } from '@/contract/contract'
import { BY_RULE, isAsPublished, ruleReach, wholeReading, type Personalization } from '@/core/experiment'
import type { DocumentId, NodeId } from '@/core/ids'
import { isSameData } from '@/core/same-data'
import { partWords } from '@/components/part-words'
import { titleOf } from '@/components/references'
import { inTransaction } from '../database/connect'
import { whereSaid } from '../database/contains'
import { jsonColumn } from '../database/json-column'
import { Failure, missing } from '../failure'
import { newId } from '../new-id'
import { holdDocument, readDocument, readPublished } from '../stores/documents'
import { closeGains, gainsOf, openGains, readPlan, writePlan } from '../stores/gains'
import { goalRows, listGoals } from '../stores/goals'
import { recentVisitors } from '../stores/recent-visitors'
import { goLive } from '../database/go-live'
import { makeRelease } from '../stores/releases'
import { segmentsNow } from '../stores/segments'
import { roundsById, type GainRow } from '../stores/tests'
import { listVersions, livePersonalizations, personalizationId, rulesOn } from '../stores/versions'
import { readGains } from './gain-views'
import { putRulesLive } from './gains'
import type { Area } from './handler'
import { resultOf, type Read } from './result-of'
import { suggestionsNow } from './suggestions'

/** Parts that are shown by rule: how they go live, what they gain, and what is written down when they are taken off. */
export const personalizationActions: Area<'personalization'> = {
  'personalization.read': async ({ db }, { document, node }) => {
    const id = personalizationId(document, node)
    const [row, { plan, lock }, live, versions, rounds, goals, segments, recent] = await Promise.all([
      readDocument(db, document),
      readPlan(db, id),
      livePersonalizations(db, document),
      listVersions(db, document),
      gainsOf(db, id),
      listGoals(db),
      segmentsNow(db),
      recentVisitors(db),
    ])
    const published = live.find((one) => one.id === id) ?? null
    const rules = rulesOn(versions, node)
    const conditions = rules.map(({ condition }) => condition)
    const reach = ruleReach(conditions, segments, recent)
    return {
      ...{ document, node, title: titleOf(row.draft), part: partWords(row.draft, node) },
      live: published !== null,
      changed: published !== null && !isAsPublished(published, { rules, plan }),
      rules: rules.map(({ version, condition }, at) => ({
        ...{ version: version.id, name: version.name, condition },
        reach: reach[at] ?? { kind: 'unknown' as const },
      })),
      ...{ plan, lock, goals: goals.map((goal) => ({ id: goal.id, name: goal.name })) },
      rounds: rounds.map(roundView),
    }
  },

  'personalization.suggested': async ({ db }) => ({ suggestions: await suggestionsNow(db) }),

  'personalization.result': async ({ db }, { round, goal }) => {
    const [row] = await roundsById(db, [round])
    if (row === undefined || row.personalization === null) throw missing('This result')
    return (await resultOf(db, row, 0, goal))?.view ?? null
  },

  'personalization.plan': ({ db, account }, { document, node, lock, plan }) =>
    inTransaction(db, async (trx) => {
      await holdDocument(trx, document)
      const personalization = personalizationId(document, node)
      const before = await readPlan(trx, personalization, true)
      // Sent again, as its answer was lost: it is there already.
      if (before.lock === lock + 1 && isSameData(before.plan, plan)) return { lock: before.lock }
      if (before.lock !== lock)
        throw new Failure('conflict', 'Somebody else has changed how the gain is measured. Look at it again, then change it.')
      const known = new Set((await listGoals(trx)).map(({ id }) => id))
      const gone = [...(plan.primary === null ? [] : [plan.primary]), ...plan.watched].some((id) => !known.has(id))
      if (gone) throw new Failure('input', 'A goal that was chosen is not there any more. Choose another one.')
      await writePlan(trx, { personalization, document, plan, lock: lock + 1, by: account.name })
      return { lock: lock + 1 }
    }),

  'personalization.publish': ({ db, account }, { document, node }) =>
    goLive(db, async (trx) => {
      // Held, so that two who publish at once do it one after the other.
      const { title } = await holdDocument(trx, document)
      const rules = rulesOn(await listVersions(trx, document), node)
      if (rules.length === 0) throw new Failure('input', 'There is no version for anybody yet. Make one on the shelf first.')
      const published = (await readPublished(trx, [document])).get(document)
      if (published?.nodes[node] === undefined)
        throw new Failure('blocked', 'This component is not on the published page. Publish the page first.')
      const same = rules.find(({ version }) => version.edits.length === 0)
      if (same !== undefined)
        throw new Failure(
          'blocked',
          `‘${same.version.name}’ does not differ from the original. Change something in it, or remove it.`,
        )
      const id = personalizationId(document, node)
      const { plan } = await readPlan(trx, id)
      await refuseGone(trx, plan.primary)
      await putRulesLive(trx, { id, document, node, rules }, { plan, author: account.name })
      return { release: await makeRelease(trx, `personalized a part of “${title}”`, account.name) }
    }),

  'personalization.withdraw': ({ db, account }, { document, node, lesson }) =>
    goLive(db, async (trx) => {
      const row = await holdDocument(trx, document)
      const id = personalizationId(document, node)
      const live = (await livePersonalizations(trx, document)).find((one) => one.id === id)
      if (live === undefined) throw new Failure('conflict', 'These versions are not live any more.')
      const open = await openGains(trx, [id])
      await closeGains(trx, { rounds: open.map(({ snapshot }) => snapshot.id) })
      await writeDown(trx, live, open, { page: titleOf(row.draft), part: partWords(row.draft, node), by: account.name, lesson })
      await trx('personalizations').where({ id }).delete()
      return { release: await makeRelease(trx, 'took personalized versions off the site', account.name) }
    }),

  'personalization.ended': async ({ db }, { page, search }) => {
    const narrow = (query: Knex.QueryBuilder) => {
      if (search !== '') whereSaid(query, ['name', 'body'], search)
    }
    const { total } = z
      .object({ total: z.coerce.number() })
      .parse(await db('gain_entries').modify(narrow).count({ total: '*' }).first())
    const rows: unknown[] = await db('gain_entries')
      .modify(narrow)
      .orderBy([{ column: 'at', order: 'desc' }, { column: 'id' }])
      .limit(PAGE_SIZE)
      .offset((page - 1) * PAGE_SIZE)
    return {
      lines: rows.map((row) => entryRow.parse(row)).map(({ body, at, ...rest }) => ({ ...body, ...rest, at: at.toISOString() })),
      total,
    }
  },

  'personalization.learned': ({ db }, { id, lesson }) =>
    inTransaction(db, async (trx) => {
      const row: unknown = await trx('gain_entries').where({ id }).forUpdate().first()
      if (row === undefined) throw missing('This entry')
      const { body } = entryRow.parse(row)
      await trx('gain_entries')
        .where({ id })
        .update({ body: JSON.stringify({ ...body, lesson } satisfies TakenOff) })
      return {}
    }),
}

const entryRow = z.object({ id: z.string(), name: z.string(), body: jsonColumn(takenOffSchema), at: z.date() })

function roundView({ snapshot, started_at: since, ended_at: until, rule }: GainRow) {
  const { id, number, design } = snapshot
  return {
    ...{ id, number, name: design.name, holdout: design.arms[0]?.weight ?? 0 },
    rule: rule === '' ? null : (design.arms[1]?.version ?? BY_RULE),
    goals: [...(design.primary === null ? [] : [design.primary]), ...design.watched],
    ...{ since: since.toISOString(), until: until?.toISOString() ?? null },
  }
}

/** A goal that is archived, or gone, is counted no more: nobody would be held out for anything. */
async function refuseGone(trx: Knex.Transaction, goal: string | null): Promise<void> {
  if (goal === null) return
  const rows = await goalRows(trx, (query) => void query.where({ archived: 0, id: goal }))
  if (rows.length === 0)
    throw new Failure('blocked', 'The goal by which the gain is measured is not counted any more. Choose another one first.')
}

interface About {
  readonly page: string
  readonly part: string
  readonly by: string
  readonly lesson: string
}

/** An entry in the notebook, where anything was counted: what the rules were, and what each of them gained. */
async function writeDown(
  trx: Knex.Transaction,
  { document, node, rules, round }: Personalization,
  open: readonly GainRow[],
  { page, part, by, lesson }: About,
): Promise<void> {
  // As they stand with their last day counted.
  const ended = open.map((row) => ({ ...row, ended_at: new Date() }))
  const read = await readGains(trx, ended)
  if (![...read.values()].some(({ result }) => result.rates.some(({ exposed }) => exposed > 0))) return
  const said = (of: Read) => ({
    sentence: of.sentence,
    reading: wholeReading(of.result),
    arms: of.view.rates.map(({ name, exposed, rate }) => ({ name, exposed, rate })),
  })
  const together = round === null ? undefined : read.get(round)
  const since = Math.min(...ended.map(({ started_at: at }) => at.getTime()))
  const body: TakenOff = {
    ...{ document: document satisfies DocumentId, node: node satisfies NodeId, page, by, lesson },
    goal: [...read.values()][0]?.goal.name ?? '',
    since: new Date(since).toISOString(),
    together: together === undefined ? null : said(together),
    rules: rules.flatMap(({ version, condition, round: own }) => {
      const found = own === null ? undefined : read.get(own)
      return found === undefined ? [] : [{ name: version.name, condition, ...said(found) }]
    }),
  }
  await trx('gain_entries').insert({ id: newId(), name: part.slice(0, 300), body: JSON.stringify(body), at: new Date() })
}
