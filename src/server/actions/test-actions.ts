import type { Knex } from 'knex'
import type { Output } from '@/contract/contract'
import { ORIGINAL } from '@/core/decide'
import { apply, describe, type Edit } from '@/core/document'
import {
  affectsResult,
  checkWords,
  designSchema,
  evenWeights,
  findingWords,
  isOpenToChange,
  next,
  type Command,
  type Round,
} from '@/core/experiment'
import type { RoundId, TestId, VersionId } from '@/core/ids'
import { vocabulary, vocabularyOf } from '@/components/types'
import { inTransaction, type Database } from '../database/connect'
import { Failure } from '../failure'
import { holdDocument, readDocument, readPublished, readSurroundings } from '../stores/documents'
import { makeRelease } from '../stores/releases'
import { listRehearsals } from '../stores/rehearsals'
import { holdTest, readTest, roundsOf, testId, type TestRow } from '../stores/tests'
import { listVersions, versionsOfTest } from '../stores/versions'
import type { Area } from './handler'
import { settle, takeBack } from './settle'
import { decisionView, listTests } from './test-lines'
import { namesFor, testFacts } from './test-facts'

export const testActions: Area<'test'> = {
  'test.list': async ({ db }, { page, search, status }) => {
    const narrow = (query: Knex.QueryBuilder) => {
      if (status !== null) void query.where({ status })
      if (search !== '') void query.whereLike('name', `%${search.replace(/[%_\\]/g, '\\$&')}%`)
    }
    return listTests(db, narrow, page)
  },

  'test.open': ({ db }, { test }) => openTest(db, test),

  'test.create': ({ db, account }, { document, node }) =>
    inTransaction(db, async (trx) => {
      const page = await readDocument(trx, document)
      const free = (await listVersions(trx, document)).filter(
        (version) => version.node_id === node && version.manner === 'chance' && version.test_number === null,
      )
      const ids = [ORIGINAL, ...free.map(({ id }) => id)]
      const weights = evenWeights(ids.length)
      const part = page.draft.nodes[node]
      if (part === undefined) throw new Failure('input', 'That component is no longer on the page. Select another one.')
      const design = designSchema.parse({
        name: `${vocabulary.typeName(part.type).replace(/^./, (letter) => letter.toUpperCase())} on ${page.title}`.slice(0, 120),
        problem: '',
        change: '',
        expected: '',
        document,
        node,
        arms: ids.map((version, index) => ({ version, weight: weights[index] ?? 0 })),
        share: 10_000,
        primary: null,
        watched: [],
        smallestEffect: 0.05,
      })
      const [number] = await trx('tests').insert({
        document_id: document,
        status: 'draft',
        name: design.name,
        design: JSON.stringify(design),
        created_at: new Date(),
        created_by: account.name,
      })
      if (number === undefined) throw new Error('the database gave no number for the new test')
      await trx('versions')
        .whereIn(
          'id',
          free.map(({ id }) => id),
        )
        .update({ test_number: number })
      return { test: testId(number) }
    }),

  'test.save': ({ db }, { test, lock, design }) =>
    inTransaction(db, async (trx) => {
      const row = await holdTest(trx, test)
      if (row.lock_version !== lock)
        throw new Failure(
          'conflict',
          'Somebody else has changed this test since you opened it. Open it again; your last change is not saved over theirs.',
        )
      // The question may be written and mended at any time; what affects the result only while nobody is drawn.
      const before = row.design
      const essence = ({ arms, share, primary, watched, smallestEffect, document, node }: typeof design) =>
        JSON.stringify([arms, share, primary, watched, smallestEffect, document, node])
      if (!isOpenToChange(row.status) && essence(before) !== essence(design)) {
        throw new Failure(
          'blocked',
          `This test is ${row.status}: changing its versions, goals or split now would distort the result. Pause it first; going on then opens a new round.`,
        )
      }
      if (design.document !== before.document || design.node !== before.node)
        throw new Failure('input', 'A test stays on the part it was made for. Make another test for another part.')
      const versions = await versionsOfTest(trx, row.number)
      const dropped = versions.filter(({ id }) => !design.arms.some(({ version }) => version === id))
      const added = design.arms
        .map(({ version }) => version)
        .filter((id) => id !== ORIGINAL && !versions.some((version) => version.id === id))
      await trx('versions')
        .whereIn(
          'id',
          dropped.map(({ id }) => id),
        )
        .update({ test_number: null })
      if (added.length > 0) {
        const taken = await trx('versions')
          .whereIn('id', added)
          .where({ document_id: before.document, node_id: before.node, manner: 'chance', settled: 0 })
          .whereNull('test_number')
          .update({ test_number: row.number })
        if (taken !== added.length)
          throw new Failure('conflict', 'A variant you added belongs to another test or has been removed. Open the test again.')
      }
      await trx('tests')
        .where({ number: row.number })
        .update({ design: JSON.stringify(design), name: design.name, lock_version: lock + 1 })
      return { lock: lock + 1 }
    }),

  'test.remove': ({ db }, { test }) =>
    inTransaction(db, async (trx) => {
      const row = await holdTest(trx, test)
      if (row.status !== 'draft') throw new Failure('blocked', 'Only a draft can be removed; what has run stays on record.')
      await trx('versions').where({ test_number: row.number }).update({ test_number: null })
      await trx('tests').where({ number: row.number }).delete()
      return {}
    }),

  'test.start': ({ db, account }, { test, lock }) =>
    inTransaction(db, async (trx) => {
      const row = await holdTest(trx, test)
      // Whoever starts a test holds its page: two tests on one part cannot both find the other not running.
      await holdDocument(trx, row.design.document)
      expectLock(row, lock)
      await command(trx, row, 'start')
      await openRound(trx, row, 1)
      await trx('tests').where({ number: row.number }).update({ started_at: new Date() })
      return { release: await makeRelease(trx, `started “${row.name}”`, account.name) }
    }),

  'test.pause': ({ db, account }, { test }) =>
    inTransaction(db, async (trx) => {
      const row = await holdTest(trx, test)
      await command(trx, row, 'pause')
      return { release: await makeRelease(trx, `paused “${row.name}”`, account.name) }
    }),

  'test.goOn': ({ db, account }, { test, lock }) =>
    inTransaction(db, async (trx) => {
      const row = await holdTest(trx, test)
      // Whoever starts a test holds its page: two tests on one part cannot both find the other not running.
      await holdDocument(trx, row.design.document)
      expectLock(row, lock)
      await command(trx, row, 'goOn')
      const [last] = await roundsOf(trx, row.number)
      const { versions, goals } = await testFacts(trx, row)
      const newRound =
        last === undefined || affectsResult(last.snapshot, row.design, armVersions(row, versions), countedGoals(row, goals))
      if (newRound) await openRound(trx, row, (last?.snapshot.number ?? 0) + 1)
      return { release: await makeRelease(trx, `went on with “${row.name}”`, account.name), newRound }
    }),

  'test.end': ({ db, account }, { test }) =>
    inTransaction(db, async (trx) => {
      const row = await holdTest(trx, test)
      await command(trx, row, 'end')
      await closeRounds(trx, row.number)
      return { release: await makeRelease(trx, `ended “${row.name}”`, account.name) }
    }),

  'test.preview': async ({ db }, { test, version }) => {
    const row = await readTest(db, test)
    const published = (await readPublished(db, [row.design.document])).get(row.design.document)
    const edits = (await editsOf(db, row, version)) ?? []
    if (published === undefined) return { words: [], unfit: [] }
    const { refused } = apply(published, edits)
    const unfit = new Set<Edit>(refused.map(({ edit }) => edit))
    const words = vocabularyOf(await readSurroundings(db))
    const say = (edit: Edit) => describe(published, edit, words)
    return { words: edits.filter((edit) => !unfit.has(edit)).map(say), unfit: [...unfit].map(say) }
  },

  'test.decide': ({ db, account }, { test, version, reason, lesson }) =>
    inTransaction(db, async (trx) => {
      const row = await holdTest(trx, test)
      await command(trx, row, 'settle')
      await closeRounds(trx, row.number)
      return settle(trx, row, { version, reason, lesson, edits: await editsOf(trx, row, version), author: account.name })
    }),

  'test.undo': ({ db, account }, { test }) =>
    inTransaction(db, async (trx) => {
      const row = await holdTest(trx, test)
      await command(trx, row, 'undo')
      return takeBack(trx, row, account.name)
    }),
}

