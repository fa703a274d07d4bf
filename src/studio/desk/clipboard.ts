import { subtreeSchema, type Subtree } from '@/core/document'

const KEY = 'sprig-copied-part'

/** What was copied, for pasting on this page or another, in this window or another. */
export function keepCopy(tree: Subtree): void {
  window.localStorage.setItem(KEY, JSON.stringify(tree))
}

export function readCopy(): Subtree | null {
  try {
    const parsed = subtreeSchema.safeParse(JSON.parse(window.localStorage.getItem(KEY) ?? 'null'))
    return parsed.success ? parsed.data : null
  } catch {
    return null
  }
}
