import { segmentsIn, withSegments, type Condition } from '@/core/decide'
import type { Knex } from 'knex'
import type { AccountView, ImportReport } from '@/contract/contract'
import { nodeAt, type ContentDocument, type ContentNode } from '@/core/document'
import { combinationId, designSchema, goalsOf, partsOf, type Version } from '@/core/experiment'
import {
  FileFault,
  linkFrom,
  refuseOtherThanText,
  writeOpml,
  type OutlineFile,
  type OutlineItem,
  type OwnPages,
} from '@/core/formats'
import { documentIdSchema, nodeIdSchema, versionIdSchema, type NodeId } from '@/core/ids'
import type { Around } from '@/components/html/building'
import type { ReadPage } from '@/components/html/read'
import { writeHtml } from '@/components/html/write'
import { unfitEdits } from '@/components/exchange/branch'
import { leftOutNow } from '../formats/archive-left-out'
import { exchangeJsonSchema } from '@/components/exchange/schema'
import { writeExchange, type Exchange } from '@/components/exchange/write'
import { titleOf } from '@/components/references'
import { codesBroughtBy, codesIn } from '@/components/scripts'
import { siteView } from '@/components/site-view'
import { libraryOf, withParts } from '@/core/goals'
import { shortened } from '@/core/text'
import { siteOrigin, studioOrigin } from '@/serving/addresses'
import { inTransaction } from '../database/connect'
import { Failure } from '../failure'
import { readApart } from '../formats/apart'
import { newId } from '../new-id'
import { createDocument, readDocument, readSurroundings } from '../stores/documents'
import { createGoal, listGoals, refuseParts } from '../stores/goals'
import { readSettings } from '../stores/settings'
import { indexTest, readTest, testId } from '../stores/tests'
import { allowScripts } from '../stores/scripts'
import { segmentsNow, takeSegments } from '../stores/segments'
import { checkVersion, listVersions, rulesOn, versionsOfTest } from '../stores/versions'
import { copyOf, newDocument, nextPosition } from './document-actions'
import type { Area, Context } from './handler'
import { asVersion } from './test-facts'

