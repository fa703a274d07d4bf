'use client'

import { useQuestions, type AskFirst } from '../controls/questions'
import { Button } from '../controls/button'
import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { useEffect, useMemo, useState, type ReactNode } from 'react'
import { useStore } from 'zustand'
import { mayAs, type AccountView, type DocumentView, type VersionView } from '@/contract/contract'
import { EVERYBODY, ORIGINAL } from '@/core/decide'
import { nodeAt, type ContentDocument, type DocumentKind, type PropValue } from '@/core/document'
import { freeName } from '@/core/experiment'
import type { NodeId, VersionId } from '@/core/ids'
import { titleOf } from '@/components/references'
import { useMessages } from '../frame/messages'
import type { Command } from '../frame/finder'
import { useSiteAddress } from '../frame/studio'
import { savingWords, stateWords } from '../frame/wording'
import { talk, useTell, type Refused } from '../talk'
import { createEditing, shownDocument, type Editing } from './editing'
import { freshVersion } from './fresh-id'
import { shelfOf } from './shelf'
import { outcomesOf, TouchedTests, usualOutcomes } from './touched-tests'
import { isLocked } from './version-notes'

/** What every screen that edits a document has: the editing itself, versions, and the way to publishing. */
export function useDesk(account: AccountView, view: DocumentView, refetch: () => void) {
  const message = useMessages()
  const [askFirst, questions] = useQuestions()
  const [editing] = useState(() => createEditing(view, account.id))
  const state = useStore(editing.store)
  useEffect(() => editing.accept(view), [editing, view])
  useLeaving(editing, askFirst)
  const { document, versions, onPage } = state
  const shown = useMemo(() => shownDocument({ document, versions, onPage }), [document, versions, onPage])
  const version = versions.find(({ id }) => id === onPage)
  const locked = version !== undefined && isLocked(version, view)
  const failed = (reason: Refused) => void message.error(reason.message, 8)
  const publish = useTell('document.publish', () => void message.success('Published: visitors see it now.'))

  const make = (manner: 'chance' | 'rule', from: VersionId | null, node = editing.store.getState().selected) => {
    if (view.document.kind === 'letter')
      return void message.info('A newsletter has no versions of its own: make a variant of a call to action in it.')
    if (node === null) return void message.info('Select the part that is to vary first.')
    const beside = editing.store.getState().versions.filter((one) => one.node === node)
    const source = beside.find(({ id }) => id === from)
    const id = freshVersion()
    const stem = source === undefined ? (manner === 'chance' ? 'Variant' : 'Version') : `${source.name} copy`
    const wanted: VersionView = {
      id,
      node,
      manner,
      name: freeName(
        beside.map(({ name }) => name),
        stem,
      ),
      edits: source?.edits ?? [],
      condition: manner === 'rule' ? (source?.condition ?? EVERYBODY) : null,
      test: null,
      lock: 0,
    }
    void editing.begin(wanted, from).then(refetch)
  }
  const askToPublish = async () => {
    if (!variesItself(view.document)) return
    await editing.flush()
    if (editing.hasUnsent()) return
    const { lock } = editing.store.getState()
    const effects = await talk('document.effects', { document: document.id }).catch(failed)
    if (effects === undefined) return
    const chosen = usualOutcomes(effects.tests)
    askFirst({
      title: `Publish “${titleOf(document)}”?`,
      content: (
        <>
          <p>Visitors see the draft as it is now. Variants that inherit from it change with it.</p>
          <TouchedTests tests={effects.tests} chosen={chosen} />
        </>
      ),
      act: 'Publish',

      wide: effects.tests.length === 0 ? undefined : 560,
      go: () => publish.mutate({ document: document.id, lock, tests: outcomesOf(chosen) }, { onError: failed }),
    })
  }
  const write = (node: NodeId, prop: string, value: PropValue, done: boolean) => {
    if (locked) return done ? void message.info('This version is in a test that runs. Pause the test to change it.') : undefined
    editing.write(node, prop, value)
    if (done) void editing.flush()
  }
  const stepAlong = (by: number, node = editing.store.getState().selected) => {
    if (node === null) return
    const state = editing.store.getState()
    const shelf = [ORIGINAL, ...shelfOf(state.versions, node).map(({ id }) => id)]
    editing.show(shelf[(Math.max(0, shelf.indexOf(state.onPage)) + by + shelf.length) % shelf.length] ?? ORIGINAL)
  }
  return {
    view,
    editing,
    state,
    shown,
    version,
    locked,
    failed,
    /** What is asked before something is done; stands somewhere on the screen. */
    questions,
    make,
    askToPublish,
    publishing: publish.isPending,
    write,
    stepAlong,
  }
}

export type Desk = ReturnType<typeof useDesk>

