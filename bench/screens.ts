import * as z from 'zod'
import type { AccountView, ActionName, Input } from '@/contract/contract'
import { documentSchema, type ContentDocument } from '@/core/document'
import { roundSchema } from '@/core/experiment'
import { goalSchema } from '@/core/goals'
import type { DocumentId, TestId } from '@/core/ids'
import { perform } from '@/server/actions/perform'
import { inTransaction, type Database } from '@/server/database/connect'
import { goLive } from '@/server/database/go-live'
import { createDocument, publishBody } from '@/server/stores/documents'
import { createGoal } from '@/server/stores/goals'
import { makeRelease } from '@/server/stores/releases'
import { withOwnDatabase } from './own-database'

/*
 * What the screens that are asked again and again cost the database on a large site: how many queries, and for how long.
 * Against a tenth of its tests: the number of queries must be the same. No screen reads enrolments, however many there are;
 * they stand here as the rows of tallies that they have become.
 */
const PAGES = Number(process.env.PAGES ?? 2000)
const TESTS = Number(process.env.TESTS ?? 500)
const EVENTS = Number(process.env.EVENTS ?? 500_000)
const DAYS = 28
/** Milliseconds in the database. */
const AIM = 100
const EACH = 20

const who: AccountView = {
  id: 'a-bench',
  name: 'Bench',
  email: 'bench@site.example',
  role: 'administrator',
}

const page = (number: number): ContentDocument =>
  documentSchema.parse({
    id: `p-${number}`,
    kind: 'page',
    root: `p-${number}-root`,
    nodes: {
      [`p-${number}-root`]: {
        type: 'page',
        props: { title: `Page ${number}`, path: number === 0 ? '/' : `/page-${number}` },
        children: [`p-${number}-main`],
      },
      [`p-${number}-main`]: { type: 'mainPart', props: {}, children: [`p-${number}-part`] },
      [`p-${number}-part`]: { type: 'section', props: {}, children: [`p-${number}-title`] },
      [`p-${number}-title`]: {
        type: 'heading',
        props: { words: `Page ${number}`, level: 'h1', link: `page:p-${(number + 1) % PAGES}` },
        children: [],
      },
    },
  })

const goal = goalSchema.parse({ id: 'reserved', name: 'Reserved', wiring: { kind: 'page', document: 'p-1' }, worth: 20 })

const run = () =>
  withOwnDatabase({ folder: 'bench-screens', port: 4329 }, async (db) => {
    const began = Date.now()
    await fill(db)
    console.log(
      `screens: ${PAGES} pages, ${TESTS} tests, ${EVENTS.toLocaleString('en')} events of today, made in ${Math.round((Date.now() - began) / 1000)} s`,
    )
    return compare(db)
  })

async function fill(db: Database): Promise<void> {
  await inTransaction(db, (trx) => createGoal(trx, goal, 'bench', true))
  for (let from = 0; from < PAGES; from += 200)
    await goLive(db, async (trx) => {
      for (let number = from; number < Math.min(PAGES, from + 200); number++) {
        await createDocument(trx, page(number), number, 'bench')
        await publishBody(trx, `p-${number}` as DocumentId, page(number), { note: 'First', author: 'bench', lock: 0 })
      }
    })
  await goLive(db, (trx) => makeRelease(trx, 'begun', 'bench'))
  const [seq, day] = ['FROM seq_0_to_', `TIMESTAMPADD(DAY, -(d.seq), CURRENT_DATE)`]
  const days = `seq_0_to_${DAYS - 1} AS d`
  for (let number = 1; number <= TESTS; number++) await addTest(db, number)
  await db.raw(
    `INSERT INTO daily (subject, day, times, visitors, worth) SELECT CONCAT('p-', p.seq), ${day}, 40, 20, 0 ${seq}${PAGES - 1} AS p JOIN ${days}`,
  )
  await db.raw(
    `INSERT INTO daily (subject, day, times, visitors, worth) SELECT s.subject, ${day}, 40000, 20000, 0 FROM (SELECT '*' AS subject UNION SELECT 'u:*' UNION SELECT 'v:*' UNION SELECT 'g:reserved') AS s JOIN ${days}`,
  )
  await db.raw(
    `INSERT INTO events (crowd, id, visitor, at, kind, document_id, about, tallied)
     SELECT 0, UNHEX(LPAD(HEX(seq), 32, '0')), UNHEX(MD5(seq DIV 5)), TIMESTAMPADD(SECOND, -(seq % 80000), UTC_TIMESTAMP(3)), 'page', 'p-1', '{"path":"/page-1","pageType":"Page","arrival":null}', 1
     FROM seq_1_to_${EVENTS}`,
  )
}