export const formatActions: Area<'format'> = {
  'format.document': async ({ db }, { document, as }) => {
    const { draft } = await readDocument(db, document)
    const surroundings = await readSurroundings(db)
    const { identity } = await readSettings(db)
    const site = siteView([...surroundings.filter(({ id }) => id !== draft.id), draft], { identity })
    switch (as) {
      case 'json':
        return file(draft.id, 'json', 'application/json', writeExchange({ kind: 'document', document: draft }))
      case 'html':
        if (draft.kind !== 'page') throw new Failure('input', 'Only a page can be written as HTML.')
        return file(draft.id, 'html', 'text/html', writeHtml(draft, site, siteOrigin()))
      case 'opml': {
        if (draft.kind !== 'menu') throw new Failure('input', 'Only a menu can be written as an outline.')
        // Wherever the file is read, its addresses lead here.
        const outward = siteView([...surroundings, draft], { base: siteOrigin() })
        const items = (of: NodeId): OutlineItem[] =>
          nodeAt(draft, of).children.map((id) => {
            const { words = '', link = '' } = nodeAt(draft, id).props
            return { text: String(words), url: link === '' ? '' : outward.addressOf(String(link)), items: items(id) }
          })
        return file(draft.id, 'opml', 'text/x-opml', writeOpml({ title: titleOf(draft), items: items(draft.root) }))
      }
      default:
        return as satisfies never
    }
  },

  'format.test': async ({ db }, { test }) => {
    const row = await readTest(db, test)
    const parts = partsOf(row.design)
    const versions = (await versionsOfTest(db, row.number)).map((version) => ({
      ...asVersion(version),
      edits: [...version.edits],
      part: Math.max(
        0,
        parts.findIndex(({ document, node }) => document === version.document_id && node === version.node_id),
      ),
    }))
    const goals = withParts(goalsOf(row.design), libraryOf(await listGoals(db)))
    return file(test, 'json', 'application/json', writeExchange({ kind: 'test', design: row.design, versions, goals }))
  },

  'format.segments': async ({ db }) =>
    file('segments', 'json', 'application/json', writeExchange({ kind: 'segments', segments: await segmentsNow(db) })),

  'format.rules': async ({ db }, { document, node }) => {
    const rules = rulesOn(await listVersions(db, document), node)
    if (rules.length === 0) throw new Failure('input', 'This part has no rules that could be written down.')
    const named = new Set(rules.flatMap(({ condition }) => segmentsIn(condition)))
    const content = {
      ...{ kind: 'rules' as const, document, node },
      segments: (await segmentsNow(db)).filter(({ id }) => named.has(id)),
      rules: rules.map(({ version, condition }) => ({ ...version, condition })),
    }
    return file(`rules-of-${node}`, 'json', 'application/json', writeExchange(content))
  },

  'format.schema': () => Promise.resolve({ text: exchangeJsonSchema(`${studioOrigin()}/schema.json`) }),

  'format.leftOut': async ({ db }) => ({ leftOut: await leftOutNow(db) }),

  'format.take': async (context, { as, text, title }) => {
    const { db } = context
    try {
      refuseOtherThanText(Buffer.from(text))
      // Read before anything is begun: reading can take seconds, and a transaction must not wait for it.
      switch (as) {
        case 'html': {
          const page = await readApart({ kind: 'html', text, around: await aroundOf(db) })
          return await inTransaction(db, (trx) => takeHtml(trx, context, page, title))
        }
        case 'opml': {
          const outline = await readApart({ kind: 'opml', text })
          return await inTransaction(db, (trx) => takeOpml(trx, context, outline, title))
        }
        case 'json': {
          const { content, notes } = await readApart({ kind: 'exchange', text })
          const report = await inTransaction(db, (trx) => takeExchange(trx, context, content))
          return { ...report, notes: [...notes, ...report.notes] }
        }
        default:
          return as satisfies never
      }
    } catch (reason) {
      if (reason instanceof FileFault) throw new Failure('input', `${reason.message} Nothing was taken over.`)
      throw reason
    }
  },
}

function file(name: string, ending: string, type: string, text: string) {
  return { name: `${name}.${ending}`, type, text }
}

const fresh = () => nodeIdSchema.parse(newId())

async function takeHtml(trx: Knex.Transaction, { account }: Context, page: ReadPage, title: string): Promise<ImportReport> {
  const id = documentIdSchema.parse(newId())
  const blank = await newDocument(trx, 'page', id)
  const main = nodeAt(blank, blank.root).children.find((child) => blank.nodes[child]?.type === 'mainPart')
  if (main === undefined) throw new Error('a new page has no main part')
  const name = title || page.title || 'Page from a file'
  const nodes: Record<string, ContentNode> = {
    ...Object.fromEntries(Object.entries(blank.nodes).filter(([, { type }]) => type !== 'section')),
    ...page.nodes,
    [main]: { ...nodeAt(blank, main), children: page.sections },
    [blank.root]: {
      ...nodeAt(blank, blank.root),
      props: { title: shortened(name, 300), description: shortened(page.description, 2000), path: `/${id}`, pageType: 'Page' },
    },
  }
  const document: ContentDocument = { ...blank, nodes }
  await createDocument(trx, document, await nextPosition(trx), account.name)
  return { made: [{ id, kind: 'page', title: name, path: `/${id}` }], notes: [...page.notes] }
}

async function takeOpml(trx: Knex.Transaction, { account }: Context, outline: OutlineFile, title: string): Promise<ImportReport> {
  const around = await ownPages(trx)
  const notes: string[] = []
  const nodes: Record<string, ContentNode> = {}
  const put = (item: OutlineItem): NodeId => {
    const id = fresh()
    nodes[id] = {
      type: 'menuItem',
      props: { words: item.text, link: entryLink(item, around, notes) },
      children: item.items.map(put),
    }
    return id
  }
  const [id, root] = [documentIdSchema.parse(newId()), fresh()]
  const name = title || outline.title || 'Menu from a file'
  nodes[root] = { type: 'menuTree', props: { title: name }, children: outline.items.map(put) }
  await createDocument(trx, { id, kind: 'menu', root, nodes }, await nextPosition(trx), account.name)
  return { made: [{ id, kind: 'menu', title: name, path: '' }], notes }
}

