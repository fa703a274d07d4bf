import type { Knex } from 'knex'
import {
  compare,
  nodeAt,
  subtree,
  walk,
  withFreshIds,
  type ContentDocument,
  type ContentNode,
  type Subtree,
} from '@/core/document'
import { nodeIdSchema } from '@/core/ids'
import { freeName, isOpenToChange } from '@/core/experiment'
import { EVERYBODY } from '@/core/decide'
import { codesBroughtBy } from '@/components/scripts'
import { inTransaction } from '../database/connect'
import { Failure } from '../failure'
import { newId } from '../new-id'
import { readDocument } from '../stores/documents'
import { readTest, testId } from '../stores/tests'
import { allowScripts } from '../stores/scripts'
import { checkVersion, holdVersion, listVersions, versionView, type VersionRow } from '../stores/versions'
import { without } from './document-actions'
import type { Area } from './handler'

const MOST_VERSIONS = 30

export const versionActions: Area<'version'> = {
  'version.create': ({ db, account }, { id: wanted, document, node, manner, name, from }) =>
    inTransaction(db, async (trx) => {
      const page = await readDocument(trx, document)
      const before: unknown = wanted === undefined ? undefined : await trx('versions').where({ id: wanted }).first('document_id')
      // Asked twice, as the first answer was lost: it is there already.
      if (wanted !== undefined && before !== undefined) {
        const made = await holdVersion(trx, wanted)
        if (made.document_id === document && made.node_id === node) return versionView(made)
        throw new Failure('conflict', 'Another version already has this id. Make the version again.')
      }
      if (page.kind === 'letter')
        throw new Failure('input', 'A newsletter has no versions of its own: make a variant of a call to action in it.')
      if (page.draft.nodes[node] === undefined)
        throw new Failure('input', 'That component is no longer on the page. Select another one.')
      const beside = (await listVersions(trx, document)).filter((version) => version.node_id === node)
      if (beside.length >= MOST_VERSIONS)
        throw new Failure('input', `A component can have ${MOST_VERSIONS} versions. Remove one first.`)
      const source = from === null ? null : await holdVersion(trx, from)
      if (source !== null) await allowScripts(trx, account, codesBroughtBy(source.edits))
      const id = wanted ?? newId()
      await trx('versions').insert({
        id,
        document_id: document,
        node_id: node,
        manner,
        name:
          name ??
          freeName(
            beside.map((one) => one.name),
            source === null ? (manner === 'chance' ? 'Variant' : 'Version') : `${source.name} copy`,
          ),
        edits: JSON.stringify(source?.edits ?? []),
        condition: manner === 'rule' ? JSON.stringify(source?.condition ?? EVERYBODY) : null,
        position: beside.length + 1,
        updated_at: new Date(),
        updated_by: account.name,
      })
      return versionView(await holdVersion(trx, id as VersionRow['id']))
    }),

  'version.save': ({ db, account }, { id, lock, name, edits, condition }) =>
    inTransaction(db, async (trx) => {
      const row = await holdVersion(trx, id)
      await refuseLocked(trx, row)
      const page = await readDocument(trx, row.document_id)
      const kept = edits === undefined ? undefined : await checkVersion(trx, page.draft, edits)
      // Sent again, as its answer was lost: it is there already.
      const wanted = [name ?? row.name, kept ?? row.edits, condition ?? row.condition]
      if (row.lock_version === lock + 1 && JSON.stringify([row.name, row.edits, row.condition]) === JSON.stringify(wanted))
        return versionView(row)
      if (row.lock_version !== lock)
        throw new Failure(
          'conflict',
          `Somebody else has changed ‘${row.name}’ since you opened it. Open the page again; your last change is not saved over theirs.`,
        )
      if (kept !== undefined) await allowScripts(trx, account, without(codesBroughtBy(kept), codesBroughtBy(row.edits)))
      await trx('versions')
        .where({ id })
        .update({
          ...(name === undefined ? {} : { name }),
          ...(kept === undefined ? {} : { edits: JSON.stringify(kept) }),
          ...(condition === undefined ? {} : { condition: JSON.stringify(condition) }),
          lock_version: lock + 1,
          updated_at: new Date(),
          updated_by: account.name,
        })
      return versionView(await holdVersion(trx, id))
    }),

  'version.fill': ({ db, account }, { id, lock, from }) =>
    inTransaction(db, async (trx) => {
      const row = await holdVersion(trx, id)
      await refuseLocked(trx, row)
      if (row.lock_version !== lock)
        throw new Failure('conflict', `Somebody else has changed ‘${row.name}’ since you opened it. Open the page again.`)
      const page = await readDocument(trx, row.document_id)
      if (page.kind !== 'page' || row.node_id !== page.draft.root)
        throw new Failure('input', 'Only a version of a whole page can be made from another page. Select the whole page first.')
      const other = from === null ? null : (await readDocument(trx, from)).draft
      const edits = await checkVersion(trx, page.draft, compare(page.draft, filled(page.draft, other)))
      await allowScripts(trx, account, without(codesBroughtBy(edits), codesBroughtBy(row.edits)))
      await trx('versions')
        .where({ id })
        .update({
          edits: JSON.stringify(edits),
          lock_version: lock + 1,
          updated_at: new Date(),
          updated_by: account.name,
        })
      return versionView(await holdVersion(trx, id))
    }),

  'version.remove': ({ db }, { id }) =>
    inTransaction(db, async (trx) => {
      const row = await holdVersion(trx, id)
      await refuseLocked(trx, row)
      if (row.test_number !== null) throw new Failure('input', `‘${row.name}’ belongs to a test. Leave it out there first.`)
      await trx('versions').where({ id }).delete()
      return {}
    }),

  'version.order': ({ db }, { document, node, versions }) =>
    inTransaction(db, async (trx) => {
      const beside = (await listVersions(trx, document)).filter(
        (version) => version.node_id === node && version.manner === 'rule',
      )
      const known = new Set<string>(beside.map(({ id }) => id))
      if (versions.length !== known.size || !versions.every((id) => known.has(id)))
        throw new Failure('conflict', 'The versions of this component have changed meanwhile. Look again, then order them.')
      for (const [index, id] of versions.entries())
        await trx('versions')
          .where({ id })
          .update({ position: index + 1 })
      return {}
    }),
}

