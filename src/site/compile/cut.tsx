import { randomUUID } from 'node:crypto'
import { renderToStaticMarkup } from 'react-dom/server'
import { apply, walk, type ContentDocument, type Edit } from '@/core/document'
import type { NodeId } from '@/core/ids'
import type { SiteView } from '@/components/look'
import type { Redraw } from '@/components/part'
import { withDocuments } from '@/components/site-view'
import { joined, UNCOUNTED, type Chunk, type Slot } from './chunk'
import { anchorOf, isSpot, isWhole, type Varying } from './varying'

/** Stands around a slot's number while a page is rendered. Drawn anew by each process, so that no content can contain it. */
const CUT = `[${randomUUID()}]`

/** A page being cut: what varies on it, and the styles that are for its parts. */
export interface Cutting {
  readonly page: ContentDocument
  readonly styled: (type: string) => string | undefined
}

/** What is decided so far on the way into a nest of slots. */
interface State {
  readonly view: SiteView
  readonly varying: readonly Varying[]
  /** “round/version …” by node. */
  readonly seen: ReadonlyMap<NodeId, string>
}

/** A place at which a slot was met: what stands there, and how it is drawn. */
interface Met {
  readonly document: ContentDocument
  readonly node: NodeId
  readonly draw: Redraw
  readonly varying: Varying
}

/**
 * Draws something and cuts it at each place where something varies. What stands there is drawn once for each version, in
 * the same way, so slots nest, and two that share a place become one inside the other.
 */
export function cut(cutting: Cutting, draw: Redraw, document: ContentDocument, state: State): Chunk[] {
  const met: Met[] = []
  const anchors = new Map(state.varying.map((varying) => [varying, anchorOf(cutting.page, varying)]))
  const html = renderToStaticMarkup(
    draw(document, {
      site: state.view,
      exposure: (node) => state.seen.get(node),
      styled: cutting.styled,
      instead: (at, node, again) => {
        const varying = state.varying.find((one) => isSpot(one, cutting.page, anchors.get(one) ?? null, at, node))
        if (varying === undefined) return undefined
        met.push({ document: at, node, draw: again, varying })
        return `${CUT}${met.length - 1}${CUT}`
      },
    }),
  )
  return html.split(CUT).flatMap((piece, index): Chunk[] => {
    if (index % 2 === 0) return piece === '' ? [] : [Buffer.from(piece)]
    const here = met[Number(piece)]
    return here === undefined ? [] : [slot(cutting, here, state)]
  })
}

function slot(cutting: Cutting, here: Met, state: State): Slot {
  const { varying } = here
  const rest = state.varying.filter((one) => one !== varying)
  const shown = (edits: readonly Edit[], name: string | null): readonly Chunk[] => {
    const own = here.document.id === varying.part.document
    const subject = own ? here.document : state.view.document(varying.part.document)
    const changed = subject === null ? null : apply(subject, edits).document
    const view =
      changed === null || (own && here.document.id === cutting.page.id) ? state.view : withDocuments(state.view, [changed])
    const document = own && changed !== null ? changed : here.document
    // A part that is hidden still has a place whose being in view can be reported.
    if (document.nodes[here.node] === undefined)
      return name === null ? [] : [Buffer.from(`<span class="hidden-part" data-e="${name}"></span>`)]
    const marked = markedNode(here, changed)
    const seen =
      name === null ? state.seen : new Map(state.seen).set(marked, [state.seen.get(marked), name].filter(Boolean).join(' '))
    const inner: State = { view, varying: rest, seen }
    // Two that vary at one place: the second inside each version of the first.
    const again = rest.find((one) => isSpot(one, cutting.page, anchorOf(cutting.page, one), document, here.node))
    return again === undefined
      ? joined(cut(cutting, here.draw, document, inner))
      : joined([slot(cutting, { ...here, document, varying: again }, inner)])
  }
  // Where being shown means that the page was shown, its head says so.
  const whole = isWhole(varying, cutting.page, state.view)
  const named = (name: string) => (whole ? null : (varying.marks.get(name) ?? null))
  const alternatives = new Map<string, readonly Chunk[]>([[UNCOUNTED, shown([], null)]])
  for (const name of varying.originals) alternatives.set(name, shown([], named(name)))
  const drawn = new Map<string, readonly Chunk[]>()
  for (const { id, edits } of varying.versions) {
    // Combinations that show the same here differ in their names alone.
    const key = named(id) === null ? JSON.stringify(edits) : id
    const chunks = drawn.get(key) ?? shown(edits, named(id))
    drawn.set(key, chunks)
    alternatives.set(id, chunks)
  }
  return { key: varying.key, alternatives }
}

/** The node whose being in view counts: the varying part itself where it can be told from the place that shows it. */
function markedNode(here: Met, changed: ContentDocument | null): NodeId {
  const { document, node } = here.varying.part
  if (here.document.id === document) return here.node
  return changed?.kind === 'shared' && node !== changed.root && walk(changed).includes(node) ? node : here.node
}
