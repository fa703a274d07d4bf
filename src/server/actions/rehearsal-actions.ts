import { MOST_THROUGH_PAGES } from '@/contract/contract'
import { Failure } from '../failure'
import { inTransaction } from '../database/connect'
import { listRehearsals } from '../stores/rehearsals'
import { addRehearsedRound, holdTest, roundsOf, testNumber, type TestRow } from '../stores/tests'
import { firstRound } from './rounds'
import { testFacts } from './test-facts'
import type { Knex } from 'knex'
import { WHOLE } from '@/core/decide'
import type { RoundId } from '@/core/ids'
import type { Area } from './handler'

const MOST_WAITING = 5

/** Of a test that is not running a round is kept as it would be, were it started now. */
async function draftToRehearse(trx: Knex.Transaction, row: TestRow): Promise<RoundId> {
  const { arms, primary } = row.design
  const together = arms.reduce((sum, { weight }) => sum + weight, 0)
  if (row.status !== 'draft' && row.status !== 'scheduled')
    throw new Failure('blocked', `This test is ${row.status}. What runs can be rehearsed, and what is a draft.`)
  if (primary === null) throw new Failure('blocked', 'Choose the goal that decides first: without one there is nothing to find.')
  if (arms.length < 2 || together !== WHOLE)
    throw new Failure('blocked', 'A rehearsal needs a variant beside the original, and a split that adds up to 100%.')
  return addRehearsedRound(trx, row.number, firstRound(row, await testFacts(trx, row, 'never')))
}

export const rehearsalActions: Area<'rehearsal'> = {
  'rehearsal.start': ({ db, account }, { test, plan }) =>
    inTransaction(db, async (trx) => {
      const row = await holdTest(trx, test)
      const running = row.status === 'running' || row.status === 'paused' ? (await roundsOf(trx, row.number))[0] : undefined
      const { arms } = running?.snapshot.design ?? row.design
      const unknown = plan.rates.find(({ version }) => !arms.some((arm) => arm.version === version))
      const lacking = arms.find((arm) => !plan.rates.some(({ version }) => version === arm.version))
      if (unknown !== undefined || lacking !== undefined)
        throw new Failure('input', 'Give a true rate for each version of the test, and for no other.')
      if (plan.through === 'pages' && plan.visitors > MOST_THROUGH_PAGES)
        throw new Failure(
          'input',
          `Through the pages at most ${MOST_THROUGH_PAGES.toLocaleString('en-GB')} visitors come at once. Send fewer, or send them straight to the counting.`,
        )
      const waiting = (await trx('rehearsals').whereIn('status', ['waiting', 'running']).select('id')).length
      if (waiting >= MOST_WAITING)
        throw new Failure('busy', 'Several rehearsals are waiting already. Let one finish, or cancel one.')
      const [id] = await trx('rehearsals').insert({
        test_number: row.number,
        round_id: running?.snapshot.id ?? (await draftToRehearse(trx, row)),
        plan: JSON.stringify(plan),
        status: 'waiting',
        created_at: new Date(),
        created_by: account.name,
      })
      return { id: id ?? 0 }
    }),

  'rehearsal.list': async ({ db }, { test }) => ({
    rehearsals: await listRehearsals(db, test === null ? null : testNumber(test)),
  }),

  'rehearsal.cancel': async ({ db }, { id }) => {
    const changed = await db('rehearsals')
      .where({ id })
      .whereIn('status', ['waiting', 'running'])
      .update({ status: 'cancelled', message: 'Cancelled' })
    if (changed === 0) throw new Failure('conflict', 'That rehearsal has already finished.')
    return {}
  },
}
