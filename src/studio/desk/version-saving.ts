import type { VersionView } from '@/contract/contract'
import { isSameData } from '@/core/same-data'
import type { VersionId } from '@/core/ids'
import type { Unsaved, VersionValue } from '../saving/edits-outbox'
import { ValueOutbox, type Kept } from '../saving/value-outbox'
import { talk, type Refused } from '../talk'
import { putVersion, versionIn, type EditingStore } from './editing-state'

/** As a version is made: with the name it gets, as a copy of another or of what is there. */
interface Made {
  readonly name: string
  readonly from: VersionId | null
}

const valueOf = ({ name, edits, condition }: VersionValue | VersionView): VersionValue => ({
  ...{ name, edits: [...edits], condition },
})

/** Where nobody wrote down what it was: nothing of somebody else’s is taken for unchanged. */
const NOTHING: VersionValue = { name: '', edits: [], condition: null }

/** The versions that were edited and are not saved yet, and those that are not even made. */
export function createVersionSaving(store: EditingStore) {
  const outboxes = new Map<VersionId, ValueOutbox<VersionValue>>()
  /** Made here, and not yet by the server; written in already. */
  const unborn = new Map<VersionId, Made>()
  const unsent = () => [...new Set([...unborn.keys(), ...[...outboxes].flatMap(([id, box]) => (box.isEmpty ? [] : [id]))])]
  /** What is on the desk, to be saved. */
  const gather = (id: VersionId) => {
    const now = versionIn(store, id)
    if (now !== undefined) outboxes.get(id)?.put(valueOf(now))
  }

  const makeVersion = async (id: VersionId): Promise<void> => {
    const wanted = unborn.get(id)
    const asked = versionIn(store, id)
    if (wanted === undefined || asked === undefined) return void unborn.delete(id)
    const { node, manner } = asked
    const made = await talk('version.create', { id, document: store.getState().document.id, node, manner, from: wanted.from })
    unborn.delete(id)
    const now = versionIn(store, id)
    if (now === undefined) return
    // Another editor may have taken the name meanwhile; one that was typed here stands.
    const name = now.name === wanted.name ? made.name : now.name
    putVersion(store, { ...made, name, edits: now.edits, condition: now.condition })
    const box = new ValueOutbox({ value: valueOf(made), lock: made.lock })
    outboxes.set(id, box)
    if (!isSameData(valueOf(made), { name, edits: now.edits, condition: now.condition })) gather(id)
  }
  const save = async (id: VersionId, box: ValueOutbox<VersionValue>): Promise<void> => {
    const next = box.next()
    if (next === null) return
    const { value, lock } = next
    const { name, edits, condition } = value
    const saved = await talk('version.save', {
      ...{ id, lock, name, edits: [...edits] },
      ...(condition === null ? {} : { condition }),
    })
    box.answered(value, saved.lock)
    const now = versionIn(store, id)
    if (now !== undefined) putVersion(store, { ...now, lock: saved.lock })
  }
  /** As the server has it now; `null` where it has it no more. */
  const again = async (id: VersionId): Promise<Kept<VersionValue> | null> => {
    const { versions } = await talk('document.open', { document: store.getState().document.id })
    const found = versions.find((one) => one.id === id)
    return found === undefined ? null : { value: valueOf(found), lock: found.lock }
  }
  const sendVersion = async (id: VersionId): Promise<void> => {
    await makeVersion(id)
    const box = outboxes.get(id)
    if (box === undefined) return
    // One that is not there any more has nothing to be saved.
    if (versionIn(store, id) === undefined) return void outboxes.delete(id)
    try {
      await save(id, box)
    } catch (reason) {
      if ((reason as Refused).code !== 'conflict') throw reason
      const now = await again(id)
      const here = versionIn(store, id)
      if (now === null || here === undefined || !box.meets(now)) throw reason
      putVersion(store, { ...here, ...box.value, edits: [...box.value.edits], lock: box.lock })
      await save(id, box)
    }
  }

  return {
    hasUnsent: () => unsent().length > 0,

    /** What has to be written down, should no answer come. */
    kept: (): Unsaved['versions'] =>
      unsent().flatMap((id) => {
        const one = versionIn(store, id)
        if (one === undefined) return []
        const { before, lock, sent } = outboxes.get(id)?.kept ?? { before: null, lock: one.lock, sent: [] }
        return [{ ...one, edits: [...one.edits], lock, unborn: unborn.has(id), before, sent: [...sent] }]
      }),

    async send(): Promise<void> {
      for (const id of unsent()) await sendVersion(id)
    },

    put(before: VersionView): void {
      const { id } = before
      // One that is still to be made is saved with its making.
      if (unborn.has(id)) return
      const box = outboxes.get(id) ?? new ValueOutbox({ value: valueOf(before), lock: before.lock })
      box.seen({ value: valueOf(before), lock: before.lock })
      outboxes.set(id, box)
      gather(id)
    },

    begin(id: VersionId, made: Made): void {
      unborn.set(id, made)
    },

    takeUp(versions: Unsaved['versions']): void {
      for (const { id, unborn: isUnborn, before, lock, sent, ...one } of versions) {
        if (isUnborn) unborn.set(id, { name: one.name, from: null })
        else outboxes.set(id, ValueOutbox.takenUp({ value: valueOf(one), before: before ?? NOTHING, lock, sent }))
      }
    },

    forget(): void {
      outboxes.clear()
      unborn.clear()
    },
  }
}
