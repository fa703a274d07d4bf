'use client'

import { createStore } from 'zustand/vanilla'
import type { DocumentView, VersionView } from '@/contract/contract'
import { ORIGINAL } from '@/core/decide'
import { apply, compare, type ContentDocument, type Edit } from '@/core/document'
import type { NodeId, VersionId } from '@/core/ids'
import { talk, type Refused } from '../talk'

interface Step {
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
  readonly saving: 'saved' | 'saving' | 'refused'
  readonly fault: Refused | null
}

const SAVE_AFTER = 350

/**
 * A page as it is being edited: the draft, the versions, what is selected and on the page, and the way back. Edits show
 * at once and are saved a moment later, one save at a time; what could not be saved stays here and is said.
 */
export function createEditing(view: DocumentView) {
  const store = createStore<EditingState>(() => ({
    ...fromServer(view),
    selected: null,
    onPage: ORIGINAL,
    done: [],
    undone: [],
    saving: 'saved',
    fault: null,
  }))
  let unsent: Edit[] = []
  const unsentVersions = new Set<VersionId>()
  /** Made here, and not yet in any view of the server. */
  const unseen = new Set<VersionId>()
  /** Made here, and not yet by the server; written in already. */
  const unborn = new Map<VersionId, { readonly name: string; make(): Promise<VersionView> }>()
  let timer: number | undefined
  let going: Promise<void> = Promise.resolve()

  const hasUnsent = () => unsent.length > 0 || unsentVersions.size > 0
  const version = (id: VersionId) => store.getState().versions.find((one) => one.id === id)
  const putVersion = (changed: VersionView) =>
    store.setState(({ versions }) => ({
      versions: versions.some(({ id }) => id === changed.id)
        ? versions.map((one) => (one.id === changed.id ? changed : one))
        : [...versions, changed],
    }))

  const sendDraft = async () => {
    if (unsent.length === 0) return
    const edits = unsent
    unsent = []
    try {
      const saved = await talk('document.edit', {
        document: store.getState().document.id,
        base: store.getState().lock,
        edits: [...edits],
      })
      // Somebody else’s edits came along: theirs first, then what was typed here meanwhile.
      store.setState(saved.merged ? { lock: saved.lock, document: apply(saved.document, unsent).document } : { lock: saved.lock })
    } catch (reason) {
      unsent = [...edits, ...unsent]
      throw reason
    }
  }
  /** @returns whether there is more to save than its making */
  const makeVersion = async (id: VersionId): Promise<boolean> => {
    const wanted = unborn.get(id)
    if (wanted === undefined) return true
    const made = await wanted.make()
    unborn.delete(id)
    const now = version(id)
    if (now === undefined) return false
    // Another editor may have taken the name meanwhile; one that was typed here stands.
    const name = now.name === wanted.name ? made.name : now.name
    putVersion({ ...made, name, edits: now.edits, condition: now.condition })
    return JSON.stringify([made.name, made.edits, made.condition]) !== JSON.stringify([name, now.edits, now.condition])
  }
  const sendVersion = async (id: VersionId) => {
    unsentVersions.delete(id)
    try {
      if (!(await makeVersion(id))) return
      const changed = version(id)
      if (changed === undefined) return
      const saved = await talk('version.save', {
        id,
        lock: changed.lock,
        name: changed.name,
        edits: [...changed.edits],
        ...(changed.condition === null ? {} : { condition: changed.condition }),
      })
      const now = version(id)
      if (now !== undefined) putVersion({ ...now, lock: saved.lock })
    } catch (reason) {
      unsentVersions.add(id)
      throw reason
    }
  }
  const flush = (): Promise<void> => {
    window.clearTimeout(timer)
    going = going.then(async () => {
      if (!hasUnsent()) return
      try {
        await sendDraft()
        for (const id of [...unsentVersions]) await sendVersion(id)
        store.setState({ saving: hasUnsent() ? 'saving' : 'saved', fault: null })
      } catch (reason) {
        store.setState({ saving: 'refused', fault: reason as Refused })
      }
    })
    return going
  }
  const soon = () => {
    store.setState({ saving: 'saving' })
    window.clearTimeout(timer)
    timer = window.setTimeout(() => void flush(), SAVE_AFTER)
  }

  /** Puts edits onto the draft, or a whole edit list onto a version. */
  const put = (target: VersionId, edits: readonly Edit[]) => {
    if (target === ORIGINAL) {
      store.setState(({ document }) => ({ document: apply(document, edits).document }))
      unsent.push(...edits)
    } else {
      const changed = version(target)
      if (changed === undefined) return
      putVersion({ ...changed, edits: [...edits] })
      unsentVersions.add(target)
    }
    soon()
  }

  return {
    store,
    flush,
    hasUnsent,

    /**
     * The server’s view, taken over where nothing made here would be lost: not while something is unsent, and nothing
     * older than what was saved from here, as an answer may have been on its way meanwhile.
     */
    accept(next: DocumentView): void {
      const { lock, versions, saving } = store.getState()
      if (hasUnsent() || saving !== 'saved' || next.lock < lock) return
      const mine = new Map(versions.map((one) => [one.id, one]))
      const theirs = next.versions.map((one) => ((mine.get(one.id)?.lock ?? -1) > one.lock ? (mine.get(one.id) ?? one) : one))
      for (const { id } of next.versions) unseen.delete(id)
      store.setState({
        document: next.document,
        lock: next.lock,
        versions: [...theirs, ...versions.filter(({ id }) => unseen.has(id))],
      })
    },

    /** Throws away what could not be saved and shows what the server has. */
    reload(next: DocumentView): void {
      unsent = []
      unsentVersions.clear()
      unborn.clear()
      store.setState({ ...fromServer(next), saving: 'saved', fault: null, done: [], undone: [] })
    },

    select: (selected: NodeId | null) => store.setState({ selected }),
    show: (onPage: VersionId) => store.setState({ onPage }),
    add(made: VersionView): void {
      unseen.add(made.id)
      putVersion(made)
      store.setState({ onPage: made.id, selected: made.node })
    },

    /** A new version, on the page and to be written in at once; the server makes it as the first step of saving it. */
    begin(wanted: VersionView, make: () => Promise<VersionView>): Promise<void> {
      unborn.set(wanted.id, { name: wanted.name, make })
      unsentVersions.add(wanted.id)
      this.add(wanted)
      store.setState({ saving: 'saving' })
      return flush()
    },

    /** Edits what is on the page: the original’s draft, or the version that is shown. */
    edit(edits: readonly Edit[], key: string | null = null): void {
      const { document, onPage, done } = store.getState()
      const target = version(onPage) === undefined ? ORIGINAL : onPage
      const shown = shownDocument(store.getState())
      const applied = apply(shown, edits)
      if (applied.undo.length === 0 || JSON.stringify(applied.document) === JSON.stringify(shown)) return
      const mine = version(target)?.edits ?? []
      const moved = new Set([...mine, ...edits].flatMap((edit) => (edit.kind === 'move' ? [edit.node] : [])))
      const forth = target === ORIGINAL ? edits : compare(document, applied.document, moved)
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

    changeVersion(id: VersionId, part: Partial<Pick<VersionView, 'name' | 'condition'>>): void {
      const changed = version(id)
      if (changed === undefined) return
      putVersion({ ...changed, ...part })
      unsentVersions.add(id)
      soon()
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

export type Editing = ReturnType<typeof createEditing>

/** What stands on the page: the draft, with the edits of the version that is shown. */
export function shownDocument({
  document,
  versions,
  onPage,
}: Pick<EditingState, 'document' | 'versions' | 'onPage'>): ContentDocument {
  const shown = versions.find(({ id }) => id === onPage)
  return shown === undefined ? document : apply(document, shown.edits).document
}

function fromServer({ document, lock, versions }: DocumentView): Pick<EditingState, 'document' | 'lock' | 'versions'> {
  return { document, lock, versions }
}