/** A page with another page's content, or with one empty section. What is said of it, and its address, stay. */
function filled(page: ContentDocument, other: ContentDocument | null): ContentDocument {
  const main = nodeAt(page, page.root).children.find((child) => page.nodes[child]?.type === 'mainPart')
  if (main === undefined) throw new Failure('input', 'This page has no main part that could be filled.')
  const fresh = () => nodeIdSchema.parse(newId())
  const section = fresh()
  const source = other === null ? undefined : walk(other).find((node) => other.nodes[node]?.type === 'mainPart')
  const tree: Subtree =
    other === null || source === undefined
      ? {
          root: main,
          nodes: {
            [main]: { type: 'mainPart', props: {}, children: [section] },
            [section]: { type: 'section', props: {}, children: [] },
          },
        }
      : withFreshIds(subtree(other, source), fresh)
  const nodes: Record<string, ContentNode> = { ...page.nodes }
  for (const gone of walk(page, main)) delete nodes[gone]
  const { [tree.root]: root, ...inside } = tree.nodes
  return { ...page, nodes: { ...nodes, ...inside, [main]: { type: 'mainPart', props: {}, children: root?.children ?? [] } } }
}

async function refuseLocked(trx: Knex.Transaction, row: VersionRow): Promise<void> {
  if (row.settled) throw new Failure('conflict', `‘${row.name}’ belongs to a settled test and stays as it was measured.`)
  if (row.test_number === null) return
  const test = await readTest(trx, testId(row.test_number))
  if (!isOpenToChange(test.status))
    throw new Failure(
      'blocked',
      `“${test.name}” is ${test.status}, and changing ‘${row.name}’ now would mix two results. Pause the test first; going on then opens a new round.`,
    )
}
