import type { Edit } from '@/core/document'
import type { VersionId } from '@/core/ids'
import { keepInBrowser } from '../frame/kept-in-browser'
import { isWaitedFor, type Refused } from '../talk'
import { createDraftSaving } from './draft-saving'
import type { EditingStore } from './editing-state'
import { pauseBefore, type Unsaved } from './outbox'
import { createVersionSaving } from './version-saving'

const SAVE_AFTER = 350

/**
 * The way of what was edited to the server: a moment after the last change, one save at a time. What got no answer is
 * kept in the browser under `name` and sent again by itself; what was refused stays and is said.
 */
export function createSaving(name: string, store: EditingStore) {
  const draft = createDraftSaving(store, () => remember())
  const versions = createVersionSaving(store)
  let timer: number | undefined
  let tries = 0
  let going: Promise<void> = Promise.resolve()

  const hasUnsent = () => !draft.outbox.isEmpty || versions.unsent.size > 0
  /** Written down at once: whatever happens next, what was typed is there when the page is opened again. */
  const remember = () => {
    if (!hasUnsent()) return keepInBrowser(name, null)
    const unsaved: Unsaved = { ...draft.outbox.kept, base: store.getState().lock, versions: versions.kept() }
    keepInBrowser(name, unsaved)
  }
  const flush = (): Promise<void> => {
    window.clearTimeout(timer)
    going = going.then(async () => {
      if (!hasUnsent()) return
      try {
        await draft.send()
        await versions.send()
        tries = 0
        store.setState({ saving: hasUnsent() ? 'saving' : 'saved', fault: null })
      } catch (reason) {
        const fault = reason as Refused
        const waits = isWaitedFor(fault)
        store.setState({ saving: waits ? 'waiting' : 'refused', fault })
        if (waits) timer = window.setTimeout(() => void flush(), pauseBefore(tries++) * 1000)
      }
      remember()
    })
    return going
  }
  const soon = () => {
    remember()
    // While no answer comes, what is typed goes along with the next try.
    if (store.getState().saving === 'waiting') return
    store.setState({ saving: 'saving' })
    window.clearTimeout(timer)
    timer = window.setTimeout(() => void flush(), SAVE_AFTER)
  }

  return {
    flush,
    hasUnsent,

    edits(edits: readonly Edit[]): void {
      draft.outbox.put(edits)
      soon()
    },

    version(id: VersionId): void {
      versions.unsent.add(id)
      soon()
    },

    /** A version that the server makes as the first step of saving it. */
    begun(id: VersionId, made: { readonly name: string; readonly from: VersionId | null }): Promise<void> {
      versions.begin(id, made)
      store.setState({ saving: 'saving' })
      return flush()
    },

    /** Goes on with what was typed here before and never saved. */
    takeUp(before: Unsaved): void {
      draft.takeUp(before)
      versions.takeUp(before.versions)
      soon()
    },

    /** Gives up what could not be saved. */
    forget(): void {
      draft.outbox.clear()
      versions.forget()
      remember()
    },
  }
}
