import { Failure } from '../failure'
import { inTransaction } from '../database/connect'
import { listRehearsals } from '../stores/rehearsals'
import { holdTest, roundsOf, testNumber } from '../stores/tests'
import type { Area } from './handler'

const MOST_WAITING = 5

export const rehearsalActions: Area<'rehearsal'> = {
  'rehearsal.start': ({ db, account }, { test, plan }) =>
    inTransaction(db, async (trx) => {
      const row = await holdTest(trx, test)
      const [round] = await roundsOf(trx, row.number)
      if (round === undefined || row.status !== 'running')
        throw new Failure(
          'blocked',
          'A rehearsal sends visitors through a running test. Start the test first; live counts stay apart.',
        )
      const unknown = plan.rates.find(({ version }) => !round.snapshot.design.arms.some((arm) => arm.version === version))
      const lacking = round.snapshot.design.arms.find((arm) => !plan.rates.some(({ version }) => version === arm.version))
      if (unknown !== undefined || lacking !== undefined)
        throw new Failure('input', 'Give a true rate for each version of the test, and for no other.')
      const waiting = (await trx('rehearsals').whereIn('status', ['waiting', 'running']).select('id')).length
      if (waiting >= MOST_WAITING)
        throw new Failure('busy', 'Several rehearsals are waiting already. Let one finish, or cancel one.')
      const [id] = await trx('rehearsals').insert({
        test_number: row.number,
        round_id: round.snapshot.id,
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
