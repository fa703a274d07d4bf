import { Fragment, memo, type ReactNode } from 'react'
import { parentOf, type ContentDocument, type PropValue } from '@/core/document'
import type { DocumentId, NodeId } from '@/core/ids'
import { propsOf } from './component-type'
import { rankAt } from './heading/rank'
import type { Mark, SiteView } from './look'
import { looks } from './looks'
import { componentTypes } from './types'

/** What surrounds the drawing of components: the site, and for the compiler what varies where. */
export interface Rendering {
  readonly site: SiteView
  /** The `data-e` of a node, if it is a varying part. */
  readonly exposure?: (node: NodeId) => string | undefined
  /** The styles that are for components of a type. */
  readonly styled?: (type: string) => string | undefined
  /** The documents that are being drawn around this place: none of them is drawn inside itself. */
  readonly within?: readonly DocumentId[]
  /** Drawn instead of a part where the compiler cuts the page; `draw` draws what would have stood here. */
  readonly instead?: (document: ContentDocument, node: NodeId, draw: Redraw) => ReactNode | undefined
}

/** Draws a place again in other surroundings, with its document as it is there. */
export type Redraw = (document: ContentDocument, rendering: Rendering) => ReactNode

export interface PartProps {
  readonly document: ContentDocument
  readonly node: NodeId
  readonly rendering: Rendering
}

/** A component with all that is in it. An unknown type shows nothing rather than failing the page. */
export function Part({ document, node: id, rendering }: PartProps): ReactNode {
  const node = document.nodes[id]
  const type = componentTypes.get(node?.type ?? '')
  const shape = looks.get(node?.type ?? '')
  if (node === undefined || type === undefined || shape == null) return null
  return shape({
    props: propsOf(type, node),
    mark: markOf(id, node.type, rendering, node.props.marker),
    node: id,
    document: document.id,
    site: rendering.site,
    children: node.children.map((child) => <Place key={child} document={document} node={child} rendering={rendering} />),
    rank: () => rankAt(document, id),
    formAddress: () => rendering.site.formAddress(document, id),
    place: () => {
      const parent = parentOf(document, id)
      return { parent, first: parent !== null && document.nodes[parent]?.children[0] === id }
    },
    embed: (other) =>
      other.id === document.id || rendering.within?.includes(other.id) ? null : (
        <Place document={other} node={other.root} rendering={inside(rendering, document.id)} />
      ),
    listed: (page, card) => {
      const draw: Redraw = (now, { exposure }) => card(now, markOf(now.root, 'listed', { exposure }))
      return <Fragment key={page.id}>{rendering.instead?.(page, page.root, draw) ?? draw(page, rendering)}</Fragment>
    },
  })
}

/** The same surroundings within one more document; the same object for the same, so that what did not change is not drawn again. */
const insides = new WeakMap<Rendering, Map<DocumentId, Rendering>>()
function inside(rendering: Rendering, document: DocumentId): Rendering {
  const known = insides.get(rendering) ?? new Map<DocumentId, Rendering>()
  insides.set(rendering, known)
  const made = known.get(document) ?? { ...rendering, within: [...(rendering.within ?? []), document] }
  known.set(document, made)
  return made
}

/** A part in its place. Drawn again only where it or something in it changed: typing in one part leaves the others alone. */
const Place = memo(function Place({ document, node, rendering }: PartProps): ReactNode {
  const draw: Redraw = (now, around) => (
    <Part
      document={now}
      node={node}
      rendering={rendering.within === undefined ? around : { ...around, within: rendering.within }}
    />
  )
  return rendering.instead?.(document, node, draw) ?? <Part document={document} node={node} rendering={rendering} />
}, looksTheSame)

function looksTheSame(before: PartProps, after: PartProps): boolean {
  return (
    before.node === after.node &&
    before.rendering === after.rendering &&
    before.document.id === after.document.id &&
    isSamePart(before.document, after.document, after.node)
  )
}

/** Documents are immutable, so a node that is the same value is the same; a tab also looks at what stands beside it. */
function isSamePart(before: ContentDocument, after: ContentDocument, id: NodeId): boolean {
  const [was, is] = [before.nodes[id], after.nodes[id]]
  if (was === undefined || was !== is || is.type === 'tab') return false
  return is.children.every((child) => isSamePart(before, after, child))
}

function markOf(
  node: NodeId,
  type: string,
  { exposure, styled }: Pick<Rendering, 'exposure' | 'styled'>,
  marker?: PropValue,
): Mark {
  const shownAs = exposure?.(node)
  const styles = styled?.(type)
  return {
    'data-n': node,
    ...(shownAs === undefined ? {} : { 'data-e': shownAs }),
    ...(styles === undefined ? {} : { 'data-s': styles }),
    ...(typeof marker !== 'string' || marker === '' ? {} : { 'data-m': marker }),
  }
}
