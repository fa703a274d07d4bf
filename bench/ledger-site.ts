import { createDocument } from '@/server/stores/documents'
import { documentSchema } from '@/core/document'
import type { Database } from '@/server/database/connect'

/** The least that a round needs to be there: a page, and a test on it. */
export async function seededDocument(db: Database, round: string): Promise<void> {
  const home = documentSchema.parse({
    id: 'home',
    kind: 'page',
    root: 'home-root',
    nodes: { 'home-root': { type: 'page', props: { title: 'Home', path: '/' }, children: [] } },
  })
  await db.transaction((trx) => createDocument(trx, home, 0, 'bench'))
  await db('tests').insert({
    document_id: 'home',
    status: 'running',
    name: 'Bench',
    design: '{}',
    created_at: new Date(),
    created_by: 'bench',
  })
  await db('rounds').insert({ id: round, test_number: 1, number: 1, snapshot: '{}', started_at: new Date() })
}