/** Where an entry leads here; what leads nowhere is said. */
function entryLink({ text: words, url }: OutlineItem, around: OwnPages, notes: string[]): string {
  const found = linkFrom(url, around)
  if ('link' in found) return found.link
  notes.push(
    found.fault === 'noPage'
      ? `“${words}” leads to “${url}”, where this site has no page; its link was left open.`
      : `“${words}” leads to “${shortened(url, 80)}”, which is no address; its link was left open.`,
  )
  return ''
}

async function takeExchange(trx: Knex.Transaction, { account }: Context, content: Exchange): Promise<ImportReport> {
  switch (content.kind) {
    case 'document': {
      const { document } = content
      await allowScripts(trx, account, codesIn(document))
      const taken = (await trx('documents').where({ id: document.id }).first('id')) !== undefined
      const id = taken ? documentIdSchema.parse(newId()) : document.id
      const copy = taken ? copyOf(document, document.kind, id) : document
      const free = await withFreePath(trx, copy)
      await createDocument(trx, free.document, await nextPosition(trx), account.name)
      const place = { id, kind: copy.kind, title: titleOf(copy), path: free.path }
      return {
        made: [place],
        notes:
          free.path === String(nodeAt(copy, copy.root).props.path ?? '')
            ? []
            : [`Its address was taken; it stands at ${free.path} now.`],
      }
    }
    case 'variant': {
      const { draft, title, path } = await readDocument(trx, content.document)
      if (draft.nodes[content.node] === undefined)
        throw new FileFault(`“${title}” has no component “${content.node}”, so its variant has no place here.`)
      await allowScripts(trx, account, codesBroughtBy(content.variant.edits))
      await insertVersion(trx, account.name, content.document, content.node, content.variant, null, draft)
      return {
        made: [{ id: content.document, kind: draft.kind, title, path: path ?? '' }],
        notes: unfitNotes(draft, content.variant),
      }
    }
    case 'test':
      return takeTest(trx, account, content)
    case 'segments': {
      await takeSegments(trx, content.segments, { by: account.name })
      return { made: [], notes: content.segments.map(({ name }) => `The segment “${name}” is under Personalize.`) }
    }
    case 'rules':
      return takeRules(trx, account, content)
    default:
      return content satisfies never
  }
}

/** Rules from a file, below those that the part has: nobody is shown them before they are published. */
async function takeRules(
  trx: Knex.Transaction,
  account: AccountView,
  { document, node, segments, rules }: Extract<Exchange, { kind: 'rules' }>,
): Promise<ImportReport> {
  const { draft, title, path } = await readDocument(trx, document)
  if (draft.nodes[node] === undefined)
    throw new FileFault(`“${title}” has no component “${node}”, so its rules have no place here.`)
  const names = await takeSegments(trx, segments, { by: account.name })
  for (const rule of rules) {
    await allowScripts(trx, account, codesBroughtBy(rule.edits))
    await insertVersion(trx, account.name, document, node, rule, null, draft, withSegments(rule.condition, names))
  }
  return {
    made: [{ id: document, kind: draft.kind, title, path: path ?? '' }],
    notes: rules.flatMap((rule) => unfitNotes(draft, rule)),
  }
}

