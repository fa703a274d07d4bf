import type { Knex } from 'knex'
import * as z from 'zod'
import type { Output, PlaceLine } from '@/contract/contract'
import {
  compare,
  describe,
  documentSchema,
  nodeAt,
  withFreshIds,
  subtree,
  type ContentDocument,
  type ContentNode,
  type DocumentKind,
} from '@/core/document'
import { isAsPublished, partsOf } from '@/core/experiment'
import { documentIdSchema, nodeIdSchema, type DocumentId, type NodeId } from '@/core/ids'
import { pictureNames } from '@/components/pictures'
import { titleOf } from '@/components/references'
import { codesBroughtBy, codesIn } from '@/components/scripts'
import { rulesOf } from '@/components/style/reach'
import { scopeStyle } from '@/components/style/scope'
import { rootTypes, vocabularyOf } from '@/components/types'
import { inTransaction, type Database } from '../database/connect'
import { Failure } from '../failure'
import { newId } from '../new-id'
import { placesOf, type PlaceRow } from '../stores/document-index'
import {
  createDocument,
  editDraft,
  holdDocument,
  listDocumentsOfKind,
  listRevisions,
  publishBody,
  readDocument,
  readPublished,
  readRevision,
  readSurroundings,
  refuseBinned,
  saveDraft,
  stateOf,
} from '../stores/documents'
import { goLive } from '../database/go-live'
import { makeRelease } from '../stores/releases'
import { allowScripts } from '../stores/scripts'
import { readPlans } from '../stores/gains'
import { readSettings } from '../stores/settings'
import { testId, testsTouching } from '../stores/tests'
import { listVersions, rulesOn, livePersonalizations, versionView } from '../stores/versions'
import type { Area, Handlers } from './handler'
import { bodyFor, carryOut, restingOn, restingView } from './resting'

