import type { AccountView, ActionName, Input, Output } from '@/contract/contract'
import { contract } from '@/contract/contract'
import { documentSchema, type ContentDocument } from '@/core/document'
import type { Design } from '@/core/experiment'
import type { NodeId, TestId, VersionId } from '@/core/ids'
import * as z from 'zod'
import { createAccount } from './accounts/accounts'
import { perform, type Answer } from './actions/perform'
import { connect, type Database } from './database/connect'
import { goLive } from './database/go-live'
import { migrate } from './database/migrations'
import { createDocument, publishBody } from './stores/documents'
import { makeRelease } from './stores/releases'

export const publisher: AccountView = { id: 'paula', email: 'paula@example.org', name: 'Paula', role: 'publisher' }
export const administrator: AccountView = { id: 'ada', email: 'ada@example.org', name: 'Ada', role: 'administrator' }
export const editor: AccountView = { id: 'emil', email: 'emil@example.org', name: 'Emil', role: 'editor' }

const leaf = (type: string, props: Record<string, string>) => ({ type, props, children: [] })

/** A page with a title, a text and a button; another that confirms. */
export const testPage: ContentDocument = documentSchema.parse({
  id: 'front',
  kind: 'page',
  root: 'front-root',
  nodes: {
    'front-root': { type: 'page', props: { title: 'Front', path: '/', pageType: 'Page' }, children: ['front-main'] },
    'front-main': { type: 'mainPart', props: {}, children: ['front-section'] },
    'front-section': { type: 'section', props: {}, children: ['front-title', 'front-text', 'front-button'] },
    'front-title': leaf('heading', { words: 'Hello' }),
    'front-text': leaf('text', { words: '<p>Words</p>' }),
    'front-button': leaf('button', { words: 'Go', link: 'page:done' }),
  },
})
export const donePage: ContentDocument = documentSchema.parse({
  id: 'done',
  kind: 'page',
  root: 'done-root',
  nodes: { 'done-root': leaf('page', { title: 'Done', path: '/done' }) },
})

/**
 * An empty database with two accounts and two published pages. The tables of the first one in a file are kept, and what it
 * began with beside them: making tables takes a second, and holds up whatever else the server does.
 */
export async function freshDatabase(): Promise<Database> {
  if (process.env.SPRIG_DB_NAME !== 'sprig_test')
    throw new Error('freshDatabase: this empties the database, so it only works on “sprig_test”')
  if (begun) {
    await asBegun()
    return connect(process.env, { min: 0, max: 4 })
  }
  const db = connect(process.env, { min: 0, max: 4 })
  await db.raw('DROP DATABASE sprig_test')
  await db.raw('CREATE DATABASE sprig_test CHARACTER SET utf8mb4')
  await db.destroy()
  const seededOne = await seeded()
  for (const table of await tablesOf(seededOne)) {
    await seededOne.raw('CREATE TABLE ?? LIKE ??', [BEGUN + table, table])
    await seededOne.raw('INSERT INTO ?? SELECT * FROM ??', [BEGUN + table, table])
  }
  begun = true
  return seededOne
}
let begun = false
const BEGUN = 'begun_'

async function tablesOf(db: Database, where = ''): Promise<string[]> {
  const rows: unknown[] = await db('information_schema.tables')
    .where({ table_schema: 'sprig_test', table_type: 'BASE TABLE' })
    .whereRaw(`table_name NOT LIKE '${BEGUN}%' ${where}`)
    .select({ name: 'table_name' })
  return rows.map((row) => z.object({ name: z.string() }).parse(row).name)
}

async function asBegun(): Promise<void> {
  // A single connection: what is said of foreign keys is said to it alone.
  const db = connect(process.env, { min: 0, max: 1 })
  try {
    await db.raw('SET FOREIGN_KEY_CHECKS = 0')
    const numbered = await tablesOf(db, 'AND auto_increment > 1')
    for (const table of await tablesOf(db)) {
      // Lines of the audit trail cannot be deleted.
      if (table === 'audit_trail') await db.raw('TRUNCATE audit_trail')
      else await db(table).delete()
      if (numbered.includes(table)) await db.raw('ALTER TABLE ?? AUTO_INCREMENT = 1', [table])
      await db.raw('INSERT INTO ?? SELECT * FROM ??', [table, BEGUN + table])
    }
  } finally {
    await db.destroy()
  }
}

async function seeded(): Promise<Database> {
  const db = connect(process.env, { min: 0, max: 4 })
  await migrate(db)
  for (const account of [publisher, editor, administrator]) await createAccount(db, { ...account, password: 'a-long-password' })
  await goLive(db, async (trx) => {
    for (const [index, page] of [testPage, donePage].entries()) {
      await createDocument(trx, page, index, 'Paula')
      await publishBody(trx, page.id, page, { note: '', author: 'Paula', lock: 0 })
    }
    await makeRelease(trx, 'begun', 'Paula')
  })
  return db
}

/** As if the site had always counted by what holds now: for events that are dated back. */
export async function asAlways(db: Database): Promise<void> {
  await db('counting_rules').delete()
}

export function attempt<Name extends ActionName>(
  db: Database,
  who: AccountView | null,
  name: Name,
  input: Input<Name>,
): Promise<Answer> {
  return perform(name, input, { account: who, address: '192.0.2.1' }, db, (reason) => {
    throw reason
  })
}

/** An action that must succeed. */
export async function act<Name extends ActionName>(
  db: Database,
  who: AccountView,
  name: Name,
  input: Input<Name>,
): Promise<Output<Name>> {
  const answer = await attempt(db, who, name, input)
  if (answer.status !== 200) throw new Error(`${name}: ${JSON.stringify(answer.body)}`)
  return contract[name].output.parse(answer.body) as Output<Name>
}

/** A test of the front page's title that is ready to start. */
export async function readyTest(
  db: Database,
  words: string,
): Promise<{ test: TestId; variant: VersionId; lock: number; design: Design }> {
  const node = 'front-title' as NodeId
  const made = await act(db, editor, 'version.create', { document: testPage.id, node, manner: 'chance', from: null })
  await act(db, editor, 'version.save', {
    id: made.id,
    lock: made.lock,
    edits: [{ kind: 'set', node, prop: 'words', value: words }],
  })
  const goal = await act(db, editor, 'goal.create', { name: 'Done', wiring: { kind: 'page', document: donePage.id } })
  const { test } = await act(db, editor, 'test.create', { parts: [{ document: testPage.id, node }] })
  const opened = await act(db, editor, 'test.open', { test })
  const design: Design = { ...opened.design, primary: goal.id }
  const { lock } = await act(db, editor, 'test.save', { test, lock: opened.lock, design })
  return { test, variant: made.id, lock, design }
}
