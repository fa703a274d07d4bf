import type { Knex } from 'knex'
import { segmentsIn } from '@/core/decide'
import {
  changeWords,
  drawnAgain,
  findingWords,
  generationAfter,
  goalsOf,
  levelsInUse,
  next,
  partsOf,
  takeLots,
  whatBegins,
  whatChanged,
  type Change,
  type Command,
  type Round,
  type Version,
} from '@/core/experiment'
import { libraryOf, withParts, type Goal } from '@/core/goals'
import type { RoundId } from '@/core/ids'
import type { LiveTransaction } from '../database/go-live'
import { Failure } from '../failure'
import { readDocument } from '../stores/documents'
import { publishGoals } from '../stores/goals'
import { beginEpoch, roundsOf, takenOfGroup, testId, type RoundRow, type TestRow } from '../stores/tests'
import { namesFor, testFacts, type TestFacts } from './test-facts'

export const ORIGINAL_CHANGED: Change = { words: 'what the original shows was changed', begins: 'round' }

/** Takes a command where the life of a test allows it; a second press of the same button finds that it has been done. */
export async function command(trx: Knex.Transaction, row: TestRow, given: Command): Promise<void> {
  const status = next(row.status, given)
  if (status === null)
    throw new Failure(
      'conflict',
      `This test is ${row.status}; that cannot be done now. Somebody may have been quicker: look at it again.`,
    )
  await trx('tests').where({ number: row.number }).update({ status })
}

/** Readiness is checked in the same transaction: what was ready on the screen may no longer be. */
export async function openRound(
  trx: LiveTransaction,
  row: TestRow,
  { number, because, author }: { number: number; because: readonly Change[]; author: string },
): Promise<void> {
  // What was made or changed of a goal goes live with the round that counts by it.
  await publishGoals(trx, goalsOf(row.design), author)
  const facts = await expectReady(trx, row)
  const [before] = await roundsOf(trx, row.number)
  await closeRounds(trx, row.number)
  const snapshot: Round = {
    ...firstRound(row, facts),
    id: `t-${row.number}-r${number}` as RoundId,
    number,
    lots: await lotsFor(trx, row, before),
    drawnAgain: drawnAgain(before?.snapshot, row.design),
    generation: generationAfter(before === undefined ? undefined : { round: before.snapshot, epochs: before.epochs }, row.design),
    because: changeWords(because).slice(0, 300),
  }
  const { id } = snapshot
  await trx('rounds').insert({ id, test_number: row.number, number, snapshot: JSON.stringify(snapshot), started_at: new Date() })
}

/** A test as it is designed now, in its first round. */
export function firstRound(row: TestRow, facts: TestFacts): Round {
  const named = segmentsIn(row.design.audience)
  return {
    id: `t-${row.number}-r1` as RoundId,
    test: testId(row.number),
    number: 1,
    design: row.design,
    versions: levelVersions(row, facts.versions),
    goals: countedGoals(row, facts.goals),
    salt: testId(row.number),
    lots: null,
    drawnAgain: 0,
    generation: 0,
    plannedTotal: facts.forecast.plannedTotal,
    pages: [...new Set([...facts.places.values()].flat())].slice(0, 50),
    segments: facts.segments.filter(({ id }) => named.includes(id)),
    because: '',
  }
}

/** @throws {Failure} where something is in the way of going live */
export async function expectReady(trx: Knex.Transaction, row: TestRow): Promise<TestFacts> {
  const facts = await testFacts(trx, row, 'fresh')
  const [block] = facts.readiness.blocks
  if (block === undefined) return facts
  const home = await readDocument(trx, row.design.document)
  const names = namesFor(row.design, facts.versions, facts.goals, new Map([[home.id, home.title]]))
  throw new Failure('blocked', `“${row.name}” cannot go live. ${findingWords(block, names).words}`)
}

/**
 * What was changed goes live: in the next round, or where versions stay comparable in another epoch of this one.
 *
 * @returns which of them, and the number of it
 */
export async function takeChanges(
  trx: LiveTransaction,
  row: TestRow,
  { because, author }: { because: readonly Change[]; author: string },
): Promise<{ begins: Change['begins']; number: number }> {
  const [last] = await roundsOf(trx, row.number)
  if (last === undefined || whatBegins(because) === 'round') {
    const number = (last?.snapshot.number ?? 0) + 1
    await openRound(trx, row, { number, because, author })
    return { begins: 'round', number }
  }
  const { versions } = await expectReady(trx, row)
  const { arms, share } = row.design
  await beginEpoch(trx, row.number, {
    ...{ at: new Date(), arms, share },
    versions: levelVersions(row, versions),
    drawnAgain: drawnAgain(last.snapshot, row.design),
    lots: await lotsFor(trx, row, last),
    because: changeWords(because).slice(0, 300),
  })
  return { begins: 'epoch', number: last.epochs.length + 1 }
}

/** What it takes of its group's visitors, keeping what it had. */
async function lotsFor(
  trx: Knex.Transaction,
  { number, design, name }: TestRow,
  before: RoundRow | undefined,
): Promise<Round['lots']> {
  if (design.group === '') return null
  const own = before?.snapshot.design.group === design.group ? (before.snapshot.lots ?? []) : []
  const found = takeLots(design.share, own, await takenOfGroup(trx, design.group, number, true))
  if (found === null) throw new Failure('blocked', `“${name}” cannot go live: its group has not so many visitors free.`)
  return found.map(([from, to]) => [from, to])
}

/** What is not as it was in the round that is under way. */
export async function changesSince(
  trx: Knex.Transaction,
  row: TestRow,
): Promise<{ last: RoundRow | undefined; changes: Change[] }> {
  const [last] = await roundsOf(trx, row.number)
  if (last === undefined) return { last, changes: [] }
  const { versions, goals } = await testFacts(trx, row, 'never')
  return { last, changes: whatChanged(last.snapshot, row.design, levelVersions(row, versions), countedGoals(row, goals)) }
}

export async function closeRounds(trx: LiveTransaction, number: number): Promise<void> {
  await trx('rounds').where({ test_number: number }).whereNull('ended_at').update({ ended_at: new Date() })
}

/** The versions that arms show, part by part in the order of the arms. */
export function levelVersions(row: TestRow, versions: readonly Version[]): Round['versions'] {
  const used = partsOf(row.design).flatMap((_, part) => levelsInUse(row.design, part))
  return [...new Set(used)].flatMap((id) => versions.find((version) => version.id === id) ?? [])
}

/** The goals that a test counts, and those that they are made of. */
export function countedGoals(row: TestRow, goals: readonly Goal[]): Goal[] {
  return withParts(goalsOf(row.design), libraryOf(goals))
}
