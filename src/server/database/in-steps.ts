import { createHash } from 'node:crypto'
import type { Knex } from 'knex'
import * as z from 'zod'

/** Where a test breaks a migration off: before a statement, or after it. */
export type Fault = (at: { readonly name: string; readonly statement: number; readonly when: 'before' | 'after' }) => void

const noteRow = z.object({ done: z.number(), seen: z.string() })

/**
 * The database as one migration sees it: each of its plain statements is done once, however often it is broken off. Before a
 * table is changed it is written down how it looks; whoever goes on sees by that whether it was. Rows are changed together
 * with the note of it. What a migration does by other ways has to bear being done again.
 */
export async function inSteps(db: Knex, name: string, fault: Fault = () => undefined): Promise<Knex> {
  const row: unknown = await db('migration_steps').where({ name }).first('done', 'seen')
  const before = row === undefined ? { done: 0, seen: '' } : noteRow.parse(row)
  if (row === undefined) await db('migration_steps').insert({ name, done: 0, seen: '' })
  let next = 0
  const write = (by: Knex, note: z.infer<typeof noteRow>) => by('migration_steps').where({ name }).update(note)
  const raw = async (sql: string, ...bindings: unknown[]): Promise<unknown> => {
    const run = (by: Knex) => (by.raw as (sql: string, ...bindings: unknown[]) => Promise<unknown>)(sql, ...bindings)
    if (/^\s*SELECT/i.test(sql)) return run(db)
    const statement = next++
    if (statement < before.done) return undefined
    if (/^\s*(INSERT|UPDATE|DELETE)/i.test(sql)) {
      fault({ name, statement, when: 'before' })
      return db.transaction(async (trx) => {
        const done = await run(trx)
        await write(trx, { done: statement + 1, seen: '' })
        fault({ name, statement, when: 'after' })
        return done
      })
    }
    const looks = await looksOf(db, sql)
    if (statement === before.done && before.seen !== '' && before.seen !== looks) return undefined
    await write(db, { done: statement, seen: looks })
    fault({ name, statement, when: 'before' })
    const done = await run(db)
    fault({ name, statement, when: 'after' })
    return done
  }
  return new Proxy(db, {
    get(target, property, receiver): unknown {
      return property === 'raw' ? raw : Reflect.get(target, property, receiver)
    },
  })
}

const ABOUT =
  /^\s*(?:(?:ALTER|CREATE|DROP|RENAME)\s+TABLE(?:\s+IF\s+(?:NOT\s+)?EXISTS)?|CREATE\s+(?:UNIQUE\s+)?INDEX\s+\w+\s+ON|CREATE\s+TRIGGER)\s+`?(\w+)/i

/** What a statement is about, as it is now: a table as it would be made, or a trigger; one digest for what is not there. */
async function looksOf(db: Knex, sql: string): Promise<string> {
  const subject = ABOUT.exec(sql)?.[1]
  if (subject === undefined)
    throw new Error(`a migration has a statement of a kind that nobody can go on with: ${sql.slice(0, 80)}`)
  const isTrigger = /^\s*CREATE\s+TRIGGER/i.test(sql)
  const shown = await db.raw(`SHOW CREATE ${isTrigger ? 'TRIGGER' : 'TABLE'} ??`, [subject]).then(
    (rows: unknown) => JSON.stringify(rows).replace(/AUTO_INCREMENT=\d+/g, ''),
    (reason: { errno?: number }) => {
      if (reason.errno !== 1146 && reason.errno !== 1360) throw reason
      return ''
    },
  )
  return createHash('sha1').update(shown).digest('hex')
}