export const documentActions: Area<'document'> & Handlers<'template.list'> = {
  'document.open': ({ db }, { document }) => openDocument(db, document),

  'document.edit': ({ db, account }, { document, base, edits, save }) =>
    inTransaction(db, async (trx) => {
      // Held before anything is read: a read first would not see what was saved while waiting.
      const { draft } = await holdDocument(trx, document)
      await allowScripts(trx, account, without(codesBroughtBy(edits), codesIn(draft)))
      return editDraft(trx, document, { base, edits, save: save ?? null }, account.name)
    }),

  'document.effects': async ({ db }, { document }) => {
    const { draft } = await readDocument(db, document)
    const published = (await readPublished(db, [document])).get(document)
    return { tests: (await restingOn(db, published, draft)).map(restingView) }
  },

  'document.publish': ({ db, account }, { document, lock, note, tests: chosen }) =>
    goLive(db, async (trx) => {
      const row = await holdDocument(trx, document)
      if (row.lock_version !== lock)
        throw new Failure(
          'conflict',
          `${row.updated_by} has changed the draft since you looked at it. Look at it again before you publish.`,
        )
      if (row.kind === 'template') throw new Failure('input', 'A template is not published; pages are made from it.')
      if (row.kind === 'letter') throw new Failure('input', 'A newsletter is not published; it is sent.')
      refuseFaultyStyle(row.draft)
      const published = (await readPublished(trx, [document])).get(document)
      const resting = await restingOn(trx, published, row.draft)
      const body = await bodyFor(resting, chosen, published, row.draft)
      // What was left as it is goes on being a change of the draft.
      const whole = JSON.stringify(body) === JSON.stringify(row.draft)
      const revision = await publishBody(trx, document, body, { note, author: account.name, lock: whole ? lock : null })
      await carryOut(trx, resting, chosen, account.name)
      return { revision, release: await makeRelease(trx, `published “${row.title}”`, account.name) }
    }),

  'document.restore': ({ db, account }, { document, revision, lock }) =>
    inTransaction(db, async (trx) => {
      const row = await holdDocument(trx, document)
      if (row.lock_version !== lock)
        throw new Failure(
          'conflict',
          `${row.updated_by} has changed the draft since you looked at it. Look at it again before you restore.`,
        )
      const body = await readRevision(trx, document, revision)
      const edits = compare(row.draft, body)
      await allowScripts(trx, account, without(codesIn(body), codesIn(row.draft)))
      return { lock: edits.length === 0 ? lock : await saveDraft(trx, row, body, edits, account.name) }
    }),

  'document.compare': async ({ db }, { document, from, to }) => {
    const before = await readRevision(db, document, from)
    const after = to === null ? (await readDocument(db, document)).draft : await readRevision(db, document, to)
    const words = vocabularyOf(await readSurroundings(db), (await readSettings(db)).identity)
    return { words: compare(before, after).map((edit) => describe(before, edit, words)), before, after }
  },

  'document.create': ({ db, account }, { kind, title, path, from }) =>
    inTransaction(db, async (trx) => {
      const id = documentIdSchema.parse(newId())
      const source = from === null ? null : (await readDocument(trx, from)).draft
      if (source !== null && !isModelFor(kind, source.kind))
        throw new Failure('input', `“${titleOf(source)}” cannot be the beginning of this. Choose another one.`)
      if (kind === 'page' && (await trx('documents').where({ path }).first('id')) !== undefined)
        throw new Failure('input', `Another page already has the address ${path}. Choose another one.`)
      if (source !== null) await allowScripts(trx, account, codesIn(source))
      const made = source === null ? await newDocument(trx, kind, id) : copyOf(source, kind, id)
      const props = { title, ...(kind === 'page' ? { path: path ?? `/${id}` } : {}) }
      await createDocument(trx, withRootProps(made, props), await nextPosition(trx), account.name)
      return { id }
    }),

  'document.saveAs': ({ db, account }, { document, kind, node, title }) =>
    inTransaction(db, async (trx) => {
      const { draft } = await readDocument(trx, document)
      const id = documentIdSchema.parse(newId())
      await allowScripts(trx, account, codesIn(draft))
      if (kind === 'template') {
        if (draft.kind !== 'page') throw new Failure('input', 'Only a page can become a template.')
        await createDocument(trx, withRootProps(copyOf(draft, kind, id), { title }), await nextPosition(trx), account.name)
        return { id }
      }
      if (node === null || draft.nodes[node] === undefined || node === draft.root)
        throw new Failure('input', 'Select the part that is to be shared first.')
      await createDocument(trx, sharedFrom(draft, node, id, title), await nextPosition(trx), account.name)
      return { id }
    }),

  'template.list': async ({ db }) => ({ templates: await listDocumentsOfKind(db, 'template') }),
}

/** What was not there before. */
export function without(codes: readonly string[], before: readonly string[]): string[] {
  return codes.filter((code) => !before.includes(code))
}

export function refuseFaultyStyle(document: ContentDocument): void {
  if (document.kind !== 'style') return
  const [fault] = scopeStyle(rulesOf(document), document.id).faults
  if (fault !== undefined)
    throw new Failure('blocked', `“${titleOf(document)}”, line ${fault.line}: ${fault.message} Mend it before it goes live.`)
}

function isModelFor(kind: DocumentKind, source: DocumentKind): boolean {
  return kind === source || (kind === 'page' && source === 'template')
}

/** A copy under ids of its own. */
export function copyOf(source: ContentDocument, kind: DocumentKind, id: DocumentId): ContentDocument {
  const { root, nodes } = withFreshIds(source, freshNode)
  return { id, kind, root, nodes }
}

function freshNode(): NodeId {
  return nodeIdSchema.parse(newId())
}

function withRootProps(document: ContentDocument, props: Record<string, string>): ContentDocument {
  const root = nodeAt(document, document.root)
  const fresh = { ...root, props: { ...root.props, ...props, ...(document.kind === 'page' ? { route: '' } : {}) } }
  return { ...document, nodes: { ...document.nodes, [document.root]: fresh } }
}

