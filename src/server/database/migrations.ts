import type { Knex } from 'knex'
import * as z from 'zod'
import * as first from './migrations/001-first'
import * as manyKinds from './migrations/002-many-kinds'
import * as everythingThatCounts from './migrations/003-everything-that-counts'
import * as entriesHaveIds from './migrations/004-entries-have-ids'
import * as letters from './migrations/005-letters'
import * as solidGround from './migrations/006-solid-ground'
import * as asShown from './migrations/007-as-shown'
import * as ledger from './migrations/008-ledger'
import * as leftOut from './migrations/009-left-out'
import * as byTheClock from './migrations/010-by-the-clock'
import * as segments from './migrations/011-segments'
import * as gains from './migrations/012-gains'
import * as lens from './migrations/013-lens'
import * as doings from './migrations/014-doings'
import * as crowds from './migrations/015-crowds'
import * as before from './migrations/016-before'
import * as notes from './migrations/017-notes'
import * as newestRelease from './migrations/018-newest-release'
import * as addresses from './migrations/019-addresses'
import * as knownOfVisitors from './migrations/020-known-of-visitors'
import * as kindsAreNames from './migrations/021-kinds-are-names'
import * as takenBack from './migrations/022-taken-back'
import * as pictureSizes from './migrations/023-picture-sizes'
import * as orderTables from './migrations/024-order-tables'
import { inSteps, type Fault } from './in-steps'

export interface Migration {
  readonly name: string
  readonly up: (db: Knex) => Promise<void>
}

/** A list and not a folder: the same names under every runner and in a bundle. What has landed is never changed. */
export const migrations: readonly Migration[] = [
  { name: '001-first', ...first },
  { name: '002-many-kinds', ...manyKinds },
  { name: '003-everything-that-counts', ...everythingThatCounts },
  { name: '004-entries-have-ids', ...entriesHaveIds },
  { name: '005-letters', ...letters },
  { name: '006-solid-ground', ...solidGround },
  { name: '007-as-shown', ...asShown },
  { name: '008-ledger', ...ledger },
  { name: '009-left-out', ...leftOut },
  { name: '010-by-the-clock', ...byTheClock },
  { name: '011-segments', ...segments },
  { name: '012-gains', ...gains },
  { name: '013-lens', ...lens },
  { name: '014-doings', ...doings },
  { name: '015-crowds', ...crowds },
  { name: '016-before', ...before },
  { name: '017-notes', ...notes },
  { name: '018-newest-release', ...newestRelease },
  { name: '019-addresses', ...addresses },
  { name: '020-known-of-visitors', ...knownOfVisitors },
  { name: '021-kinds-are-names', ...kindsAreNames },
  { name: '022-taken-back', ...takenBack },
  { name: '023-picture-sizes', ...pictureSizes },
  { name: '024-order-tables', ...orderTables },
]

/**
 * Brings a database up to today, from whatever it was left at: one that was broken off goes on with the statement at which
 * it was. Statements that change tables are not rolled back, so each is written down as it is done.
 *
 * @param list up to which of them; all where nothing is said
 * @param fault for tests: breaks it off
 */
export async function migrate(db: Knex, list: readonly Migration[] = migrations, fault?: Fault): Promise<void> {
  await db.raw(
    'CREATE TABLE IF NOT EXISTS migrations (id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, name VARCHAR(255), batch INT, migration_time TIMESTAMP)',
  )
  await db.raw(
    'CREATE TABLE IF NOT EXISTS migration_steps (name VARCHAR(100) CHARACTER SET ascii PRIMARY KEY, done INT UNSIGNED NOT NULL, seen CHAR(40) CHARACTER SET ascii NOT NULL)',
  )
  await db('migration_steps').insert({ name: HELD, done: 0, seen: '' }).onConflict('name').ignore()
  // Held by a connection, so that it is free when whoever holds it dies: two who start at once do it one after the other.
  await db.transaction(async (holding) => {
    await holding.raw('SELECT done FROM migration_steps WHERE name = ? FOR UPDATE WAIT 3600', [HELD])
    const rows: unknown[] = await db('migrations').select('name')
    const done = new Set(rows.map((row) => z.object({ name: z.string() }).parse(row).name))
    for (const { name, up } of list) {
      if (done.has(name)) continue
      await up(await inSteps(db, name, fault))
      await db('migrations').insert({ name, batch: 1, migration_time: new Date() })
      await db('migration_steps').where({ name }).delete()
    }
  })
}
const HELD = 'whoever migrates'
