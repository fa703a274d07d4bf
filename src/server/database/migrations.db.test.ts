import { createHash } from 'node:crypto'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import * as z from 'zod'
import { act, editor } from '../test-database'
import { connect, type Database } from './connect'
import type { Fault } from './in-steps'
import { migrate, migrations } from './migrations'

let db: Database
beforeEach(async () => {
  if (process.env.SPRIG_DB_NAME !== 'sprig_test') throw new Error('this empties the database: only “sprig_test”')
  db = connect(process.env, { min: 0, max: 4 })
  await db.raw('DROP DATABASE sprig_test')
  await db.raw('CREATE DATABASE sprig_test CHARACTER SET utf8mb4')
  await db.destroy()
  db = connect(process.env, { min: 0, max: 4 })
}, 60_000)
afterEach(() => db.destroy())

/** What has landed is never changed, so that the files are the history themselves: state and data of each are made by them. */
const LANDED: Readonly<Record<string, string>> = {
  '001': 'f18ed5a582becafc',
  '002': 'e355af4fe5ae5d2e',
  '003': 'c84d814b6eea93c8',
  '004': '15ec46c374c58b5e',
  '005': '17f255b0b7e7154d',
  '006': '075438322c8f4ad7',
  '007': '5da889ad01175e0f',
  '008': 'bfd1d8df2722733b',
  '009': '19057daec53bba50',
  '010': 'eb65a943a1e79558',
  '011': 'f453f7c0d76a734c',
  '012': 'a83e3f348bad4909',
  '013': 'bf42379c6a1d6418',
  '014': 'bdf568836aebaba1',
  '015': '5a0235f2d01e305f',
  '016': 'f5a8e893da3dcff8',
  '017': '4ceb27c4d10a3df2',
  '018': '077fc6321d66ed08',
  '019': '77c52e53c718f984',
  '020': 'eab3c2a615b7e39f',
  '021': 'baa114e667547656',
  '022': '1ddddf55fdbc80d2',
  '023': 'fd01e77537521255',
  '024': '948a56f6c4d558c8',
}

const FOLDER = join(process.cwd(), 'src/server/database/migrations')
test('no migration that has landed is changed, and every file is in the list', () => {
  const files = readdirSync(FOLDER).sort()
  expect(files.map((file) => file.replace('.ts', ''))).toEqual(migrations.map(({ name }) => name))
  const digests = files.map((file) => [
    file.slice(0, 3),
    createHash('sha256')
      .update(readFileSync(join(FOLDER, file)))
      .digest('hex')
      .slice(0, 16),
  ])
  expect(Object.fromEntries(digests)).toEqual(LANDED)
})

test('a migration knows only itself: no file of the program that may be another tomorrow', () => {
  for (const file of readdirSync(FOLDER)) {
    const imports = [...readFileSync(join(FOLDER, file), 'utf8').matchAll(/from '([^']+)'/g)].map(([, name]) => name)
    expect([file, imports.filter((name) => !['knex', 'zod', 'node:crypto'].includes(name ?? ''))]).toEqual([file, []])
  }
})

