import { ORIGINAL } from '@/core/decide'
import { apply, type Edit } from '@/core/document'
import { isWaitedFor, talk, type Refused } from '../talk'
import { mark, type EditingStore } from './editing-state'
import { freshId } from './fresh-id'
import { Outbox, type Unsaved } from './outbox'
import { fieldName } from './wrong-field'

/**
 * The way of what was edited in the draft itself to the server, parcel by parcel.
 *
 * @param remember called before each is sent: whatever happens next, it is written down in the browser
 */
export function createDraftSaving(store: EditingStore, remember: () => void) {
  let outbox = new Outbox()
  const send = async (): Promise<void> => {
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
  return {
    send,
    get outbox(): Outbox {
      return outbox
    },
    takeUp(before: Unsaved): void {
      outbox = new Outbox(before)
    },
  }
}
