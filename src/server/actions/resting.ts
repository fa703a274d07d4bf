import type { Knex } from 'knex'
import type { ContentDocument } from '@/core/document'
import {
  comparedIn,
  effectsOn,
  effectWords,
  leavingAsItIs,
  partsOf,
  waysOut,
  type Effect,
  type Outcome,
  type Round,
} from '@/core/experiment'
import type { DocumentId, RoundId, TestId } from '@/core/ids'
import { referencesOf } from '@/components/references'
import type { LiveTransaction } from '../database/go-live'
import { Failure } from '../failure'
import { holdDocument, readPublished } from '../stores/documents'
import { holdTest, lastRounds, testId, testsWhere, type TestRow } from '../stores/tests'
import { closeRounds, command, openRound, ORIGINAL_CHANGED } from './rounds'

/** A test that is running or paused, and what publishing a document would do to it. */
export interface Resting {
  readonly row: TestRow
  readonly round: Round
  readonly effects: readonly Effect[]
  /** What can be chosen; nothing where nobody is drawn by it at the moment. */
  readonly ways: readonly Outcome[]
}

export interface Chosen {
  readonly test: TestId
  readonly outcome: Outcome
}

/** The tests that rest on a published document and would be touched by what is to take its place. */
export async function restingOn(db: Knex, before: ContentDocument | undefined, after: ContentDocument): Promise<Resting[]> {
  if (before === undefined) return []
  const running = await testsWhere(db, (query) => void query.whereIn('status', ['running', 'paused']).orderBy('number'))
  const newest = await lastRounds(
    db,
    running.map(({ number }) => number),
  )
  const rounds = running.flatMap((row) => {
    const round = newest.get(row.number)?.snapshot
    return round === undefined ? [] : [{ row, round, direct: effectsOn(round, before, after) }]
  })
  const others = rounds.filter(({ direct }) => direct.length === 0).map(({ round }) => round)
  const through = await showingThrough(db, others, before, after)
  return rounds.flatMap(({ row, round, direct }): Resting[] => {
    const effects: readonly Effect[] = direct.length > 0 || !through.has(round.id) ? direct : ['originalChanged']
    if (effects.length === 0) return []
    const [first = [], ...more] = effects.map((effect) => waysOut[effect])
    const ways = row.status === 'running' ? first.filter((way) => more.every((one) => one.includes(way))) : []
    return [{ row, round, effects, ways: canBeLeft([round], before, after) ? ways : ways.filter((way) => way !== 'leave') }]
  })
}

/** Whether something would be published at all if what the tests compare stayed as it is. */
function canBeLeft(rounds: readonly Round[], before: ContentDocument, after: ContentDocument): boolean {
  return JSON.stringify(leavingAsItIs(rounds, before, after)) !== JSON.stringify(before)
}

/**
 * Of these rounds, those whose tested parts show a document by reference: it is part of what their visitors see. Looked for
 * in all of them together, one step of references after the other, so that more tests are no more questions.
 */
async function showingThrough(
  db: Knex,
  rounds: readonly Round[],
  before: ContentDocument,
  after: ContentDocument,
): Promise<ReadonlySet<RoundId>> {
  const found = new Set<RoundId>()
  if (rounds.length === 0 || before.kind === 'page' || JSON.stringify(before) === JSON.stringify(after)) return found
  const read = new Map<DocumentId, ContentDocument>()
  const readAll = async (ids: readonly DocumentId[]) => {
    const missing = [...new Set(ids)].filter((id) => !read.has(id))
    for (const [id, document] of missing.length === 0 ? [] : await readPublished(db, missing)) read.set(id, document)
  }
  const homes = (round: Round) => [...new Set(partsOf(round.design).map(({ document }) => document))]
  let frontier = rounds.map((round) => ({ round, met: new Set<DocumentId>(), at: homes(round), isHome: true }))
  while (frontier.length > 0) {
    await readAll(frontier.flatMap(({ at }) => at))
    frontier = frontier.flatMap(({ round, met, at, isHome }) => {
      const next = at.flatMap((id) => {
        const document = read.get(id)
        if (document === undefined) return []
        const nodes = isHome ? comparedIn(round, document) : null
        return referencesOf(document).flatMap(({ node, document: shown }) =>
          (nodes === null || nodes.has(node)) && !met.has(shown) ? [shown] : [],
        )
      })
      for (const id of next) met.add(id)
      if (met.has(before.id)) found.add(round.id)
      return next.length === 0 || found.has(round.id) ? [] : [{ round, met, at: [...new Set(next)], isHome: false }]
    })
  }
  return found
}

/** The tests that are touched, in words, for whoever is about to publish. */
export function restingView({ row, effects, ways }: Resting) {
  const later = 'It is paused: going on with it opens a new round.'
  return {
    test: testId(row.number),
    name: row.name,
    words: [...effects.map((effect) => effectWords[effect]), ...(row.status === 'paused' ? [later] : [])],
    ways: [...ways],
  }
}

/**
 * What is to be published, when something was chosen for every test that it touches: what is to stay as it is stays.
 *
 * @throws {Failure} naming a test for which nothing, or something impossible, was chosen
 */
export async function bodyFor(
  resting: readonly Resting[],
  chosen: readonly Chosen[],
  before: ContentDocument | undefined,
  after: ContentDocument,
): Promise<ContentDocument> {
  const outcomeOf = (row: TestRow) => chosen.find(({ test }) => test === testId(row.number))?.outcome
  for (const { row, effects, ways } of resting) {
    if (row.status !== 'running') continue
    const outcome = outcomeOf(row)
    if (outcome !== undefined && ways.includes(outcome)) continue
    const words = effects.map((effect) => effectWords[effect]).join(' ')
    throw new Failure(
      'blocked',
      ways.length === 0
        ? `The test “${row.name}” runs here. ${words} End it, or take that change back, before this is published.`
        : `The test “${row.name}” runs here. ${words} Publish it from its own desk, where you can choose what becomes of the test.`,
    )
  }
  const left = resting.filter(({ row }) => outcomeOf(row) === 'leave').map(({ round }) => round)
  return before === undefined || left.length === 0 ? after : leavingAsItIs(left, before, after)
}

/** Another test that meets what is taken over goes on in its next round, where it can. */
export function nextRounds(resting: readonly Resting[]): Chosen[] {
  return resting.flatMap(({ row, ways }) => (ways.includes('round') ? [{ test: testId(row.number), outcome: 'round' }] : []))
}

/** After publishing: rounds are opened and tests ended as it was chosen. */
export async function carryOut(
  trx: LiveTransaction,
  resting: readonly Resting[],
  chosen: readonly Chosen[],
  author: string,
): Promise<void> {
  for (const { row, round } of resting) {
    const outcome = chosen.find(({ test }) => test === testId(row.number))?.outcome
    if (outcome === undefined || outcome === 'leave' || row.status !== 'running') continue
    const held = await holdTest(trx, testId(row.number))
    for (const { document } of partsOf(held.design)) await holdDocument(trx, document)
    if (outcome === 'round') await openRound(trx, held, { number: round.number + 1, because: [ORIGINAL_CHANGED], author })
    else {
      await command(trx, held, 'end')
      await closeRounds(trx, held.number)
    }
  }
}
