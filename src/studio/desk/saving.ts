import type { VersionView } from '@/contract/contract'
import type { Edit } from '@/core/document'
import type { VersionId } from '@/core/ids'
import type { Unsaved } from '../saving/edits-outbox'
import { keepInBrowser } from '../saving/kept-in-browser'
import { createSender } from '../saving/sender'
import { createDraftSaving } from './draft-saving'
import type { EditingStore } from './editing-state'
import { createVersionSaving } from './version-saving'

const SAVE_AFTER = 350

/** The way of what was edited on a desk to the server: the draft by its edits, each version whole. */
export function createSaving(name: string, store: EditingStore) {
  const draft = createDraftSaving(store, () => remember())
  const versions = createVersionSaving(store)
  const hasUnsent = () => !draft.outbox.isEmpty || versions.hasUnsent()
  /** Written down at once: whatever happens next, what was typed is there when the page is opened again. */
  const remember = () => {
    if (!hasUnsent()) return keepInBrowser(name, null)
    const unsaved: Unsaved = { ...draft.outbox.kept, base: store.getState().lock, versions: versions.kept() }
    keepInBrowser(name, unsaved)
  }
  const { flush, soon } = createSender(
    {
      hasUnsent,
      remember,
      async send() {
        await draft.send()
        await versions.send()
      },
      said: (saving, fault) => store.setState(saving === 'saving' && fault === null ? { saving } : { saving, fault }),
    },
    SAVE_AFTER,
  )

  return {
    flush,
    hasUnsent,

    edits(edits: readonly Edit[]): void {
      draft.outbox.put(edits)
      soon()
    },

    /** @param before as it was before this change */
    version(before: VersionView): void {
      versions.put(before)
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
