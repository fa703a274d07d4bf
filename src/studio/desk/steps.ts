import type { StoreApi } from 'zustand/vanilla'
import { ORIGINAL } from '@/core/decide'
import { apply, compare, type ContentDocument, type Edit } from '@/core/document'
import type { VersionId } from '@/core/ids'
import { versionIn, type EditingState, type Step } from './editing-state'

/**
 * What is done at the desk, and the way back: each step says what it puts in place, and what was there.
 *
 * @param put puts edits onto the draft, or a whole edit list onto a version
 */
export function createSteps(store: StoreApi<EditingState>, put: (target: VersionId, edits: readonly Edit[]) => void) {
  const version = (id: VersionId) => versionIn(store, id)
  return {
    /** Edits what is on the page: the original’s draft, or the version that is shown. */
    edit(edits: readonly Edit[], key: string | null = null): void {
      const { document, onPage, done } = store.getState()
      const target = version(onPage) === undefined ? ORIGINAL : onPage
      const shown = shownDocument(store.getState())
      const applied = apply(shown, edits)
      if (applied.undo.length === 0 || JSON.stringify(applied.document) === JSON.stringify(shown)) return
      const mine = version(target)?.edits ?? []
      const moved = new Set([...mine, ...edits].flatMap((edit) => (edit.kind === 'move' ? [edit.node] : [])))
      // What does not fit the draft any more is kept: it may fit again, and is listed until it is taken back.
      const unfit = target === ORIGINAL ? [] : apply(document, mine).refused.map(({ edit }) => edit)
      const forth = target === ORIGINAL ? edits : [...compare(document, applied.document, moved), ...unfit]
      const back = target === ORIGINAL ? applied.undo : mine
      const last = done.at(-1)
      const same = key !== null && last?.key === key && last.target === target
      const step: Step = same ? { ...last, forth, back: last.back } : { target, back, forth, key }
      store.setState({ done: same ? [...done.slice(0, -1), step] : [...done, step], undone: [] })
      put(target, forth)
    },

    /** Takes one edit of a version back. */
    dropEdit(id: VersionId, index: number): void {
      const changed = version(id)
      if (changed === undefined) return
      const forth = changed.edits.filter((_, at) => at !== index)
      store.setState(({ done }) => ({ done: [...done, { target: id, back: changed.edits, forth, key: null }], undone: [] }))
      put(id, forth)
    },

    undo(): void {
      const { done, undone } = store.getState()
      const step = done.at(-1)
      if (step === undefined) return
      store.setState({ done: done.slice(0, -1), undone: [...undone, step], onPage: step.target })
      put(step.target, step.back)
    },

    redo(): void {
      const { done, undone } = store.getState()
      const step = undone.at(-1)
      if (step === undefined) return
      store.setState({ done: [...done, { ...step, key: null }], undone: undone.slice(0, -1), onPage: step.target })
      put(step.target, step.forth)
    },
  }
}

/** What stands on the page: the draft, with the edits of the version that is shown. */
export function shownDocument({
  document,
  versions,
  onPage,
}: Pick<EditingState, 'document' | 'versions' | 'onPage'>): ContentDocument {
  const shown = versions.find(({ id }) => id === onPage)
  return shown === undefined ? document : apply(document, shown.edits).document
}
