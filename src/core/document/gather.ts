import type { Edit } from './edits'

/**
 * One more edit after others, in as few as do the same: of what is typed into one field, the last stands. Only edits that
 * neither make nor take away a component can be passed over on the way to the one that it replaces.
 */
export function gathered(before: readonly Edit[], next: Edit): Edit[] {
  if (next.kind === 'set')
    for (let at = before.length - 1; at >= 0; at--) {
      const edit = before[at]
      if (edit?.kind === 'set' && edit.node === next.node && edit.prop === next.prop) return before.with(at, next)
      if (edit?.kind !== 'set' && edit?.kind !== 'move') break
    }
  return [...before, next]
}
