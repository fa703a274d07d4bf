import type { VersionId } from '@/core/ids'
import { talk } from '../talk'
import { putVersion, versionIn, type EditingStore } from './editing-state'
import type { Unsaved } from './outbox'

/** As a version is made: with the name it gets, as a copy of another or of what is there. */
interface Made {
  readonly name: string
  readonly from: VersionId | null
}

/** The versions that were edited and are not saved yet, and those that are not even made. */
export function createVersionSaving(store: EditingStore) {
  const unsent = new Set<VersionId>()
  /** Made here, and not yet by the server; written in already. */
  const unborn = new Map<VersionId, Made>()

  /** @returns whether there is more to save than its making */
  const makeVersion = async (id: VersionId): Promise<boolean> => {
    const wanted = unborn.get(id)
    if (wanted === undefined) return true
    const { document } = store.getState()
    const asked = versionIn(store, id)
    if (asked === undefined) return false
    const { node, manner } = asked
    const made = await talk('version.create', { id, document: document.id, node, manner, from: wanted.from })
    unborn.delete(id)
    const now = versionIn(store, id)
    if (now === undefined) return false
    // Another editor may have taken the name meanwhile; one that was typed here stands.
    const name = now.name === wanted.name ? made.name : now.name
    putVersion(store, { ...made, name, edits: now.edits, condition: now.condition })
    return JSON.stringify([made.name, made.edits, made.condition]) !== JSON.stringify([name, now.edits, now.condition])
  }
  const sendVersion = async (id: VersionId) => {
    unsent.delete(id)
    try {
      if (!(await makeVersion(id))) return
      const changed = versionIn(store, id)
      if (changed === undefined) return
      const saved = await talk('version.save', {
        id,
        lock: changed.lock,
        name: changed.name,
        edits: [...changed.edits],
        ...(changed.condition === null ? {} : { condition: changed.condition }),
      })
      const now = versionIn(store, id)
      if (now !== undefined) putVersion(store, { ...now, lock: saved.lock })
    } catch (reason) {
      unsent.add(id)
      throw reason
    }
  }

  return {
    unsent,

    /** What has to be written down, should no answer come. */
    kept: (): Unsaved['versions'] =>
      store
        .getState()
        .versions.filter(({ id }) => unsent.has(id))
        .map((one) => ({ ...one, edits: [...one.edits], unborn: unborn.has(one.id) })),

    async send(): Promise<void> {
      for (const id of [...unsent]) await sendVersion(id)
    },

    begin(id: VersionId, made: Made): void {
      unborn.set(id, made)
      unsent.add(id)
    },

    takeUp(before: Unsaved['versions']): void {
      for (const { id, name, unborn: isUnborn } of before) {
        unsent.add(id)
        if (isUnborn) unborn.set(id, { name, from: null })
      }
    },

    forget(): void {
      unsent.clear()
      unborn.clear()
    },
  }
}
