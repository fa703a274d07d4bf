import { createHash, randomUUID } from 'node:crypto'
import { renderToStaticMarkup } from 'react-dom/server'
import { ORIGINAL, type Draw, type Ladder } from '@/core/decide'
import { apply, commonAncestor, nodeAt, reachOf, type ContentDocument, type Edit } from '@/core/document'
import type { DocumentId, NodeId, VersionId } from '@/core/ids'
import type { Release } from '@/core/release'
import { Part } from '../components/part'
import { propsOf } from '../components/component-type'
import type { SiteView } from '../components/look'
import { page as pageType } from '../components/page/fields'
import { groundOf } from '../components/section/ground'
import { siteView } from './site-view'

/** A stretch of a page: fixed bytes, or a place whose bytes depend on what is decided. */
export type Chunk = Buffer | Slot

export interface Slot {
  /** The test or personalization that decides here. */
  readonly key: string
  /** By version; the original under its own name, and under `uncounted` for those who are not part of the test. */
  readonly alternatives: ReadonlyMap<string, readonly Chunk[]>
}

/** Stands around a slot's name while a page is rendered. Drawn anew by each process, so that no content can contain it. */
const CUT = `[${randomUUID()}]`

export const UNCOUNTED = 'uncounted'

export interface CompiledPage {
  readonly document: DocumentId
  readonly pageType: string
  readonly chunks: readonly Chunk[]
  readonly draws: readonly Draw[]
  readonly ladders: readonly Ladder[]
  /** Strong validator of a page on which nothing varies; `null` where something does. */
  readonly etag: string | null
}

export interface CompiledSite {
  readonly pages: ReadonlyMap<string, CompiledPage>
  readonly byId: ReadonlyMap<DocumentId, CompiledPage>
  readonly view: SiteView
  readonly release: Release
}

/** Something that varies on a document, in one shape whether by chance or by rule. */
interface Varying {
  readonly key: string
  readonly anchor: NodeId
  readonly versions: readonly { readonly id: VersionId; readonly edits: readonly Edit[] }[]
  /** “round/” for a test, whose versions report that they were seen; `null` for a personalization. */
  readonly exposure: string | null
}

/** Cuts every published page into chunks and slots. Pure but for the rendering of the looks. */
export function compile(release: Release, assets: { script: string; style: string }): CompiledSite {
  const view = siteView(release.documents)
  const compiled = release.documents
    .filter(({ kind }) => kind === 'page')
    .map((document) => [nodeAt(document, document.root).props.path, compilePage(document, release, view, assets)] as const)
  const pages = new Map(compiled.map(([path, page]) => [String(path), page]))
  return { pages, byId: new Map([...pages.values()].map((page) => [page.document, page])), view, release }
}

function compilePage(
  document: ContentDocument,
  release: Release,
  view: SiteView,
  assets: { script: string; style: string },
): CompiledPage {
  const rounds = release.rounds.filter(({ design }) => design.document === document.id)
  const personalizations = release.personalizations.filter((one) => one.document === document.id)
  // Rules first: they pick the base, and a test's edits apply on it where they fit.
  const varying: Varying[] = [
    ...personalizations.map((one): Varying => {
      const versions = one.rules.map(({ version }) => version)
      return { key: one.id, anchor: anchorOf(document, one.node, versions), versions, exposure: null }
    }),
    ...rounds.map((round): Varying => {
      const versions = round.versions
      return { key: round.test, anchor: anchorOf(document, round.design.node, versions), versions, exposure: `${round.id}/` }
    }),
  ]
  const { title, description, pageType: type } = propsOf(pageType, nodeAt(document, document.root))
  const [head, foot] = shell({ title, description, document: document.id, ...assets })
  const chunks = joined([Buffer.from(head), ...cut(document, document.root, varying, new Map(), view), Buffer.from(foot)])
  const fixed = chunks.length === 1 && Buffer.isBuffer(chunks[0]) ? chunks[0] : null
  return {
    document: document.id,
    pageType: type,
    chunks,
    draws: rounds.map((round) => ({
      test: round.test,
      round: round.id,
      salt: round.salt,
      share: round.design.share,
      arms: round.design.arms,
      paused: round.paused,
    })),
    ladders: personalizations.map(({ id, rules, holdout }) => ({
      id,
      holdout,
      rules: rules.map(({ version, condition }) => ({ version: version.id, condition })),
    })),
    etag: fixed === null ? null : `"${createHash('sha256').update(fixed).digest('base64url').slice(0, 27)}"`,
  }
}

