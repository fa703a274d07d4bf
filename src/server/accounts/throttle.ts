import type { Knex } from 'knex'
import * as z from 'zod'
import { Failure } from '../failure'

const WINDOW = 15 * 60_000

/**
 * Seconds to wait after so many wrong tries in the last quarter of an hour. Whoever guesses gets slower and slower; whoever
 * owns the account is never shut out, and waits a minute at the most.
 */
export function waitAfter(failures: number, free: number): number {
  return failures < free ? 0 : Math.min(60, 2 ** Math.min(10, failures - free))
}

/** Tries at one account from one address, and from one address at any account: many people may come from one. */
const FREE = { pair: 5, address: 30 } as const

const before = z.object({ failures: z.coerce.number(), last: z.date().nullable() })

/** A try that is under way, and counts as wrong until it is known to be right. */
export interface Try {
  succeeded(): Promise<void>
}

/**
 * Counts a try before anything is checked, so that many at once are as many tries, and a refused one costs nothing more.
 *
 * @throws {Failure} where it comes too soon after others that were wrong; it is then not counted
 */
export async function beginTry(db: Knex, email: string, address: string): Promise<Try> {
  const subjects = {
    pair: `pair:${email.toLowerCase().slice(0, 120)} ${address.slice(0, 60)}`,
    address: `address:${address.slice(0, 60)}`,
  }
  const now = new Date()
  const rows: number[] = []
  for (const subject of Object.values(subjects)) {
    const [seq] = await db('sign_in_failures').insert({ subject, at: now })
    if (seq !== undefined) rows.push(seq)
  }
  const forget = () => db('sign_in_failures').whereIn('seq', rows).delete()
  for (const [index, [name, subject]] of Object.entries(subjects).entries()) {
    const found: unknown = await db('sign_in_failures')
      .where({ subject })
      .where('seq', '<', rows[index] ?? 0)
      .where('at', '>', new Date(now.getTime() - WINDOW))
      .count({ failures: '*' })
      .max({ last: 'at' })
      .first()
    const { failures, last } = before.parse(found)
    const wait = waitAfter(failures, FREE[name as keyof typeof FREE])
    const left = last === null ? 0 : Math.ceil((last.getTime() + wait * 1000 - now.getTime()) / 1000)
    if (wait === 0 || left <= 0) continue
    await forget()
    throw new Failure(
      'busy',
      `Too many tries with a wrong password. Try again in ${left === 1 ? 'a second' : `${left} seconds`}.`,
      left,
    )
  }
  return {
    succeeded: async () => {
      await db('sign_in_failures').where({ subject: subjects.pair }).delete()
      await db('sign_in_failures').whereIn('seq', rows).delete()
      await db('sign_in_failures')
        .where('at', '<', new Date(now.getTime() - WINDOW))
        .delete()
    },
  }
}
