import { useMemo, useState } from 'react'
import type { VersionView } from '@/contract/contract'
import { apply, reachOf, type ContentDocument } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { PageFrame } from '../desk/page-frame'

/** The original on the left, a version on the right, scrolled together, what differs outlined; the version is edited there. */
export function SideBySide({
  original,
  version,
  frame,
  ...writing
}: {
  original: ContentDocument
  version: VersionView
  frame: Omit<Parameters<typeof PageFrame>[0], 'document' | 'label'>
  selected: NodeId | null
  write: NonNullable<Parameters<typeof PageFrame>[0]['write']>
  writeIn: Parameters<typeof PageFrame>[0]['writeIn']
  tookUp: () => void
}) {
  const [scroll, setScroll] = useState(0)
  const { edits } = version
  const changed = useMemo(() => apply(original, edits).document, [original, edits])
  const differs = useMemo(
    () => [...reachOf(original, edits), ...edits.flatMap((edit) => (edit.kind === 'insert' ? [edit.tree.root] : []))],
    [original, edits],
  )
  // What was added is outlined itself; the place that holds it need not be.
  const outlined = differs.filter((node) => !edits.some((edit) => edit.kind === 'insert' && edit.parent === node))
  const shared = { ...frame, differs: outlined, onScroll: setScroll, scrollTop: scroll }
  return (
    <div className="side-by-side">
      <figure>
        <figcaption>Original</figcaption>
        <PageFrame {...shared} move={undefined} document={original} label="The page: Original, beside" />
      </figure>
      <figure>
        <figcaption>{version.name}</figcaption>
        <PageFrame {...shared} {...writing} document={changed} label={`The page: ${version.name}, beside`} />
      </figure>
    </div>
  )
}