/** A test from a file: its variants and what it counts are made anew, so that it stands beside one it came from. */
async function takeTest(
  trx: Knex.Transaction,
  account: AccountView,
  content: Extract<Exchange, { kind: 'test' }>,
): Promise<ImportReport> {
  const author = account.name
  const parts = partsOf(content.design)
  const homes = await Promise.all(parts.map(({ document }) => readDocument(trx, document)))
  parts.forEach(({ node }, index) => {
    if (homes[index]?.draft.nodes[node] === undefined)
      throw new FileFault(`design › part ${index + 1}: “${homes[index]?.title ?? ''}” has no component “${node}” here.`)
  })
  const known = await listGoals(trx)
  const fresh = content.goals.filter((goal) => !known.some(({ id }) => id === goal.id))
  await refuseParts(trx, fresh)
  for (const goal of fresh) await createGoal(trx, goal, author)
  const names = new Map(content.versions.map(({ id }) => [id, versionIdSchema.parse(newId())]))
  const renamed = (id: string) => names.get(versionIdSchema.parse(id)) ?? versionIdSchema.parse(id)
  const single = parts.length === 1
  const arms = content.design.arms.map((arm) => {
    const levels = arm.levels.map(renamed)
    return { ...arm, levels, version: single ? renamed(arm.version) : combinationId(levels) }
  })
  const design = designSchema.parse({ ...content.design, arms })
  const [number] = await trx('tests').insert({
    document_id: design.document,
    status: 'draft',
    name: design.name,
    design: JSON.stringify(design),
    created_at: new Date(),
    created_by: author,
  })
  if (number === undefined) throw new Error('the database gave no number for the new test')
  const notes: string[] = []
  for (const version of content.versions) {
    const part = parts[version.part]
    const home = homes[version.part]
    if (part === undefined || home === undefined)
      throw new FileFault(`versions › “${version.name}”: there is no part ${version.part}.`)
    await allowScripts(trx, account, codesBroughtBy(version.edits))
    await insertVersion(trx, author, part.document, part.node, { ...version, id: renamed(version.id) }, number, home.draft)
    notes.push(...unfitNotes(home.draft, version))
  }
  await indexTest(trx, number, design)
  return { made: [{ id: design.document, kind: 'page', title: design.name, path: `/tests/${testId(number)}` }], notes }
}

/** What a version changes that is not there. */
function unfitNotes(draft: ContentDocument, { name, edits }: Version): string[] {
  return unfitEdits(draft, edits).map(
    ({ place, node }) =>
      `‘${name}’, edit ${place}: it is about a part “${node}” that is not there. It is kept, and shows nothing.`,
  )
}

async function insertVersion(
  trx: Knex.Transaction,
  author: string,
  document: ContentDocument['id'],
  node: NodeId,
  version: Version,
  test: number | null,
  draft: ContentDocument,
  condition: Condition | null = null,
): Promise<void> {
  const taken = (await trx('versions').where({ id: version.id }).first('id')) !== undefined
  const beside: unknown = await trx('versions').where({ document_id: document, node_id: node }).max({ last: 'position' }).first()
  await trx('versions').insert({
    id: taken ? newId() : version.id,
    document_id: document,
    node_id: node,
    manner: condition === null ? 'chance' : 'rule',
    test_number: test,
    name: version.name,
    edits: JSON.stringify(await checkVersion(trx, draft, version.edits)),
    condition: condition === null ? null : JSON.stringify(condition),
    position: Number((beside as { last: unknown } | undefined)?.last ?? 0) + 1,
    updated_at: new Date(),
    updated_by: author,
  })
}

/** The document, at its own address or, where that is taken, at one made from its id. */
async function withFreePath(
  trx: Knex.Transaction,
  document: ContentDocument,
): Promise<{ document: ContentDocument; path: string }> {
  if (document.kind !== 'page') return { document, path: '' }
  const root = nodeAt(document, document.root)
  const path = String(root.props.path ?? `/${document.id}`)
  if ((await trx('documents').where({ path }).first('id')) === undefined) return { document, path }
  const free = `/${document.id}`
  const nodes = { ...document.nodes, [document.root]: { ...root, props: { ...root.props, path: free } } }
  return { document: { ...document, nodes }, path: free }
}

async function ownPages(trx: Knex): Promise<OwnPages> {
  const rows: { id: string; path: string }[] = await trx('documents')
    .where({ kind: 'page', binned_at: null })
    .select('id', 'path')
  return { origin: siteOrigin(), pages: new Map(rows.map(({ id, path }) => [path, id])) }
}

async function aroundOf(trx: Knex): Promise<Around> {
  const rows: { id: string }[] = await trx('documents')
    .whereIn('kind', ['callToAction', 'shared'])
    .whereNull('binned_at')
    .select('id')
  return { ...(await ownPages(trx)), known: new Set(rows.map(({ id }) => id)) }
}
