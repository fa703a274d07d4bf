import { ORIGINAL } from '@/core/decide'
import { visitors } from '@/core/simulate'
import { inTransaction, type Database } from '../database/connect'
import { countNext } from '../ledger/count'
import { eventsOf } from '../rehearse'
import { writeEvents } from '../stores/events'
import { roundsOf } from '../stores/tests'
import { act, editor, freshDatabase, publisher, readyTest } from '../test-database'
import { testReport } from './test-report'

let db: Database
beforeAll(async () => {
  db = await freshDatabase()
})
afterAll(() => db.destroy())

test('a report says what was asked, shown and counted, and nothing that somebody wrote is markup in it', async () => {
  const ready = await readyTest(db, 'Bold')
  const { design } = await act(db, editor, 'test.open', { test: ready.test })
  const asked = { ...design, name: 'A | B *bold* # and [more](x)', problem: 'Nobody <b>reads</b> it.' }
  const { lock } = await act(db, editor, 'test.save', { test: ready.test, lock: ready.lock, design: asked })
  const draft = await testReport(db, ready.test)
  expect(draft).toContain('Nothing has been counted yet.')

  await act(db, publisher, 'test.start', { test: ready.test, lock })
  await db('rounds').update({ started_at: new Date('2026-01-01T00:00:00Z') })
  const [round] = await roundsOf(db, 1)
  if (round === undefined) throw new Error('the test has no round')
  const crowd = [...visitors({ seed: 9, visitors: 2000, days: 3, startsAt: new Date('2026-03-02T00:00:00Z') })]
  await writeEvents(
    db,
    crowd.flatMap((visitor) => eventsOf(visitor, round.snapshot, 0, new Map([[ORIGINAL, 0.3]]))),
  )
  while ((await inTransaction(db, (trx) => countNext(trx, 5000))) > 0);
  const report = await testReport(db, ready.test)
  const lines = report.split('\n')
  expect(lines[0]).toBe('# A \\| B \\*bold\\* \\# and \\[more\\](x)')
  expect(report).toContain('- Problem: Nobody \\<b\\>reads\\</b\\> it.')
  const heads = ['## Question', '## Versions', '## Result', '## What visitors did', '## Rounds']
  expect(lines.filter((line) => line.startsWith('## '))).toEqual(heads)
  // In each table as many cells as heads.
  const tables = report.split('\n\n').filter((block) => block.startsWith('| '))
  for (const table of tables)
    expect(
      new Set(
        table
          .trim()
          .split('\n')
          .map((line) => line.replace(/\\\|/g, '').split('|').length),
      ).size,
    ).toBe(1)
  expect(lines.some((line) => /^\| Original \| \d+ \| \d+ \| \d/.test(line))).toBe(true)
})
