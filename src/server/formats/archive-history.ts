import type { Knex } from 'knex'
import * as z from 'zod'
import { partsOf, versionSchema } from '@/core/experiment'
import { documentIdSchema, nodeIdSchema, roundIdSchema, testIdSchema, type DocumentId, type RoundId } from '@/core/ids'
import type { Row } from '@/core/ledger'
import { jsonColumn } from '../database/json-column'
import { addToRows } from '../ledger/rows'
import { indexTest, roundRows, testsWhere, type TestRow } from '../stores/tests'
import { roundBooks, type ArchivedTest } from './archived-site'

/** Settled tests whose parts all stand in these documents, oldest first: what an archive of them can hold. */
export async function historyIn(db: Knex, documents: ReadonlySet<DocumentId>): Promise<TestRow[]> {
  const rows = await testsWhere(db, (query) => void query.where({ status: 'settled' }).whereNotNull('decision').orderBy('number'))
  return rows.filter(({ design }) => partsOf(design).every(({ document }) => documents.has(document)))
}

const versionRow = z.object({
  id: versionSchema.shape.id,
  name: z.string(),
  edits: jsonColumn(versionSchema.shape.edits),
  document_id: documentIdSchema,
  node_id: nodeIdSchema,
  position: z.number(),
})
const pictureRow = z.object({ which: z.enum(['original', 'chosen']), html: z.string() })

/** A settled test with all that was found out by it. */
export async function archivedTest(db: Knex, row: TestRow): Promise<ArchivedTest> {
  const { number, design, decision, earlier, notes, tags } = row
  if (decision === null || row.settled_at === null) throw new Error(`test ${number} is settled without a decision`)
  const versions: unknown[] = await db('versions').where({ test_number: number }).orderBy(['position', 'id'])
  const rounds = await roundRows(db, number)
  const pictures: unknown[] = await db('pictures').where({ test_number: number }).orderBy('which').select('which', 'html')
  return {
    ...{ number, design: { ...design, arms: [...design.arms] }, decision, earlier, notes, tags },
    ...{ createdAt: row.created_at, createdBy: row.created_by, startedAt: row.started_at, settledAt: row.settled_at },
    versions: versions
      .map((one) => versionRow.parse(one))
      .map(({ document_id: document, node_id: node, ...version }) => ({ ...version, document, node })),
    rounds: rounds.map(({ began, started_at: startedAt, ended_at: endedAt, pauses, reweighed }) => ({
      ...{ snapshot: began, startedAt, endedAt: endedAt ?? startedAt, pauses, reweighed: [...reweighed] },
    })),
    counts: await countsOf(
      db,
      rounds.map(({ began }) => began.id),
    ),
    pictures: pictures.map((one) => pictureRow.parse(one)),
  }
}

const cell = z.union([z.string(), z.number(), z.date()])

async function countsOf(db: Knex, rounds: readonly RoundId[]): Promise<ArchivedTest['counts']> {
  const counts: ArchivedTest['counts'] = {}
  for (const { book, table, columns, sums } of roundBooks) {
    const all = [...columns, ...sums]
    const rows: unknown[] = await db(table)
      .where({ crowd: 0 })
      .whereIn('round_id', [...rounds])
      .orderBy([...columns])
      .select([...all])
    counts[book] = rows.map((row) => {
      const values = z.record(z.string(), cell).parse(row)
      return all.map((column, at) => {
        const value = values[column] ?? ''
        if (value instanceof Date) return value.toISOString().slice(0, 10)
        return at < columns.length ? String(value) : Number(value)
      })
    })
  }
  return counts
}

/** What a test and its rounds are called here: another test may have its number. */
export interface Renumbering {
  /** By the numbers in the archive. */
  readonly tests: ReadonlyMap<number, number>
}

function roundHere(round: string, { tests }: Renumbering): RoundId {
  const [, test = '', rest = ''] = /^t-(\d+)(-r\d+)$/.exec(round) ?? []
  const here = tests.get(Number(test))
  return roundIdSchema.parse(here === undefined ? round : `t-${here}${rest}`)
}

/** Takes a settled test over as it was found, to be read and not to be run again. */
export async function loadHistory(
  trx: Knex.Transaction,
  test: ArchivedTest,
  renumbering: Renumbering,
  author: string,
): Promise<void> {
  const number = renumbering.tests.get(test.number)
  if (number === undefined) throw new Error(`test ${test.number} has no number here`)
  const { design, decision, earlier, notes, tags } = test
  await trx('tests').insert({
    ...{ number, document_id: design.document, status: 'settled', name: design.name, design: JSON.stringify(design) },
    ...{ decision: JSON.stringify(decision), earlier: JSON.stringify(earlier), notes: JSON.stringify(notes) },
    ...{ tags: JSON.stringify(tags), created_at: test.createdAt, created_by: test.createdBy },
    ...{ started_at: test.startedAt, settled_at: test.settledAt },
  })
  await indexTest(trx, number, design)
  for (const { id, name, edits, document, node, position } of test.versions)
    await trx('versions').insert({
      ...{ id, document_id: document, node_id: node, manner: 'chance', test_number: number, name },
      ...{ edits: JSON.stringify(edits), condition: null, position, settled: 1, updated_at: test.settledAt, updated_by: author },
    })
  for (const { snapshot, startedAt, endedAt, pauses, reweighed } of test.rounds) {
    const id = roundHere(snapshot.id, renumbering)
    const own = { ...snapshot, id, test: testIdSchema.parse(`t-${number}`) }
    await trx('rounds').insert({
      ...{ id, test_number: number, number: snapshot.number, snapshot: JSON.stringify(own) },
      ...{ started_at: startedAt, ended_at: endedAt, pauses: JSON.stringify(pauses), reweighed: JSON.stringify(reweighed) },
    })
  }
  const rows = rowsHere(test, renumbering)
  // Their events are not here: what is counted anew begins with these.
  await addToRows(trx, 0, rows)
  await addToRows(trx, 0, rows, '_kept')
  for (const { which, html } of test.pictures) await trx('pictures').insert({ test_number: number, which, html })
}

const AT_ROUND = 0
function rowsHere({ counts }: ArchivedTest, renumbering: Renumbering): Row[] {
  return roundBooks.flatMap(({ book, columns, sums }) =>
    (counts[book] ?? []).map((values): Row => {
      const key = z.array(z.string()).length(columns.length).parse(values.slice(0, columns.length))
      const other = columns.indexOf('other_round')
      return {
        book,
        key: key.map((part, at) => (at === AT_ROUND || (at === other && part !== '') ? roundHere(part, renumbering) : part)),
        sums: z.array(z.number()).length(sums.length).parse(values.slice(columns.length)),
      }
    }),
  )
}
