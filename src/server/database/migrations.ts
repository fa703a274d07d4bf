import type { Knex } from 'knex'
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

interface Migration {
  readonly name: string
  readonly up: (db: Knex) => Promise<void>
}

const migrations: readonly Migration[] = [
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
]

/** A list and not a folder: the same names under every runner and in a bundle. */
const source: Knex.MigrationSource<Migration> = {
  getMigrations: () => Promise.resolve([...migrations]),
  getMigrationName: ({ name }) => name,
  getMigration: ({ up }) => Promise.resolve({ up, down: () => Promise.reject(new Error('migrations only go forward')) }),
}

export async function migrate(db: Knex): Promise<void> {
  await db.migrate.latest({ migrationSource: source, tableName: 'migrations' })
}
