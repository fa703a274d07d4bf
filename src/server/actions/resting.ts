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
import type { DocumentId, TestId } from '@/core/ids'
import { referencesOf } from '@/components/references'
import type { LiveTransaction } from '../database/go-live'
import { Failure } from '../failure'
import { holdDocument, readPublished } from '../stores/documents'
import { holdTest, roundsOf, testId, testsWhere, type TestRow } from '../stores/tests'
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
  const found: Resting[] = []
  for (const row of running) {
    const [round] = await roundsOf(db, row.number)
    if (round === undefined) continue
    const direct = effectsOn(round.snapshot, before, after)
    const effects = direct.length > 0 ? direct : await effectsThroughOthers(db, round.snapshot, before, after)
    if (effects.length === 0) continue
    const every = effects.map((effect) => waysOut[effect])
    const [first = [], ...others] = every
    const ways = row.status === 'running' ? first.filter((way) => others.every((more) => more.includes(way))) : []
    found.push({
      row,
      round: round.snapshot,
      effects,
      ways: canBeLeft([round.snapshot], before, after) ? ways : ways.filter((way) => way !== 'leave'),
    })
  }
  return found
}

/** Whether something would be published at all if what the tests compare stayed as it is. */
function canBeLeft(rounds: readonly Round[], before: ContentDocument, after: ContentDocument): boolean {
  return JSON.stringify(leavingAsItIs(rounds, before, after)) !== JSON.stringify(before)
}

/** What a tested part shows by reference is part of what its visitors see. */
async function effectsThroughOthers(
  db: Knex,
  round: Round,
  before: ContentDocument,
  after: ContentDocument,
): Promise<readonly Effect[]> {
  if (before.kind === 'page' || JSON.stringify(before) === JSON.stringify(after)) return []
  const homes = [...new Set(partsOf(round.design).map(({ document }) => document))]
  const met = new Set<DocumentId>()
  const shownBy = async (
    documents: readonly ContentDocument[],
    only: (document: ContentDocument) => ReadonlySet<string> | null,
  ) => {
    const next = documents.flatMap((document) => {
      const nodes = only(document)
      return referencesOf(document).flatMap(({ node, document: shown }) =>
        (nodes === null || nodes.has(node)) && !met.has(shown) ? [shown] : [],
      )
    })
    for (const id of next) met.add(id)
    return next.length === 0 ? [] : [...(await readPublished(db, [...new Set(next)])).values()]
  }
  let documents = await shownBy([...(await readPublished(db, homes)).values()], (document) => comparedIn(round, document))
  while (documents.length > 0 && !met.has(before.id)) documents = await shownBy(documents, () => null)
  return met.has(before.id) ? ['originalChanged'] : []
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
