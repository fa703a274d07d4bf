import type { Knex } from 'knex'
import * as z from 'zod'

const id = 'VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin'
const kinds = "ENUM('page','menu','callToAction','shared','style','template')"

const steps = [
  `ALTER TABLE accounts MODIFY role ENUM('editor','publisher','administrator') NOT NULL`,
  // What lists ask of a document, so that none has to read whole bodies: its root's properties, its type, its campaign.
  `ALTER TABLE documents MODIFY kind ${kinds} NOT NULL, ADD about JSON NULL, ADD page_type VARCHAR(120) NOT NULL DEFAULT '', ADD campaign VARCHAR(120) NOT NULL DEFAULT '',
    ADD INDEX (kind, page_type, position), ADD INDEX (kind, campaign, position)`,
  `ALTER TABLE tests ADD campaign VARCHAR(120) NOT NULL DEFAULT '', ADD INDEX (campaign, number)`,
  `CREATE TABLE test_parts (
    test_number INT UNSIGNED NOT NULL, part TINYINT UNSIGNED NOT NULL, document_id ${id} NOT NULL, node_id ${id} NOT NULL,
    PRIMARY KEY (test_number, part), INDEX (document_id, test_number), FOREIGN KEY (test_number) REFERENCES tests (number) ON DELETE CASCADE)`,
  // Where each document is used: shown by reference, or linked to.
  `CREATE TABLE uses (
    used_id ${id} NOT NULL, document_id ${id} NOT NULL, how ENUM('shows','links') NOT NULL,
    PRIMARY KEY (used_id, how, document_id), INDEX (document_id), FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE)`,
  `CREATE TABLE redirects (
    path VARCHAR(300) PRIMARY KEY, document_id ${id} NOT NULL, at DATETIME(3) NOT NULL, INDEX (document_id), FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE)`,
  `CREATE TABLE media (
    name CHAR(34) CHARACTER SET ascii COLLATE ascii_bin PRIMARY KEY, title VARCHAR(200) NOT NULL, alt VARCHAR(500) NOT NULL, type VARCHAR(40) NOT NULL,
    width INT UNSIGNED NOT NULL, height INT UNSIGNED NOT NULL, size INT UNSIGNED NOT NULL, body LONGBLOB NOT NULL, created_at DATETIME(3) NOT NULL, created_by VARCHAR(120) NOT NULL,
    INDEX (created_at), INDEX (title))`,
  `CREATE TABLE settings (name VARCHAR(40) PRIMARY KEY, value JSON NOT NULL, updated_at DATETIME(3) NOT NULL, updated_by VARCHAR(120) NOT NULL)`,
  `CREATE TABLE campaigns (name VARCHAR(120) PRIMARY KEY, created_at DATETIME(3) NOT NULL, created_by VARCHAR(120) NOT NULL)`,
  `ALTER TABLE events MODIFY kind ENUM('assigned','seen','page','click','call') NOT NULL`,
  // Calls to action by day and page: seen, pressed, and what those who pressed went on to do.
  `CREATE TABLE call_daily (
    call_id ${id} NOT NULL, day DATE NOT NULL, document_id ${id} NOT NULL, channel ENUM('page','newsletter') NOT NULL,
    views INT UNSIGNED NOT NULL, clicks INT UNSIGNED NOT NULL, submissions INT UNSIGNED NOT NULL, worth DOUBLE NOT NULL,
    PRIMARY KEY (call_id, day, document_id, channel))`,
  `CREATE TABLE call_presses (
    visitor BINARY(16) PRIMARY KEY, call_id ${id} NOT NULL, document_id ${id} NOT NULL, channel ENUM('page','newsletter') NOT NULL, at DATETIME(3) NOT NULL, INDEX (at))`,
  `CREATE TABLE call_credits (
    visitor BINARY(16) NOT NULL, goal_id ${id} NOT NULL, call_id ${id} NOT NULL, at DATETIME(3) NOT NULL, PRIMARY KEY (visitor, goal_id, call_id))`,
]

export async function up(db: Knex): Promise<void> {
  for (const step of steps) await db.raw(step)
  await db.raw(
    `UPDATE tests SET decision = JSON_REMOVE(JSON_SET(decision, '$.undo', JSON_ARRAY(JSON_OBJECT('document', document_id,
       'published', JSON_QUERY(decision, '$.undoPublished'), 'draft', JSON_QUERY(decision, '$.undoDraft')))), '$.undoPublished', '$.undoDraft')
     WHERE decision IS NOT NULL AND JSON_EXISTS(decision, '$.undoPublished')`,
  )
  await indexDrafts(db)
  const tests: unknown[] = await db('tests').select('number', 'design')
  const design = z.preprocess(parsed, z.object({ document: z.string(), node: z.string() }))
  for (const row of tests) {
    const { number, design: of } = z.object({ number: z.number(), design }).parse(row)
    await db('test_parts')
      .insert({ test_number: number, part: 0, document_id: of.document, node_id: of.node })
      .onConflict()
      .ignore()
  }
}

const parsed = (value: unknown): unknown => (typeof value === 'string' ? JSON.parse(value) : value)
const props = z.record(z.string(), z.unknown())
const draftRow = z.object({
  id: z.string(),
  kind: z.string(),
  draft: z.preprocess(parsed, z.object({ root: z.string(), nodes: z.record(z.string(), z.object({ props })) })),
})

/** What lists ask of a document, as it was kept then: a menu or a call by its id, a page by a link that begins with “page:”. */
async function indexDrafts(db: Knex): Promise<void> {
  const rows: unknown[] = await db('documents').select('id', 'kind', 'draft')
  const documents = rows.map((row) => draftRow.parse(row))
  const known = new Set(documents.map((one) => one.id))
  for (const { id: document, kind, draft } of documents) {
    const about = draft.nodes[draft.root]?.props ?? {}
    await db('documents')
      .where({ id: document })
      .update({ about: JSON.stringify(about), page_type: kind === 'page' ? String(about.pageType ?? 'Page').slice(0, 120) : '' })
    const said = Object.values(draft.nodes).flatMap((node) => Object.values(node.props).map(String))
    const linked = said.flatMap((text) => [...text.matchAll(/page:([a-z0-9-]+)/g)].map(([, page]) => page ?? ''))
    const uses = [
      ...said.filter((text) => known.has(text)).map((used) => ({ used_id: used, document_id: document, how: 'shows' })),
      ...linked.map((used) => ({ used_id: used, document_id: document, how: 'links' })),
    ]
    await db('uses').where({ document_id: document }).delete()
    if (uses.length > 0) await db('uses').insert(uses).onConflict().ignore()
  }
}