const node = (type: string, props: object, children: string[] = []) => ({ type, props, children })
const page = {
  ...{ id: 'front', kind: 'page', root: 'root' },
  nodes: {
    root: node('page', { title: 'Front', path: '/', pageType: 'Page' }, ['main']),
    main: node('mainPart', {}, ['part']),
    part: node('section', {}, ['title', 'call-place']),
    title: node('heading', { words: 'Hello' }),
    'call-place': node('callToAction', { callToAction: 'call' }),
  },
}
const call = {
  ...{ id: 'call', kind: 'callToAction', root: 'call-root' },
  nodes: { 'call-root': node('callToActionText', { title: 'Reserve', buttonWords: 'Go', link: 'page:front' }) },
}
const design = {
  ...{ name: 'Title', problem: '', change: '', expected: '', document: 'front', node: 'title', share: 10_000 },
  arms: [
    { version: 'original', weight: 5000 },
    { version: 'v-1', weight: 5000 },
  ],
  ...{ primary: 'g-1', watched: [], smallestEffect: 0.05 },
}
const edits = [{ kind: 'set', node: 'title', prop: 'words', value: 'Hi' }]
const goal = { id: 'g-1', name: 'Came', wiring: { kind: 'page', document: 'front' } }
const round = {
  ...{ id: 't-1-r1', test: 't-1', number: 1, design, versions: [{ id: 'v-1', name: 'A', edits }], goals: [goal] },
  ...{ salt: 't-1', plannedTotal: 100, pages: ['front'], because: '' },
}
const decision = {
  ...{ kind: 'take', version: 'v-1', versionName: 'A', reason: '', lesson: 'Short is good.', sentence: 'A is better.' },
  ...{ reading: 'better', by: 'Paula', at: '2026-01-05T00:00:00.000Z', undone: false, goal: 'Came', arms: [] },
  ...{ undoPublished: edits, undoDraft: edits },
}
/** What is to stand in a column that holds JSON, where it is not empty. */
const bodies: Readonly<Record<string, unknown>> = {
  ...{ 'documents.draft': page, 'revisions.body': page, 'tests.design': design, 'tests.decision': decision },
  ...{ 'versions.edits': edits, 'goals.body': goal, 'rounds.snapshot': round, 'draft_steps.edits': edits },
  ...{ 'form_entries.entry': { name: 'Nora' }, 'letters.body': page, 'letters.calls': [], 'events.about': null },
  ...{ 'rehearsals.found': null, 'tests.news': null, 'tests.earlier': [], 'tests.notes': [], 'tests.tags': [] },
  ...{ 'rounds.pauses': [], 'rounds.reweighed': [], 'looks.tests': [], 'looks.rounds': [], 'site_processes.faults': [] },
  'personalizations.published': {
    ...{ id: 'front.title', document: 'front', node: 'title' },
    rules: [{ version: { id: 'w', name: 'Known', edits }, condition: { kind: 'returning', returning: true } }],
    holdout: 0,
  },
  'versions.condition': null,
  'goals.published': goal,
  'ledger_visitors.state': {},
  'segments.condition': { kind: 'device', device: 'phone' },
  'rehearsals.plan': {
    ...{ visitors: 100, days: 3, seed: 1 },
    rates: [
      { version: 'original', rate: 0.1 },
      { version: 'v-1', rate: 0.2 },
    ],
  },
  'ledger_visitors.base': null,
}
const values: Readonly<Record<string, unknown>> = {
  ...{ document_id: 'front', test_number: 1, round_id: 't-1-r1', goal_id: 'g-1', node_id: 'title', account_id: 'ada' },
  ...{ letter: 1, look: 1, call_id: 'call', version: 'v-1', id: 'ada', kind: undefined, path: '/' },
}
const ids: Readonly<Record<string, unknown>> = {
  ...{ accounts: 'ada', documents: 'front', versions: 'v-1', goals: 'g-1', rounds: 't-1-r1', personalizations: 'front.title' },
}

const columnRow = z.object({
  ...{ table_name: z.string(), column_name: z.string(), data_type: z.string(), column_type: z.string(), extra: z.string() },
  ...{ is_nullable: z.string(), length: z.coerce.number().nullable() },
})
async function columnsOf(table: string) {
  const rows: unknown[] = await db('information_schema.columns')
    .where({ table_schema: 'sprig_test', table_name: table })
    .select('table_name', 'column_name', 'data_type', 'column_type', 'extra', 'is_nullable')
    .select({ length: 'character_maximum_length' })
  return rows.map((row) => columnRow.parse(row))
}

/** A small set of data as it could have been then: a row in every table that has none. */
async function fill(): Promise<void> {
  const waiting = (await tables()).filter((table) => !table.startsWith('migration'))
  // Those that others are named in come first, whichever they are.
  for (let tries = 0; waiting.length > 0 && tries < 500; tries++) {
    const table = waiting.shift() ?? ''
    if ((await size(table)) > 0) continue
    const row: Record<string, unknown> = {}
    for (const { column_name: name, data_type: type, column_type: whole, extra, length } of await columnsOf(table)) {
      if (extra.includes('auto_increment') && table !== 'tests') continue
      const body = bodies[`${table}.${name}`]
      const value =
        body !== undefined
          ? body === null
            ? null
            : JSON.stringify(body)
          : name === 'id' && type === 'varchar'
            ? (ids[table] ?? 'x')
            : name === 'number' && table !== 'orders'
              ? 1
              : type === 'enum'
                ? (/'([^']+)'/.exec(whole)?.[1] ?? '')
                : type === 'binary'
                  ? Buffer.alloc(length ?? 16, 7)
                  : ['datetime', 'timestamp', 'date'].includes(type)
                    ? '2026-01-05'
                    : type === 'longtext'
                      ? '{}'
                      : /char|text|blob|varbinary/.test(type)
                        ? (values[name] ?? 'x')
                        : 1
      row[name] = value
    }
    const isThere = await db(table)
      .insert(row)
      .then(
        () => true,
        (reason: { errno?: number }) => {
          if (reason.errno !== 1452) throw reason
          waiting.push(table)
          return false
        },
      )
    if (!isThere) continue
    if (table === 'documents')
      await db('documents').insert({
        ...row,
        id: 'call',
        kind: 'callToAction',
        title: 'Reserve',
        path: null,
        draft: JSON.stringify(call),
      })
  }
}