/** Nobody leaves with something unsaved without being asked, by a link or by closing; a network that is back is used. */
function useLeaving(editing: Editing, askFirst: AskFirst) {
  const router = useRouter()
  useEffect(() => editing.recover(), [editing])
  useEffect(() => {
    const leaving = (event: BeforeUnloadEvent) => {
      if (editing.hasUnsent()) event.preventDefault()
    }
    const following = (event: MouseEvent) => {
      const link = event.target instanceof Element ? event.target.closest('a') : null
      if (link === null || link.target !== '' || link.origin !== location.origin || event.ctrlKey || event.metaKey) return
      if (event.defaultPrevented || !editing.hasUnsent()) return
      event.preventDefault()
      event.stopPropagation()
      const go = () => router.push(link.pathname + link.search)
      void editing.flush().then(() => {
        if (!editing.hasUnsent()) return go()
        askFirst({
          title: 'Leave with something unsaved?',
          content: 'Your last change could not be saved. It is kept in this browser, and there when you open this again.',
          act: 'Leave',
          otherwise: 'Stay',

          go: go,
        })
      })
    }
    const back = () => void editing.flush()
    window.addEventListener('beforeunload', leaving)
    window.addEventListener('online', back)
    document.addEventListener('click', following, true)
    return () => {
      window.removeEventListener('beforeunload', leaving)
      window.removeEventListener('online', back)
      document.removeEventListener('click', following, true)
      void editing.flush()
    }
  }, [editing, askFirst, router])
}

/** What can be done on every desk, by name. */
export function deskCommands({ view, editing, state, askToPublish }: Desk): readonly Command[] {
  return [
    ...(variesItself(view.document) ? [{ name: 'Publish …', keys: 'Ctrl+S', run: () => void askToPublish() }] : []),
    ...(state.done.length > 0 ? [{ name: 'Undo', keys: 'Ctrl+Z', run: editing.undo }] : []),
    ...(state.undone.length > 0 ? [{ name: 'Redo', keys: 'Ctrl+Shift+Z', run: editing.redo }] : []),
  ]
}

/** Templates and newsletters are not published, and have no versions. */
export function variesItself({ kind }: ContentDocument): boolean {
  return kind !== 'template' && kind !== 'letter'
}

const unpublishedWords: Partial<Record<DocumentKind, string>> = { template: 'a template', letter: 'a newsletter' }

/** The head of a sheet on which a document is edited. */
export function DeskBar({ account, desk, tools }: { account: AccountView; desk: Desk; tools?: ReactNode }) {
  const site = useSiteAddress()
  const { view, editing, state } = desk
  const root = nodeAt(state.document, state.document.root)
  const may = mayAs(account.role, 'publisher')
  // By what was typed here, not by what was read last.
  const isAsPublished = view.state === 'published' && state.saving === 'saved' && state.lock === view.lock
  return (
    <header className="page-bar">
      {desk.questions}
      <div className="grow">
        <h1>{titleOf(state.document)}</h1>
        <p className="quiet">
          {unpublishedWords[view.document.kind] ??
            stateWords[isAsPublished ? 'published' : view.state === 'published' ? 'changed' : view.state]}{' '}
          · {state.saving === 'saved' ? 'draft saved' : savingWords[state.saving]}
          {view.document.kind === 'page' && view.publishedRevision !== null ? (
            <>
              {' '}
              ·{' '}
              <a href={site + String(root.props.path ?? '/')} target="_blank" rel="noreferrer">
                see it live
              </a>
            </>
          ) : null}
        </p>
      </div>
      {tools}
      <Button disabled={state.done.length === 0} onClick={editing.undo}>
        Undo
      </Button>
      <Button disabled={state.undone.length === 0} onClick={editing.redo}>
        Redo
      </Button>
      {!variesItself(view.document) ? null : (
        <Button
          look="primary"
          disabled={!may || isAsPublished}
          title={may ? undefined : 'Only a publisher can publish.'}
          busy={desk.publishing}
          onClick={() => void desk.askToPublish()}
        >
          Publish
        </Button>
      )}
    </header>
  )
}

/** What could not be saved, and what can be done about it. */
export function DeskTrouble({ desk }: { desk: Desk }) {
  const { state, editing, failed } = desk
  if (state.fault === null) return null
  return (
    <div role="alert" className="trouble">
      <p>{state.fault.message}</p>
      {state.fault.code === 'signIn' ? <Link href="/sign-in">Sign in</Link> : null}
      <button onClick={() => void editing.flush()}>{state.saving === 'waiting' ? 'Send it now' : 'Save again'}</button>
      {state.saving === 'waiting' ? null : (
        <button onClick={() => void talk('document.open', { document: state.document.id }).then(editing.reload, failed)}>
          Show what is saved, and lose my change
        </button>
      )}
    </div>
  )
}
