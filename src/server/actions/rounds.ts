import type { Knex } from 'knex'
import {
  drawnAgain,
  findingWords,
  goalsOf,
  levelsInUse,
  next,
  partsOf,
  type Command,
  type Round,
  type Version,
} from '@/core/experiment'
import { libraryOf, withParts, type Goal } from '@/core/goals'
import type { RoundId } from '@/core/ids'
import { Failure } from '../failure'
import { readDocument } from '../stores/documents'
import { publishGoals } from '../stores/goals'
import { roundsOf, testId, type TestRow } from '../stores/tests'
import { namesFor, testFacts } from './test-facts'

export const ORIGINAL_CHANGED = 'what the original shows was changed'

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
  trx: Knex.Transaction,
  row: TestRow,
  { number, because, author }: { number: number; because: readonly string[]; author: string },
): Promise<void> {
  // What was made or changed of a goal goes live with the round that counts by it.
  await publishGoals(trx, goalsOf(row.design), author)
  const facts = await testFacts(trx, row, 'fresh')
  const [block] = facts.readiness.blocks
  if (block !== undefined) {
    const home = await readDocument(trx, row.design.document)
    const names = namesFor(row.design, facts.versions, facts.goals, new Map([[home.id, home.title]]))
    throw new Failure('blocked', `“${row.name}” cannot go live. ${findingWords(block, names).words}`)
  }
  const [before] = await roundsOf(trx, row.number)
  await closeRounds(trx, row.number)
  const id = `t-${row.number}-r${number}` as RoundId
  const snapshot: Round = {
    id,
    test: testId(row.number),
    number,
    design: row.design,
    versions: levelVersions(row, facts.versions),
    goals: countedGoals(row, facts.goals),
    salt: testId(row.number),
    drawnAgain: drawnAgain(before?.snapshot, row.design),
    plannedTotal: facts.forecast.plannedTotal,
    pages: [...new Set([...facts.places.values()].flat())].slice(0, 50),
    because: because.join(', '),
  }
  await trx('rounds').insert({ id, test_number: row.number, number, snapshot: JSON.stringify(snapshot), started_at: new Date() })
}

export async function closeRounds(trx: Knex.Transaction, number: number): Promise<void> {
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