async function openTest(db: Database, id: TestId): Promise<Output<'test.open'>> {
  const row = await readTest(db, id)
  const [page, surroundings, facts, rounds, rehearsals] = await Promise.all([
    readDocument(db, row.design.document),
    readSurroundings(db),
    testFacts(db, row),
    roundsOf(db, row.number),
    listRehearsals(db, row.number),
  ])
  const rows: unknown[] = await db('documents')
    .where({ kind: 'page' })
    .orderBy('position')
    .select('id', 'title', 'path', 'published_revision')
  const pages = rows.map((one) => {
    const { published_revision, ...rest } = one as { id: never; title: string; path: string; published_revision: number | null }
    return { ...rest, published: published_revision !== null }
  })
  const titles = new Map<string, string>(pages.map((one) => [one.id, one.title]))
  const versions = row.status === 'settled' ? (rounds[0]?.snapshot.versions ?? []) : facts.versions
  const names = namesFor(versions, facts.goals, titles)
  const said = (finding: Parameters<typeof findingWords>[0]) => ({ code: finding.code, ...findingWords(finding, names) })
  return {
    id,
    status: row.status,
    lock: row.lock_version,
    design: row.design,
    versions: [...versions],
    page: { title: page.title, path: page.path ?? '' },
    document: page.draft,
    surroundings: surroundings.filter((one) => one.id !== page.id),
    goals: [...facts.goals],
    pages,
    traffic: facts.traffic,
    blocks: facts.readiness.blocks.map(said),
    advises: facts.readiness.advises.map(said),
    passed: facts.readiness.passed.map((check) => checkWords[check]),
    rounds: rounds.map(({ snapshot, started_at, ended_at }) => ({
      id: snapshot.id,
      number: snapshot.number,
      startedAt: started_at.toISOString(),
      endedAt: ended_at?.toISOString() ?? null,
    })),
    rehearsals,
    decision: row.decision === null ? null : decisionView(row.decision),
  }
}

