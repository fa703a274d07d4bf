import { ORIGINAL } from '@/core/decide'
import { apply, type Edit } from '@/core/document'
import type { VersionId } from '@/core/ids'
import { keepInBrowser } from '../frame/kept-in-browser'
import { isWaitedFor, talk, type Refused } from '../talk'
import { mark, type EditingStore } from './editing-state'
import { freshId } from './fresh-id'
import { Outbox, pauseBefore, type Unsaved } from './outbox'
import { createVersionSaving } from './version-saving'
import { fieldName } from './wrong-field'

const SAVE_AFTER = 350

/**
 * The way of what was edited to the server: a moment after the last change, one save at a time. What got no answer is
 * kept in the browser under `name` and sent again by itself; what was refused stays and is said.
 */
export function createSaving(name: string, store: EditingStore) {
  let outbox = new Outbox()
  const versions = createVersionSaving(store)
  let timer: number | undefined
  let tries = 0
  let going: Promise<void> = Promise.resolve()

  const hasUnsent = () => !outbox.isEmpty || versions.unsent.size > 0
  /** Written down at once: whatever happens next, what was typed is there when the page is opened again. */
  const remember = () => {
    if (!hasUnsent()) return keepInBrowser(name, null)
    const unsaved: Unsaved = { ...outbox.kept, base: store.getState().lock, versions: versions.kept() }
    keepInBrowser(name, unsaved)
  }
  const sendDraft = async () => {
    for (;;) {
      const { document, lock } = store.getState()
      const parcel = outbox.next(lock, freshId)
      if (parcel === null) return
      remember()
      try {
        const saved = await talk('document.edit', { document: document.id, ...parcel, edits: [...parcel.edits] })
        outbox.answered()
        // Somebody else’s edits came along: theirs first, then what was typed here meanwhile.
        store.setState(
          saved.merged ? { lock: saved.lock, document: apply(saved.document, outbox.after).document } : { lock: saved.lock },
        )
      } catch (reason) {
        const refused = reason as Refused
        if (isWaitedFor(refused)) throw refused
        outbox.refused()
        if (refused.code !== 'input' || !(await sendSingly())) throw refused
      }
    }
  }
  /** What is wrong with one field keeps nothing else from being saved. @returns whether all that is left is said at its field */
  const sendSingly = async (): Promise<boolean> => {
    const edits = outbox.waiting
    outbox.clear()
    const left: Edit[] = []
    for (const edit of edits) {
      const { document, lock } = store.getState()
      try {
        const saved = await talk('document.edit', { document: document.id, base: lock, edits: [edit], save: freshId() })
        store.setState({ lock: saved.lock })
      } catch (reason) {
        const refused = reason as Refused
        if (refused.code === 'input' && edit.kind === 'set' && edit.value !== undefined)
          mark(store, fieldName(ORIGINAL, edit.node, edit.prop), { value: edit.value, message: refused.message })
        else left.push(edit)
      }
    }
    outbox.put(left)
    return left.length === 0
  }
  const flush = (): Promise<void> => {
    window.clearTimeout(timer)
    going = going.then(async () => {
      if (!hasUnsent()) return
      try {
        await sendDraft()
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
      outbox.put(edits)
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
      outbox = new Outbox(before)
      versions.takeUp(before.versions)
      soon()
    },

    /** Gives up what could not be saved. */
    forget(): void {
      outbox.clear()
      versions.forget()
      remember()
    },
  }
}
