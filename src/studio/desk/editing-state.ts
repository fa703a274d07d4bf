import type { StoreApi } from 'zustand/vanilla'
import type { VersionView } from '@/contract/contract'
import type { ContentDocument, Edit } from '@/core/document'
import type { NodeId, VersionId } from '@/core/ids'
import type { Refused } from '../talk'
import type { WrongField } from './wrong-field'

export interface Step {
  /** What was edited: the original’s draft, or a version’s edit list. */
  readonly target: VersionId
  readonly back: readonly Edit[]
  readonly forth: readonly Edit[]
  /** Typing in one field makes one step. */
  readonly key: string | null
}

export interface EditingState {
  readonly document: ContentDocument
  readonly lock: number
  readonly versions: readonly VersionView[]
  readonly selected: NodeId | null
  readonly onPage: VersionId
  readonly done: readonly Step[]
  readonly undone: readonly Step[]
  /** `waiting`: no answer came, and it is sent again by itself. */
  readonly saving: 'saved' | 'saving' | 'waiting' | 'refused'
  readonly fault: Refused | null
  /** What was typed into fields and cannot be kept as it is, by the field. */
  readonly wrong: ReadonlyMap<string, WrongField>
}

export type EditingStore = StoreApi<EditingState>

export function versionIn(store: EditingStore, id: VersionId): VersionView | undefined {
  return store.getState().versions.find((one) => one.id === id)
}

/** In the place of the one with its id, or as one more. */
export function putVersion(store: EditingStore, changed: VersionView): void {
  store.setState(({ versions }) => ({
    versions: versions.some(({ id }) => id === changed.id)
      ? versions.map((one) => (one.id === changed.id ? changed : one))
      : [...versions, changed],
  }))
}

/** Says at a field what is wrong with what was typed there, or that nothing is. */
export function mark(store: EditingStore, field: string, wrong: WrongField | null): void {
  const marks = new Map(store.getState().wrong)
  if (wrong === null) marks.delete(field)
  else marks.set(field, wrong)
  store.setState({ wrong: marks })
}
