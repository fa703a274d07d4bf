import type { Socket } from 'node:net'
import type { Knex } from 'knex'
import * as z from 'zod'
import { connect, type Database } from '../database/connect'
import { Failure } from '../failure'

/** Files that go out of one process at a time, each by a connection of its own; and of those, one person’s. */
const AT_ONCE = 4
const OF_ONE_PERSON = 2

/** Whoever reads nothing for so long does not read any more. */
const PATIENCE = 60_000

/** A file that is written while it is read, and what becomes of it. */
export interface TakenAway {
  /** The next part of it; `null` at its end. */
  next(): Promise<Uint8Array | null>
  /** Nobody reads it any more: whatever it holds is let go at once, in the middle of a row. */
  abandon(): void
}

/**
 * What files are read by: a few connections that nothing else uses, so that slow readers wait for each other alone. Each
 * file is read in one transaction, and says what was there at one moment.
 */
export class TakingAway {
  readonly #db: Database
  readonly #open = new Map<string, number>()

  constructor(
    environment: NodeJS.ProcessEnv,
    private readonly patience = PATIENCE,
  ) {
    this.#db = connect(environment, { min: 0, max: AT_ONCE })
  }

  /** @throws {Failure} where this person, or everybody together, reads too many already */
  async begin(person: string, write: (db: Knex) => AsyncGenerator<Uint8Array, void, undefined>): Promise<TakenAway> {
    const own = this.#open.get(person) ?? 0
    const all = [...this.#open.values()].reduce((sum, open) => sum + open, 0)
    if (own >= OF_ONE_PERSON)
      throw new Failure('busy', `You are taking ${own} files away already. Wait until one has come, then ask again.`, 10)
    if (all >= AT_ONCE)
      throw new Failure('busy', `${all} files are being taken away just now. Try again in a moment; nothing is lost.`, 10)
    this.#open.set(person, own + 1)
    try {
      return await this.#reading(write, () => this.#close(person))
    } catch (reason) {
      this.#close(person)
      throw reason
    }
  }

  #close(person: string): void {
    const left = (this.#open.get(person) ?? 1) - 1
    if (left === 0) this.#open.delete(person)
    else this.#open.set(person, left)
  }

  async #reading(write: (db: Knex) => AsyncGenerator<Uint8Array, void, undefined>, closed: () => void): Promise<TakenAway> {
    const trx = await this.#db.transaction(undefined, { readOnly: true })
    const chunks = write(trx)
    let ended = false
    let waiting: NodeJS.Timeout | undefined
    const end = (how: () => Promise<unknown>) => {
      if (ended) return
      ended = true
      clearTimeout(waiting)
      closed()
      how().catch(() => undefined)
    }
    const abandon = () => end(() => Promise.all([cutOff(trx), chunks.return(undefined)]))
    const waitForReader = () => {
      if (!ended) waiting = setTimeout(abandon, this.patience).unref()
    }
    waitForReader()
    return {
      async next() {
        if (ended) throw new Error('nobody read this file for a minute, so it was let go')
        clearTimeout(waiting)
        try {
          const { value, done } = await chunks.next()
          if (done !== true) return value
          end(() => trx.commit())
          return null
        } catch (reason) {
          abandon()
          throw reason
        } finally {
          waitForReader()
        }
      },
      abandon,
    }
  }

  destroy(): Promise<void> {
    return this.#db.destroy()
  }
}

const connectionSchema = z.custom<{ stream: Socket; __knex__disposed?: string }>(
  (value) => typeof value === 'object' && value !== null && 'stream' in value,
)

/** Closes a transaction’s connection while rows are on their way: rolling back would wait behind them. */
async function cutOff(trx: Knex.Transaction): Promise<void> {
  const connection = connectionSchema.parse(await trx.client.acquireConnection())
  // The pool gives it to nobody any more.
  connection.__knex__disposed = 'abandoned'
  // Not by the driver, which only says that it sends nothing more: the database would wait on for somebody to read.
  connection.stream.destroy()
  await trx.rollback().catch(() => undefined)
}

const held = globalThis as { sprigTakingAway?: TakingAway }

/** The studio’s own, kept over reloads of its modules in development. */
export function sharedTakingAway(): TakingAway {
  return (held.sprigTakingAway ??= new TakingAway(process.env))
}
