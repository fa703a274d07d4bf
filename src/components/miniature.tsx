import type { ReactNode } from 'react'
import type { ContentDocument, Edit } from '@/core/document'
import type { Identity } from '@/core/identity'
import type { NodeId } from '@/core/ids'
import type { SiteView } from './look'
import { Part } from './part'
import { previewOf, type Preview } from './preview'
import { groundOf } from './section/ground'
import { siteView, withDocuments } from './site-view'
import { isFor } from './style/reach'

/** A part that is to be shown alone with some edits, and what stands around it. */
export interface PartAlone {
  readonly document: ContentDocument
  readonly node: NodeId
  readonly edits: readonly Edit[]
  readonly surroundings: readonly ContentDocument[]
  readonly identity: Identity
}

export interface Miniature {
  readonly preview: Preview
  readonly site: SiteView
  readonly styles: readonly ContentDocument[]
  /** The edits take the part away. */
  readonly gone: boolean
}

export function miniatureOf({ document, node, edits, surroundings, identity }: PartAlone): Miniature {
  const preview = previewOf(document, node, edits)
  return {
    preview,
    site: withDocuments(siteView([...surroundings, preview.document], { identity }), preview.changed),
    styles: stylesFor(surroundings, preview),
    gone: document.nodes[node] !== undefined && preview.document.id === document.id && preview.document.nodes[node] === undefined,
  }
}

/** A style that is looked at by itself shows on its sample; a part of a page wears what its page wears. */
function stylesFor(surroundings: readonly ContentDocument[], { document, changed }: Preview): ContentDocument[] {
  const own = changed.filter(({ kind }) => kind === 'style')
  return own.length > 0 ? own : surroundings.filter((one) => one.kind === 'style' && isFor(one, document))
}

/** In CSS pixels of the page. A small part gets a narrow page around it, so that its words can be read. */
export function miniatureWidth(document: ContentDocument, node: NodeId, edits: readonly Edit[]): number {
  if (document.kind === 'menu') return 940
  if (previewOf(document, node, edits).whole) return 1280
  return document.nodes[node]?.type === 'button' ? 360 : 720
}

export function MiniatureBody({
  of: { preview, site, gone },
  rules,
  styled,
}: {
  of: Miniature
  rules: string | null
  styled: (type: string) => string | undefined
}): ReactNode {
  const drawn = (
    <>
      <style>{rules}</style>
      <Part document={preview.document} node={preview.node} rendering={{ site, styled }} />
    </>
  )
  return preview.whole && !gone ? (
    drawn
  ) : (
    <div
      className={`section close ground-${groundOf(preview.document, preview.node)}`}
      style={{ paddingBlock: '24px', minHeight: '100vh' }}
    >
      <div className="measure wide">{gone ? <p>Hidden</p> : drawn}</div>
    </div>
  )
}
