import { renderToStaticMarkup } from 'react-dom/server'
import type { ContentDocument, Edit } from '@/core/document'
import { escaped } from '@/core/markup'
import type { NodeId } from '@/core/ids'
import { Part } from '@/components/part'
import { previewOf } from '@/components/preview'
import { titleOf } from '@/components/references'
import { groundOf } from '@/components/section/ground'
import { siteView, withDocuments } from '@/components/site-view'
import { rulesOf, stylesByPart } from '@/components/style/reach'
import { scopeStyle } from '@/components/style/scope'
import { plainPage } from './head'

/** A part of a document as it looks with these edits, as a page of its own: kept in the notebook. */
export function snapshot(
  documents: readonly ContentDocument[],
  document: ContentDocument,
  part: NodeId,
  edits: readonly Edit[],
  style: string,
): string {
  const preview = previewOf(document, part, edits)
  const styles = preview.changed.filter(({ kind }) => kind === 'style')
  const rendering = { site: withDocuments(siteView(documents), preview.changed), styled: stylesByPart(styles) }
  const drawn = <Part document={preview.document} node={preview.node} rendering={rendering} />
  const picture = preview.whole ? (
    drawn
  ) : (
    <div className={`section close ground-${groundOf(preview.document, preview.node)}`}>
      <div className="measure wide">{drawn}</div>
    </div>
  )
  const rules = styles.map((one) => scopeStyle(rulesOf(one), one.id).css).join('')
  return plainPage(
    titleOf(document),
    style,
    (rules === '' ? '' : `<style>${escaped(rules)}</style>`) + renderToStaticMarkup(picture),
  )
}
