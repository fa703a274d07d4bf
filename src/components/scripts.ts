import type { ContentDocument, Edit } from '@/core/document'

/** Edits that bring a script, or change one: only administrators may make them. */
export function scriptEdits(document: ContentDocument, edits: readonly Edit[]): Edit[] {
  const scripts = new Set(Object.entries(document.nodes).flatMap(([id, { type }]) => (type === 'script' ? [id] : [])))
  return edits.filter((edit) => {
    if (edit.kind === 'insert') {
      const inserted = Object.entries(edit.tree.nodes).filter(([, { type }]) => type === 'script')
      for (const [id] of inserted) scripts.add(id)
      return inserted.length > 0
    }
    if (edit.kind === 'replace') return edit.type === 'script' || scripts.has(edit.node)
    return edit.kind === 'set' && scripts.has(edit.node)
  })
}
