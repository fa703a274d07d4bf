import { ORIGINAL } from '@/core/decide'
import { apply } from '@/core/document'
import { isWaitedFor, talk, type Refused } from '../talk'
import { mark, type EditingStore } from './editing-state'
import { freshId } from './fresh-id'
import { EditsOutbox, type Parcel, type Unsaved } from '../saving/edits-outbox'
import { fieldName } from './wrong-field'

/**
 * The way of what was edited in the draft itself to the server, parcel by parcel.
 *
 * @param remember called before each is sent: whatever happens next, it is written down in the browser
 */
export function createDraftSaving(store: EditingStore, remember: () => void) {
  let outbox = new EditsOutbox()
  /** @returns whether what was refused keeps nothing else from being sent */
  const refusedAlone = (parcel: Parcel, refused: Refused): boolean => {
    if (refused.code !== 'input' && parcel.edits.length > 1) return false
    const [edit] = parcel.edits
    if (parcel.edits.length > 1) outbox.divide(freshId)
    else if (refused.code === 'input' && edit?.kind === 'set' && edit.value !== undefined) {
      mark(store, fieldName(ORIGINAL, edit.node, edit.prop), { value: edit.value, message: refused.message })
      outbox.answered()
    } else outbox.setAside()
    return true
  }
  const send = async (): Promise<void> => {
    let last: Refused | null = null
    for (;;) {
      const { document, lock } = store.getState()
      const parcel = outbox.next(lock, freshId)
      if (parcel === null) break
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
        last = refused
        if (!refusedAlone(parcel, refused)) break
      }
    }
    if (outbox.isEmpty) return
    outbox.refused()
    if (last !== null) throw last
  }
  return {
    send,
    get outbox(): EditsOutbox {
      return outbox
    },
    takeUp(before: Unsaved): void {
      outbox = new EditsOutbox(before)
    },
  }
}