async function tables(): Promise<string[]> {
  const rows: unknown[] = await db('information_schema.tables')
    .where({ table_schema: 'sprig_test', table_type: 'BASE TABLE' })
    .orderBy('create_time')
    .select({ name: 'table_name' })
  return rows.map((row) => z.object({ name: z.string() }).parse(row).name)
}
const size = async (table: string) => z.object({ n: z.coerce.number() }).parse(await db(table).count({ n: '*' }).first()).n

async function schema(): Promise<string> {
  const columns: unknown[] = await db('information_schema.columns')
    .where({ table_schema: 'sprig_test' })
    .orderBy(['table_name', 'column_name'])
    .select('table_name', 'column_name', 'column_type', 'is_nullable', 'column_default', 'extra', 'collation_name')
  const indexes: unknown[] = await db('information_schema.statistics')
    .where({ table_schema: 'sprig_test' })
    .orderBy(['table_name', 'index_name', 'seq_in_index'])
    .select('table_name', 'index_name', 'column_name', 'non_unique')
  const triggers: unknown[] = await db('information_schema.triggers')
    .where({ trigger_schema: 'sprig_test' })
    .select('trigger_name')
    .orderBy('trigger_name')
  return JSON.stringify([columns, indexes, triggers])
}

/** Killed once before and once after every statement, and begun again each time. */
function killing(): Fault {
  const killed = new Set<string>()
  return ({ name, statement, when }) => {
    const key = `${name} ${statement} ${when}`
    if (killed.has(key)) return
    killed.add(key)
    throw new Error('killed')
  }
}
async function untilDone(until: number, fault: Fault): Promise<number> {
  for (let times = 0; ; times++) {
    try {
      await migrate(db, migrations.slice(0, until), fault)
      return times
    } catch (reason) {
      if (!(reason instanceof Error) || reason.message !== 'killed') throw reason
    }
  }
}

test('from every state that ever was, with data in all of its tables, today is reached: twice, and broken off at every statement', async () => {
  await migrate(db)
  const straight = await schema()
  await db.raw('DROP DATABASE sprig_test')
  await db.raw('CREATE DATABASE sprig_test CHARACTER SET utf8mb4')
  await db.destroy()
  db = connect(process.env, { min: 0, max: 4 })

  const fault = killing()
  let killed = 0
  for (let at = 1; at <= migrations.length; at++) {
    killed += await untilDone(at, fault)
    await fill()
  }
  expect(killed).toBeGreaterThan(150)
  expect(await schema()).toBe(straight)
  await migrate(db)
  expect(await schema()).toBe(straight)
  expect(await db('migrations').orderBy('id').pluck('name')).toEqual(migrations.map(({ name }) => name))
  // What people made is there, and can be read by what runs today.
  for (const table of ['documents', 'revisions', 'tests', 'versions', 'goals', 'rounds', 'form_entries', 'events', 'accounts'])
    expect([table, (await size(table)) > 0]).toEqual([table, true])
  expect((await act(db, editor, 'document.open', { document: 'front' as never })).document.nodes).toMatchObject(page.nodes)
  expect(await act(db, editor, 'test.open', { test: 't-1' as never })).toMatchObject({
    design: { name: 'Title' },
    versions: [{ edits }],
    decision: { lesson: 'Short is good.' },
  })
  expect(await act(db, editor, 'goal.list', { page: 1, search: '' })).toMatchObject({
    lines: [{ state: 'published' }],
  })
  expect(await act(db, editor, 'call.list', {})).toMatchObject({ lines: [{ id: 'call' }] })
}, 300_000)

test('two that start at the same moment do it once, one after the other', async () => {
  const other = connect(process.env, { min: 0, max: 4 })
  await Promise.all([migrate(db), migrate(other)])
  expect(await db('migrations').orderBy('id').pluck('name')).toEqual(migrations.map(({ name }) => name))
  await other.destroy()
})