/** A document with nothing in it; a page gets the header and the foot that the front page has. */
export async function newDocument(trx: Knex, kind: DocumentKind, id: DocumentId): Promise<ContentDocument> {
  const root = freshNode()
  if (kind !== 'page' && kind !== 'template')
    return documentSchema.parse({ id, kind, root, nodes: { [root]: { type: rootTypes[kind], props: {}, children: [] } } })
  const front: unknown = await trx('documents').where({ kind: 'page', path: '/' }).first('id')
  const menus: ContentNode[] = []
  if (front !== undefined) {
    const { draft } = await readDocument(trx, documentIdSchema.parse((front as { id: unknown }).id))
    menus.push(
      ...nodeAt(draft, draft.root)
        .children.map((child) => nodeAt(draft, child))
        .filter(({ type }) => type === 'menu'),
    )
  }
  const [main, section] = [freshNode(), freshNode()]
  const head = menus.filter(({ props }) => props.place !== 'footer').map((node) => [freshNode(), node] as const)
  const foot = menus.filter(({ props }) => props.place === 'footer').map((node) => [freshNode(), node] as const)
  const nodes: Record<string, ContentNode> = {
    [root]: { type: 'page', props: {}, children: [...head.map(([name]) => name), main, ...foot.map(([name]) => name)] },
    [main]: { type: 'mainPart', props: {}, children: [section] },
    [section]: { type: 'section', props: {}, children: [] },
    ...Object.fromEntries([...head, ...foot]),
  }
  return { id, kind, root, nodes }
}

/** A part of a page as a shared component: what a section holds, or the part itself. */
function sharedFrom(draft: ContentDocument, node: NodeId, id: DocumentId, title: string): ContentDocument {
  const copy = withFreshIds(subtree(draft, node), freshNode)
  const root = freshNode()
  const top = nodeAt(copy, copy.root)
  const isFrame = top.type === 'section' || top.type === 'column'
  const { [copy.root]: frame, ...inside } = copy.nodes
  const children = isFrame ? top.children : [copy.root]
  const nodes = isFrame || frame === undefined ? inside : { ...inside, [copy.root]: frame }
  return { id, kind: 'shared', root, nodes: { ...nodes, [root]: { type: 'sharedPart', props: { title }, children } } }
}

export async function nextPosition(trx: Knex): Promise<number> {
  const row: unknown = await trx('documents').max({ last: 'position' }).first()
  return (z.object({ last: z.number().nullable() }).parse(row).last ?? 0) + 1
}

async function openDocument(db: Database, id: DocumentId): Promise<Output<'document.open'>> {
  const row = await readDocument(db, id)
  refuseBinned(row)
  const [published, surroundings, versions, tests, revisions, live, shownOn, linkedFrom, settings] = await Promise.all([
    readPublished(db, [id]),
    readSurroundings(db),
    listVersions(db, id),
    testsTouching(db, [id]),
    listRevisions(db, id, 20),
    livePersonalizations(db, id),
    placesOf(db, [id], 'shows'),
    placesOf(db, [id], 'links'),
    readSettings(db),
  ])
  const planFor = await readPlans(
    db,
    live.map((one) => one.id),
  )
  return {
    document: row.draft,
    lock: row.lock_version,
    state: stateOf(row),
    published: published.get(id) ?? null,
    publishedRevision: row.published_revision,
    surroundings: surroundings.filter((one) => one.id !== id),
    pictures: [...pictureNames],
    places: shownOn.filter(({ kind }) => kind !== 'template').map(placeLine),
    linkedFrom: linkedFrom.filter(({ kind }) => kind !== 'template').map(placeLine),
    scripts: settings.scripts,
    versions: versions.map(versionView),
    tests: tests
      .filter(({ status }) => status !== 'settled')
      .map(({ number, name, status, design }) => ({
        id: testId(number),
        name,
        status,
        node: partsOf(design).find((part) => part.document === id)?.node ?? design.node,
        parts: partsOf(design),
        arms: design.arms,
      })),
    live: live.map((one) => ({
      node: one.node,
      versions: one.rules.map(({ version }) => version.id),
      current: isAsPublished(one, { rules: rulesOn(versions, one.node), plan: planFor(one.id) }),
    })),
    revisions: revisions.map(({ at, ...rest }) => ({ ...rest, at: at.toISOString() })),
    editedBy: row.updated_by,
    editedAt: row.updated_at.toISOString(),
  }
}

export function placeLine({ id, kind, title, path }: PlaceRow): PlaceLine {
  return { id, kind, title, path: path ?? '' }
}