function expectLock(row: TestRow, lock: number): void {
  if (row.lock_version !== lock)
    throw new Failure('conflict', 'Somebody else has changed this test since you looked at it. Look again, then start it.')
}

/** Takes a command where the life of a test allows it; a second press of the same button finds that it has been done. */
async function command(trx: Knex.Transaction, row: TestRow, given: Command): Promise<void> {
  const status = next(row.status, given)
  if (status === null)
    throw new Failure(
      'conflict',
      `This test is ${row.status}; that cannot be done now. Somebody may have been quicker: look at it again.`,
    )
  await trx('tests').where({ number: row.number }).update({ status })
}

/** Readiness is checked in the same transaction: what was ready on the screen may no longer be. */
async function openRound(trx: Knex.Transaction, row: TestRow, number: number): Promise<void> {
  const facts = await testFacts(trx, row)
  const [block] = facts.readiness.blocks
  if (block !== undefined) {
    const page = await readDocument(trx, row.design.document)
    throw new Failure(
      'blocked',
      `“${row.name}” cannot start. ${findingWords(block, namesFor(facts.versions, facts.goals, new Map([[page.id, page.title]]))).words}`,
    )
  }
  await closeRounds(trx, row.number)
  const id = `t-${row.number}-r${number}` as RoundId
  const snapshot: Round = {
    id,
    test: testId(row.number),
    number,
    design: row.design,
    versions: armVersions(row, facts.versions),
    goals: countedGoals(row, facts.goals),
    salt: testId(row.number),
    plannedTotal: facts.forecast.plannedTotal,
  }
  await trx('rounds').insert({ id, test_number: row.number, number, snapshot: JSON.stringify(snapshot), started_at: new Date() })
}

async function closeRounds(trx: Knex.Transaction, number: number): Promise<void> {
  await trx('rounds').where({ test_number: number }).whereNull('ended_at').update({ ended_at: new Date() })
}

function armVersions(row: TestRow, versions: Round['versions'] | readonly Round['versions'][number][]): Round['versions'] {
  return row.design.arms.flatMap(({ version: id }) => versions.find((version) => version.id === id) ?? [])
}

function countedGoals(row: TestRow, goals: readonly Round['goals'][number][]): Round['goals'] {
  return goals.filter(({ id }) => id === row.design.primary || row.design.watched.includes(id))
}

/** The edits of a version as they were measured; `null` for the original. */
async function editsOf(db: Knex, row: TestRow, version: VersionId): Promise<readonly Edit[] | null> {
  if (version === ORIGINAL) return null
  const [round] = await roundsOf(db, row.number)
  const found =
    round?.snapshot.versions.find(({ id }) => id === version) ??
    (await versionsOfTest(db, row.number)).find(({ id }) => id === version)
  if (found === undefined) throw new Failure('input', 'That variant does not belong to this test. Open the test again.')
  return found.edits
}
