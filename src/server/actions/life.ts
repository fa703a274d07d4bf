import { partsOf } from '@/core/experiment'
import { holdDocument } from '../stores/documents'
import { makeRelease } from '../stores/releases'
import { roundsOf, type TestRow } from '../stores/tests'
import type { LiveTransaction } from '../database/go-live'
import { closeRounds, command, openRound } from './rounds'

/** Starts a test that is held: the first time, or once more with empty counts. @returns the release */
export async function startTest(trx: LiveTransaction, row: TestRow, author: string): Promise<number> {
  // Whoever starts a test holds its page: two tests on one part cannot both find the other not running.
  for (const { document } of partsOf(row.design)) await holdDocument(trx, document)
  await command(trx, row, 'start')
  const [last] = await roundsOf(trx, row.number)
  const because = last === undefined ? [] : [{ words: 'it was run again', begins: 'round' } as const]
  await openRound(trx, row, { number: (last?.snapshot.number ?? 0) + 1, because, author })
  await trx('tests').where({ number: row.number }).update({ started_at: new Date() })
  return makeRelease(trx, `started “${row.name}”`, author)
}

/** Ends a test that is held: everybody sees the original, nothing more is counted, somebody has to decide. @returns the release */
export async function endTest(trx: LiveTransaction, row: TestRow, author: string): Promise<number> {
  await command(trx, row, 'end')
  await closeRounds(trx, row.number)
  return makeRelease(trx, `ended “${row.name}”`, author)
}