/** The lowest component in which every version's difference shows; the part itself if they are all inside it. */
function anchorOf(document: ContentDocument, part: NodeId, versions: readonly { edits: readonly Edit[] }[]): NodeId {
  return commonAncestor(
    document,
    [part, ...versions.flatMap(({ edits }) => reachOf(document, edits))].filter((node) => document.nodes[node] !== undefined),
  )
}

/**
 * Renders a part and cuts out each anchor below it. What stands at an anchor is rendered once for each version, in the
 * same way, so slots nest, and two that share an anchor become one inside the other.
 */
function cut(
  document: ContentDocument,
  at: NodeId,
  varying: readonly Varying[],
  seen: ReadonlyMap<NodeId, string>,
  view: SiteView,
): Chunk[] {
  const here = varying.find(({ anchor }) => anchor === at)
  if (here !== undefined) return [slot(document, here, varying, seen, view)]

  const anchors = new Set(varying.map(({ anchor }) => anchor))
  const html = renderToStaticMarkup(
    <Part
      document={document}
      node={at}
      site={view}
      exposure={(node) => seen.get(node)}
      standIn={(node) => (anchors.has(node) ? `${CUT}${node}${CUT}` : undefined)}
    />,
  )
  return html.split(CUT).flatMap((piece, index): Chunk[] => {
    if (index % 2 === 0) return piece === '' ? [] : [Buffer.from(piece)]
    return anchors.has(piece as NodeId) ? cut(document, piece as NodeId, varying, seen, view) : []
  })
}

function slot(
  document: ContentDocument,
  here: Varying,
  varying: readonly Varying[],
  seen: ReadonlyMap<NodeId, string>,
  view: SiteView,
): Slot {
  const others = varying.filter((one) => one !== here)
  const shown = (edits: readonly Edit[], version: VersionId | null): readonly Chunk[] => {
    const { document: changed } = apply(document, edits)
    const name = here.exposure === null || version === null ? null : `${here.exposure}${version}`
    const marks = name === null ? seen : new Map(seen).set(here.anchor, [seen.get(here.anchor), name].filter(Boolean).join(' '))
    const gone = changed.nodes[here.anchor] === undefined
    // A part that is hidden still has a place whose being in view can be reported.
    if (gone) return name === null ? [] : [Buffer.from(`<span class="hidden-part" data-e="${name}"></span>`)]
    return joined(cut(changed, here.anchor, others, marks, view))
  }
  const alternatives = new Map<string, readonly Chunk[]>([
    [UNCOUNTED, shown([], null)],
    [ORIGINAL, shown([], ORIGINAL)],
    ...here.versions.map(({ id, edits }) => [id, shown(edits, id)] as const),
  ])
  return { key: here.key, alternatives }
}

/** Neighbouring fixed bytes as one buffer. */
function joined(chunks: readonly Chunk[]): Chunk[] {
  const result: Chunk[] = []
  for (const chunk of chunks) {
    const last = result.at(-1)
    if (Buffer.isBuffer(chunk) && Buffer.isBuffer(last)) result[result.length - 1] = Buffer.concat([last, chunk])
    else result.push(chunk)
  }
  return result
}

const escaped = (text: string) =>
  text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign] ?? sign)

export function shell(about: {
  title: string
  description: string
  document: string
  script: string
  style: string
}): [head: string, foot: string] {
  const head = [
    `<!doctype html><html lang="en" data-d="${escaped(about.document)}"><head><meta charset="utf-8">`,
    `<title>${escaped(about.title)}</title><meta name="description" content="${escaped(about.description)}">`,
    '<meta name="viewport" content="width=device-width,initial-scale=1">',
    `<link rel="stylesheet" href="${about.style}"><link rel="icon" href="/look/media/moth.svg" type="image/svg+xml">`,
    about.script === '' ? '' : `<script src="${about.script}" defer></script>`,
    '</head><body>',
  ]
  return [head.join(''), '</body></html>']
}

/** A part of a document as it looks with these edits, as a page of its own: kept in the notebook. */
export function snapshot(
  documents: readonly ContentDocument[],
  document: ContentDocument,
  part: NodeId,
  edits: readonly Edit[],
  style: string,
): string {
  const changed = apply(document, edits).document
  const node = changed.nodes[part] === undefined ? changed.root : part
  const { title } = propsOf(pageType, nodeAt(document, document.root))
  const [head, foot] = shell({ title, description: '', document: document.id, script: '', style })
  const picture = (
    <div className={`section close ground-${groundOf(changed, node)}`}>
      <div className="measure wide">
        <Part document={changed} node={node} site={siteView(documents)} />
      </div>
    </div>
  )
  return head + renderToStaticMarkup(picture) + foot
}
