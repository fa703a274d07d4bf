'use client'

import { createStore } from 'zustand/vanilla'
import type { DocumentView, VersionView } from '@/contract/contract'
import { ORIGINAL } from '@/core/decide'
import { apply, type Edit, type PropValue } from '@/core/document'
import type { NodeId, VersionId } from '@/core/ids'
import { keptInBrowser } from '../saving/kept-in-browser'
import { mark, putVersion, versionIn, type EditingState } from './editing-state'
import { unsavedSchema, type Unsaved } from '../saving/edits-outbox'
import { createSaving } from './saving'
import { createSteps, shownDocument } from './steps'
import { fieldName, judge } from './wrong-field'

export type { EditingState } from './editing-state'
export { shownDocument } from './steps'

/**
 * A page as it is being edited: the draft, the versions, what is selected and on the page, and the way back. Edits show
 * at once and are saved a moment later, one save at a time. What got no answer is kept in the browser and sent again by
 * itself; what was refused stays here and is said.
 *
 * @param person whose unsaved work is kept and taken up again
 */
export function createEditing(view: DocumentView, person: string) {
  const name = `${view.document.id} ${person}`
  const store = createStore<EditingState>(() => ({
    ...fromServer(view),
    selected: null,
    onPage: ORIGINAL,
    done: [],
    undone: [],
    saving: 'saved',
    fault: null,
    wrong: new Map(),
  }))
  const saving = createSaving(name, store)
  /** Made here, and not yet in any view of the server. */
  const unseen = new Set<VersionId>()
  const version = (id: VersionId) => versionIn(store, id)

  /** Puts edits onto the draft, or a whole edit list onto a version. */
  const put = (target: VersionId, edits: readonly Edit[]) => {
    if (target === ORIGINAL) {
      store.setState(({ document }) => ({ document: apply(document, edits).document }))
      saving.edits(edits)
    } else {
      const changed = version(target)
      if (changed === undefined) return
      putVersion(store, { ...changed, edits: [...edits] })
      saving.version(changed)
    }
  }

  const steps = createSteps(store, put)

  return {
    ...steps,
    store,
    flush: saving.flush,
    hasUnsent: saving.hasUnsent,

    /** Takes up again what was typed here before and never saved. */
    recover(): void {
      const before = keptInBrowser(name, unsavedSchema)
      if (before === null || saving.hasUnsent()) return
      store.setState(withUnsaved(view, before))
      saving.takeUp(before)
    },

    /**
     * The server’s view, taken over where nothing made here would be lost: not while something is unsent, and nothing
     * older than what was saved from here, as an answer may have been on its way meanwhile.
     */
    accept(next: DocumentView): void {
      const { lock, versions, saving: state } = store.getState()
      if (saving.hasUnsent() || state !== 'saved' || next.lock < lock) return
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
      saving.forget()
      store.setState({ ...fromServer(next), saving: 'saved', fault: null, done: [], undone: [], wrong: new Map() })
    },

    /** Sets one field of what is on the page; what cannot be kept stands there with what is wrong, and nowhere else. */
    write(node: NodeId, prop: string, value: PropValue): void {
      const { onPage } = store.getState()
      const field = fieldName(onPage, node, prop)
      const judged = judge(shownDocument(store.getState()).nodes[node]?.type, prop, value)
      mark(store, field, judged.fault === null ? null : { value, message: judged.fault })
      if (judged.fault === null) steps.edit([{ kind: 'set', node, prop, value: judged.value }], `${node}.${prop}`)
    },

    select: (selected: NodeId | null) => store.setState({ selected }),
    show: (onPage: VersionId) => store.setState({ onPage }),
    add(made: VersionView): void {
      unseen.add(made.id)
      putVersion(store, made)
      store.setState({ onPage: made.id, selected: made.node })
    },

    /** A new version, on the page and to be written in at once; the server makes it as the first step of saving it. */
    begin(wanted: VersionView, from: VersionId | null): Promise<void> {
      this.add(wanted)
      return saving.begun(wanted.id, { name: wanted.name, from })
    },

    changeVersion(id: VersionId, part: Partial<Pick<VersionView, 'name' | 'condition'>>): void {
      const changed = version(id)
      if (changed === undefined) return
      putVersion(store, { ...changed, ...part })
      saving.version(changed)
    },
  }
}

export type Editing = ReturnType<typeof createEditing>

function fromServer({ document, lock, versions }: DocumentView): Pick<EditingState, 'document' | 'lock' | 'versions'> {
  return { document, lock, versions }
}

/** The server’s view with what was typed here before and never saved. */
function withUnsaved(view: DocumentView, unsaved: Unsaved): Pick<EditingState, 'document' | 'lock' | 'versions'> {
  const { document, versions } = fromServer(view)
  const waiting = new Map(unsaved.versions.map((one) => [one.id, one]))
  const mine = unsaved.versions
    .filter(({ id, unborn }) => unborn && !versions.some((one) => one.id === id))
    .map(({ id, name, edits, node, manner, lock, condition }): VersionView => ({
      id,
      name,
      edits,
      node,
      manner,
      lock,
      condition,
      test: null,
    }))
  return {
    document: apply(document, [
      ...(unsaved.parcel?.edits ?? []),
      ...unsaved.divided.flatMap(({ edits }) => edits),
      ...unsaved.edits,
    ]).document,
    // On the draft that it was typed on, so that what others did meanwhile is merged and not written over.
    lock: unsaved.base,
    versions: [
      ...versions.map((one) => {
        const own = waiting.get(one.id)
        return own === undefined ? one : { ...one, name: own.name, edits: own.edits, condition: own.condition, lock: own.lock }
      }),
      ...mine,
    ],
  }
}