/** Half of them settled, as on a site that has tested for years. */
async function addTest(db: Database, number: number): Promise<void> {
  const [document, node, id] = [`p-${number}`, `p-${number}-title`, `r-${number}`]
  const version = { id: `v-${number}`, name: 'Bold', edits: [{ kind: 'set', node, prop: 'words', value: 'Bold' }] }
  const design = {
    name: `Test ${number}`,
    problem: 'Few reserve',
    change: 'Other words',
    expected: '',
    document,
    node,
    arms: [
      { version: 'original', weight: 5000 },
      { version: version.id, weight: 5000 },
    ],
    share: 10_000,
    primary: goal.id,
    watched: [],
    guards: [],
    smallestEffect: 0.05,
  }
  const status = number % 2 === 0 ? 'settled' : number % 10 === 1 ? 'draft' : 'running'
  const decision = {
    ...{ kind: 'keep', version: 'original', versionName: 'Original', reason: '', lesson: '', sentence: '', reading: 'tooEarly' },
    ...{ by: 'bench', at: new Date().toISOString(), undone: false, goal: 'Reserved', arms: [] },
  }
  const started = new Date(Date.now() - DAYS * 86_400_000)
  await db('tests').insert({
    number,
    document_id: document,
    status,
    name: design.name,
    design: JSON.stringify(design),
    decision: status === 'settled' ? JSON.stringify(decision) : null,
    created_at: started,
    created_by: 'bench',
    started_at: started,
    settled_at: status === 'settled' ? new Date() : null,
  })
  await db('versions').insert({
    ...{ id: version.id, document_id: document, node_id: node, manner: 'chance', test_number: number, name: version.name },
    ...{ edits: JSON.stringify(version.edits), position: 0, settled: status === 'settled' ? 1 : 0 },
    ...{ updated_at: started, updated_by: 'bench' },
  })
  if (status === 'draft') return
  const snapshot = roundSchema.parse({
    ...{ id, test: `t-${number}`, number: 1, design, versions: [version], goals: [goal], salt: id, plannedTotal: 100_000 },
  })
  await db('rounds').insert({
    id,
    test_number: number,
    number: 1,
    snapshot: JSON.stringify(snapshot),
    started_at: started,
    ended_at: status === 'settled' ? new Date() : null,
  })
  // 20,000 enrolments a test: ten million in all.
  await db.raw(
    `INSERT INTO tallies (crowd, round_id, goal_id, version, day, assigned, exposed, converters, conversions, worth, worth_squared)
     SELECT 0, ?, g.goal, v.version, TIMESTAMPADD(DAY, -d.seq, CURRENT_DATE), IF(g.goal = '', 360, 0), IF(g.goal = '', 350, 0), IF(g.goal = '', 0, 20 + d.seq % 5), IF(g.goal = '', 0, 20 + d.seq % 5), 0, 0
     FROM (SELECT '' AS goal UNION SELECT 'reserved') AS g JOIN (SELECT 'original' AS version UNION SELECT ?) AS v JOIN seq_0_to_${DAYS - 1} AS d`,
    [id, version.id],
  )
}

async function compare(db: Database): Promise<boolean> {
  const spent = { queries: 0, tables: new Set<string>() }
  db.on('query-response', (_: unknown, { sql }: { sql: string }) => {
    spent.queries++
    for (const table of ['ledger_visitors', 'enrolments']) if (sql.includes(table)) spent.tables.add(table)
  })
  // By the database’s own clock: what is asked for at once must not count twice, nor what this program does meanwhile.
  const busy = async () => {
    const [rows] = z
      .tuple([z.array(z.object({ Value: z.coerce.number() })), z.unknown()])
      .parse(await db.raw("SHOW GLOBAL STATUS LIKE 'Busy_time'"))
    return (rows[0]?.Value ?? 0) * 1000
  }
  const ask = async <Name extends ActionName>(name: Name, input: Input<Name>) => {
    const once = () => perform(name, input, { account: who, address: '192.0.2.1' }, db, (reason) => console.error(reason))
    // What is looked at once after each change, in the background, is done; what is read each time is what counts.
    for (let [last, now] = [-1, 0]; last !== now; await new Promise((next) => setTimeout(next, 3000))) {
      spent.queries = 0
      await once()
      ;[last, now] = [now, spent.queries]
    }
    const before = await busy()
    spent.queries = 0
    for (let time = 0; time < EACH; time++) {
      const answer = await once()
      if (answer.status !== 200) throw new Error(`${name}: ${JSON.stringify(answer.body)}`)
    }
    const { queries } = spent
    return { queries: queries / EACH, ms: ((await busy()) - before) / EACH }
  }
  const screens = {
    Today: () => ask('today.read', {}),
    Tests: () => ask('test.list', {}),
    Site: () => ask('site.read', {}),
    Test: () => ask('test.open', { test: 't-3' as TestId }),
    'its result': () => ask('result.read', { test: 't-3' as TestId, round: null, crowd: 0, goal: null }),
  }
  const large = new Map<string, { queries: number; ms: number }>()
  for (const [name, read] of Object.entries(screens)) large.set(name, await read())
  const few = Math.ceil(TESTS / 10)
  await db('tallies').whereRaw('CAST(SUBSTRING(round_id, 3) AS UNSIGNED) > ?', [few]).delete()
  await db('rounds').where('test_number', '>', few).delete()
  await db('versions').where('test_number', '>', few).delete()
  await db('tests').where('number', '>', few).delete()
  let well = spent.tables.size === 0
  for (const [name, read] of Object.entries(screens)) {
    const [all, tenth] = [large.get(name) ?? { queries: 0, ms: 0 }, await read()]
    const isWell = all.ms <= AIM && all.queries <= tenth.queries
    well &&= isWell
    console.log(
      `screens: ${name}: ${all.queries} queries, ${all.ms.toFixed(0)} ms in the database; with a tenth of the tests ${tenth.queries}, ${tenth.ms.toFixed(0)} ms: ratio ${(all.ms / tenth.ms).toFixed(2)}${isWell ? '' : '  NOT AS IT SHOULD BE'}`,
    )
  }
  return well
}

run().then(
  (well) => process.exit(well ? 0 : 1),
  (reason) => {
    console.error(reason)
    process.exit(1)
  },
)
