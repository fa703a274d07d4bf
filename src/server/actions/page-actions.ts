import type { Output } from '@/contract/contract'
import { compare } from '@/core/document'
import type { DocumentId } from '@/core/ids'
import { pictureNames } from '@/components/pictures'
import { inTransaction, type Database } from '../database/connect'
import { Failure } from '../failure'
import {
  editDraft,
  holdDocument,
  listRevisions,
  publishBody,
  readDocument,
  readPublished,
  readRevision,
  readSurroundings,
  saveDraft,
  stateOf,
} from '../stores/documents'
import { makeRelease } from '../stores/releases'
import { testId, testsWhere } from '../stores/tests'
import { listVersions, livePersonalizations, versionView } from '../stores/versions'
import type { Area } from './handler'

export const pageActions: Area<'page'> = {
  'page.open': ({ db }, { document }) => openPage(db, document),

  'page.edit': ({ db, account }, { document, base, edits }) =>
    inTransaction(db, (trx) => editDraft(trx, document, base, edits, account.name)),

  'page.publish': ({ db, account }, { document, lock, note }) =>
    inTransaction(db, async (trx) => {
      const row = await holdDocument(trx, document)
      if (row.lock_version !== lock)
        throw new Failure(
          'conflict',
          `${row.updated_by} has changed the draft since you looked at it. Look at it again before you publish.`,
        )
      const revision = await publishBody(trx, document, row.draft, { note, author: account.name, lock })
      return { revision, release: await makeRelease(trx, `published “${row.title}”`, account.name) }
    }),

  'page.restore': ({ db, account }, { document, revision, lock }) =>
    inTransaction(db, async (trx) => {
      const row = await holdDocument(trx, document)
      if (row.lock_version !== lock)
        throw new Failure(
          'conflict',
          `${row.updated_by} has changed the draft since you looked at it. Look at it again before you restore.`,
        )
      const body = await readRevision(trx, document, revision)
      const edits = compare(row.draft, body)
      return { lock: edits.length === 0 ? lock : await saveDraft(trx, row, body, edits, account.name) }
    }),
}

async function openPage(db: Database, id: DocumentId): Promise<Output<'page.open'>> {
  const row = await readDocument(db, id)
  const [published, surroundings, versions, tests, revisions, live] = await Promise.all([
    readPublished(db, [id]),
    readSurroundings(db),
    listVersions(db, id),
    testsWhere(db, (query) => void query.where({ document_id: id }).whereNot('status', 'settled').orderBy('number')),
    listRevisions(db, id, 20),
    livePersonalizations(db, id),
  ])
  return {
    document: row.draft,
    lock: row.lock_version,
    state: stateOf(row),
    published: published.get(id) ?? null,
    publishedRevision: row.published_revision,
    surroundings: surroundings.filter((one) => one.id !== id),
    pictures: [...pictureNames],
    versions: versions.map(versionView),
    tests: tests.map(({ number, name, status, design }) => ({
      id: testId(number),
      name,
      status,
      node: design.node,
      arms: design.arms,
    })),
    live: live.map(({ node, rules }) => ({
      node,
      versions: rules.map(({ version }) => version.id),
      current: isCurrent(node, rules, versions),
    })),
    revisions: revisions.map(({ at, ...rest }) => ({ ...rest, at: at.toISOString() })),
    editedBy: row.updated_by,
    editedAt: row.updated_at.toISOString(),
  }
}

/** Whether the rules that are live are the ones on the shelf. */
function isCurrent(
  node: string,
  live: readonly { version: { id: string; edits: unknown }; condition: unknown }[],
  versions: Awaited<ReturnType<typeof listVersions>>,
): boolean {
  const shelf = versions
    .filter((version) => version.node_id === node && version.manner === 'rule')
    .map(({ id, edits, condition }) => [id, edits, condition])
  return JSON.stringify(shelf) === JSON.stringify(live.map(({ version, condition }) => [version.id, version.edits, condition]))
}
