'use client'

import { createStore } from 'zustand/vanilla'
import type { DocumentView, VersionView } from '@/contract/contract'
import { ORIGINAL } from '@/core/decide'
import { apply, compare, type ContentDocument, type Edit, type PropValue } from '@/core/document'
import type { NodeId, VersionId } from '@/core/ids'
import { keepInBrowser, keptInBrowser } from '../frame/kept-in-browser'
import { isWaitedFor, talk, type Refused } from '../talk'
import { freshId } from './fresh-id'
import { Outbox, pauseBefore, unsavedSchema, type Unsaved } from './outbox'
import { fieldName, judge, type WrongField } from './wrong-field'

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
  /** `waiting`: no answer came, and it is sent again by itself. */
  readonly saving: 'saved' | 'saving' | 'waiting' | 'refused'
  readonly fault: Refused | null
  /** What was typed into fields and cannot be kept as it is, by the field. */
  readonly wrong: ReadonlyMap<string, WrongField>
}

const SAVE_AFTER = 350

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
  let outbox = new Outbox()
  const unsentVersions = new Set<VersionId>()
  /** Made here, and not yet in any view of the server. */
  const unseen = new Set<VersionId>()
  /** Made here, and not yet by the server; written in already. */
  const unborn = new Map<VersionId, { readonly name: string; readonly from: VersionId | null }>()
  let timer: number | undefined
  let tries = 0
  let going: Promise<void> = Promise.resolve()

  const hasUnsent = () => !outbox.isEmpty || unsentVersions.size > 0
  /** Written down at once: whatever happens next, what was typed is there when the page is opened again. */
  const remember = () => {
    if (!hasUnsent()) return keepInBrowser(name, null)
    const { lock, versions } = store.getState()
    const unsaved: Unsaved = {
      ...outbox.kept,
      base: lock,
      versions: versions
        .filter(({ id }) => unsentVersions.has(id))
        .map((one) => ({ ...one, edits: [...one.edits], unborn: unborn.has(one.id) })),
    }
    keepInBrowser(name, unsaved)
  }
  const version = (id: VersionId) => store.getState().versions.find((one) => one.id === id)
  const putVersion = (changed: VersionView) =>
    store.setState(({ versions }) => ({
      versions: versions.some(({ id }) => id === changed.id)
        ? versions.map((one) => (one.id === changed.id ? changed : one))
        : [...versions, changed],
    }))

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
          mark(fieldName(ORIGINAL, edit.node, edit.prop), { value: edit.value, message: refused.message })
        else left.push(edit)
      }
    }
    outbox.put(left)
    return left.length === 0
  }
  /** @returns whether there is more to save than its making */
  const makeVersion = async (id: VersionId): Promise<boolean> => {
    const wanted = unborn.get(id)
    if (wanted === undefined) return true
    const { document } = store.getState()
    const asked = version(id)
    if (asked === undefined) return false
    const { node, manner } = asked
    const made = await talk('version.create', { id, document: document.id, node, manner, from: wanted.from })
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
  const mark = (field: string, wrong: WrongField | null) => {
    const marks = new Map(store.getState().wrong)
    if (wrong === null) marks.delete(field)
    else marks.set(field, wrong)
    store.setState({ wrong: marks })
  }
  const soon = () => {
    remember()
    // While no answer comes, what is typed goes along with the next try.
    if (store.getState().saving === 'waiting') return
    store.setState({ saving: 'saving' })
    window.clearTimeout(timer)
    timer = window.setTimeout(() => void flush(), SAVE_AFTER)
  }

  /** Puts edits onto the draft, or a whole edit list onto a version. */
  const put = (target: VersionId, edits: readonly Edit[]) => {
    if (target === ORIGINAL) {
      store.setState(({ document }) => ({ document: apply(document, edits).document }))
      outbox.put(edits)
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

    /** Takes up again what was typed here before and never saved. */
    recover(): void {
      const before = keptInBrowser(name, unsavedSchema)
      if (before === null || hasUnsent()) return
      outbox = new Outbox(before)
      for (const { id, name, unborn: isUnborn } of before.versions) {
        unsentVersions.add(id)
        if (isUnborn) unborn.set(id, { name, from: null })
      }
      store.setState(withUnsaved(view, before))
      soon()
    },

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
      outbox.clear()
      unsentVersions.clear()
      unborn.clear()
      remember()
      store.setState({ ...fromServer(next), saving: 'saved', fault: null, done: [], undone: [], wrong: new Map() })
    },

    /** Sets one field of what is on the page; what cannot be kept stands there with what is wrong, and nowhere else. */
    write(node: NodeId, prop: string, value: PropValue): void {
      const { onPage } = store.getState()
      const field = fieldName(onPage, node, prop)
      const judged = judge(shownDocument(store.getState()).nodes[node]?.type, prop, value)
      mark(field, judged.fault === null ? null : { value, message: judged.fault })
      if (judged.fault === null) this.edit([{ kind: 'set', node, prop, value: judged.value }], `${node}.${prop}`)
    },

    select: (selected: NodeId | null) => store.setState({ selected }),
    show: (onPage: VersionId) => store.setState({ onPage }),
    add(made: VersionView): void {
      unseen.add(made.id)
      putVersion(made)
      store.setState({ onPage: made.id, selected: made.node })
    },

    /** A new version, on the page and to be written in at once; the server makes it as the first step of saving it. */
    begin(wanted: VersionView, from: VersionId | null): Promise<void> {
      unborn.set(wanted.id, { name: wanted.name, from })
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
      // What does not fit the draft any more is kept: it may fit again, and is listed until it is taken back.
      const unfit = target === ORIGINAL ? [] : apply(document, mine).refused.map(({ edit }) => edit)
      const forth = target === ORIGINAL ? edits : [...compare(document, applied.document, moved), ...unfit]
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
    document: apply(document, [...(unsaved.parcel?.edits ?? []), ...unsaved.edits]).document,
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
