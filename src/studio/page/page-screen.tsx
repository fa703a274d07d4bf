'use client'

import { App, Button, Modal, Segmented } from 'antd'
import Link from 'next/link'
import { useSearchParams } from 'next/navigation'
import { useEffect, useMemo, useRef, useState } from 'react'
import { useStore } from 'zustand'
import type { AccountView, DocumentView } from '@/contract/contract'
import { ORIGINAL } from '@/core/decide'
import { nodeAt, reachOf, walk, type PropValue } from '@/core/document'
import type { DocumentId, NodeId, VersionId } from '@/core/ids'
import { Screen, Waiting } from '../frame/screen'
import { useSiteAddress } from '../frame/studio'
import { stateWords } from '../frame/wording'
import { talk, useAsk, useTell, type Refused } from '../talk'
import { createEditing, shownDocument } from './editing'
import { Outline } from './outline'
import { PageFrame } from './page-frame'
import { isLocked, PageMargin } from './page-margin'
import { Shelf, shelfOf } from './shelf'

const widths = [
  { value: 390, label: 'Narrow', key: '1' },
  { value: 834, label: 'Middle', key: '2' },
  { value: 1280, label: 'Wide', key: '3' },
] as const

/** A page, live on the sheet, edited in place; every version of the selected part on the shelf. */
export function PageScreen({ account, document }: { account: AccountView; document: DocumentId }) {
  const asked = useAsk('document.open', { document }, { every: 8000 })
  if (asked.data === undefined)
    return <Screen account={account} sheet={<Waiting error={asked.error} again={() => void asked.refetch()} />} margin={null} />
  return <PageDesk key={document} account={account} view={asked.data} refetch={() => void asked.refetch()} />
}

function PageDesk({ account, view, refetch }: { account: AccountView; view: DocumentView; refetch: () => void }) {
  const { message, modal } = App.useApp()
  const site = useSiteAddress()
  const part = useSearchParams().get('part')
  const [editing] = useState(() => createEditing(view))
  const state = useStore(editing.store)
  const [width, setWidth] = useState<number>(1280)
  const [outline, setOutline] = useState(false)
  const [help, setHelp] = useState(false)
  const [beside, setBeside] = useState<VersionId | null>(null)
  const [writeIn, setWriteIn] = useState<{ node: NodeId; request: number } | null>(null)
  const [scroll, setScroll] = useState(0)
  const wantsPart = useRef(part)

  useEffect(() => editing.accept(view), [editing, view])
  useEffect(() => {
    const wanted = wantsPart.current as NodeId | null
    if (wanted !== null && view.document.nodes[wanted] !== undefined) editing.select(wanted)
    wantsPart.current = null
  }, [editing, view])
  useEffect(() => {
    const leaving = (event: BeforeUnloadEvent) => {
      if (editing.hasUnsent()) event.preventDefault()
    }
    window.addEventListener('beforeunload', leaving)
    return () => {
      window.removeEventListener('beforeunload', leaving)
      void editing.flush()
    }
  }, [editing])

  const shown = useMemo(() => shownDocument(state), [state])
  const version = state.versions.find(({ id }) => id === state.onPage)
  const locked = version !== undefined && isLocked(version, view)
  const root = nodeAt(state.document, state.document.root)
  const failed = (reason: Refused) => void message.error(reason.message, 8)
  const publish = useTell('document.publish', () => void message.success('Published: visitors see it now.'))

  const make = (manner: 'chance' | 'rule', from: VersionId | null) => {
    const { selected } = editing.store.getState()
    if (selected === null) return void message.info('Select the part of the page that is to vary first.')
    void editing
      .flush()
      .then(() => talk('version.create', { document: state.document.id, node: selected, manner, from }))
      .then((made) => {
        editing.add(made)
        refetch()
      }, failed)
  }
  const askToPublish = async () => {
    await editing.flush()
    if (editing.hasUnsent()) return
    modal.confirm({
      title: `Publish “${String(root.props.title ?? '')}”?`,
      content: 'Visitors see the draft as it is now. Variants that inherit from it change with it.',
      okText: 'Publish',
      cancelText: 'Not now',
      icon: null,
      onOk: () => publish.mutate({ document: state.document.id, lock: editing.store.getState().lock }, { onError: failed }),
    })
  }
  const write = (node: NodeId, prop: string, value: PropValue, done: boolean) => {
    if (locked) return done ? void message.info('This version is in a test that runs. Pause the test to change it.') : undefined
    editing.edit([{ kind: 'set', node, prop, value }], `${node}.${prop}`)
    if (done) void editing.flush()
  }

  const stepAlong = (by: number) => {
    const { selected, versions, onPage } = editing.store.getState()
    if (selected === null) return
    const shelf = [ORIGINAL, ...shelfOf(versions, selected).map(({ id }) => id)]
    editing.show(shelf[(Math.max(0, shelf.indexOf(onPage)) + by + shelf.length) % shelf.length] ?? ORIGINAL)
  }
  const walkTo = (move: 'next' | 'before' | 'out' | 'in') => {
    const { selected } = editing.store.getState()
    const order = walk(shown)
    if (selected === null) return editing.select(order[0] ?? null)
    const at = order.indexOf(selected)
    const parent = order.find((id) => nodeAt(shown, id).children.includes(selected)) ?? null
    const target =
      move === 'next'
        ? order[at + 1]
        : move === 'before'
          ? order[at - 1]
          : move === 'out'
            ? parent
            : shown.nodes[selected]?.children[0]
    if (target) editing.select(target)
  }
  const setSideBySide = () =>
    setBeside(
      beside !== null
        ? null
        : version !== undefined
          ? version.id
          : (shelfOf(state.versions, state.selected ?? ('' as NodeId))[0]?.id ?? null),
    )

  const keys: Record<string, () => void> = {
    ArrowDown: () => walkTo('next'),
    ArrowUp: () => walkTo('before'),
    ArrowLeft: () => walkTo('out'),
    ArrowRight: () => walkTo('in'),
    Enter: () => state.selected !== null && setWriteIn({ node: state.selected, request: Date.now() }),
    Escape: () => editing.select(null),
    v: () => make('chance', null),
    ',': () => stepAlong(-1),
    '.': () => stepAlong(1),
    ';': setSideBySide,
    '1': () => setWidth(390),
    '2': () => setWidth(834),
    '3': () => setWidth(1280),
    o: () => setOutline(!outline),
    '?': () => setHelp(true),
  }
  const handleKey = (event: KeyboardEvent) => {
    const target = event.target as Element | null
    if (target?.closest?.('input, textarea, select, [contenteditable], .ant-modal, .ant-select')) return
    if (event.ctrlKey || event.metaKey) {
      const action = { z: event.shiftKey ? editing.redo : editing.undo, y: editing.redo, s: () => void askToPublish() }[
        event.key.toLowerCase()
      ]
      if (action !== undefined) {
        event.preventDefault()
        action()
      }
      return
    }
    const action = keys[event.key]
    if (action === undefined || (event.key === 'Enter' && target?.closest?.('button, a, summary'))) return
    event.preventDefault()
    action()
  }
  const latestKey = useRef(handleKey)
  useEffect(() => {
    latestKey.current = handleKey
  })
  useEffect(() => {
    const listen = (event: KeyboardEvent) => latestKey.current(event)
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  }, [])

  const other = beside === null ? undefined : state.versions.find(({ id }) => id === beside)
  const differs = useMemo(() => (other === undefined ? [] : reachOf(state.document, other.edits)), [other, state.document])
  const otherShown = useMemo(
    () => (other === undefined ? null : shownDocument({ document: state.document, versions: state.versions, onPage: other.id })),
    [other, state.document, state.versions],
  )

  return (
    <Screen
      account={account}
      wide
      sheet={
        <div className="page-sheet">
          <header className="page-bar">
            <div className="grow">
              <h1>{String(root.props.title ?? state.document.id)}</h1>
              <p className="quiet">
                {stateWords[view.state]} ·{' '}
                {state.saving === 'saving' ? 'saving …' : state.saving === 'saved' ? 'draft saved' : 'not saved'} ·{' '}
                <a href={site + String(root.props.path ?? '/')} target="_blank" rel="noreferrer">
                  see it live
                </a>
              </p>
            </div>
            <Segmented
              aria-label="Width of the page"
              value={width}
              onChange={setWidth}
              options={widths.map(({ value, label }) => ({ value, label }))}
            />
            <Button aria-pressed={outline} onClick={() => setOutline(!outline)}>
              Outline
            </Button>
            <Button disabled={state.done.length === 0} onClick={editing.undo}>
              Undo
            </Button>
            <Button disabled={state.undone.length === 0} onClick={editing.redo}>
              Redo
            </Button>
            <Button
              type="primary"
              disabled={!mayAs(account.role, 'publisher') || (view.state === 'published' && state.saving === 'saved')}
              title={mayAs(account.role, 'publisher') ? undefined : 'Only a publisher can publish.'}
              loading={publish.isPending}
              onClick={() => void askToPublish()}
            >
              Publish
            </Button>
          </header>
          {state.fault === null ? null : (
            <div role="alert" className="trouble">
              <p>{state.fault.message}</p>
              {state.fault.code === 'signIn' ? <Link href="/sign-in">Sign in</Link> : null}
              <button onClick={() => void editing.flush()}>Save again</button>
              <button onClick={() => void talk('document.open', { document: state.document.id }).then(editing.reload, failed)}>
                Show what is saved, and lose my change
              </button>
            </div>
          )}
          <div className="page-stage">
            {outline ? (
              <Outline document={shown} versions={state.versions} selected={state.selected} select={editing.select} />
            ) : null}
            {other === undefined || otherShown === null ? (
              <PageFrame
                document={shown}
                surroundings={view.surroundings}
                width={width}
                label={`The page: ${version?.name ?? 'Original'}`}
                selected={state.selected}
                select={editing.select}
                write={write}
                onKey={handleKey}
                writeIn={writeIn}
                tookUp={() => setWriteIn(null)}
              />
            ) : (
              <div className="side-by-side">
                <figure>
                  <figcaption>Original</figcaption>
                  <PageFrame
                    document={state.document}
                    surroundings={view.surroundings}
                    width={width}
                    label="The page: Original, beside"
                    select={editing.select}
                    differs={differs}
                    onKey={handleKey}
                    onScroll={setScroll}
                    scrollTop={scroll}
                  />
                </figure>
                <figure>
                  <figcaption>{other.name}</figcaption>
                  <PageFrame
                    document={otherShown}
                    surroundings={view.surroundings}
                    width={width}
                    label={`The page: ${other.name}, beside`}
                    select={editing.select}
                    differs={differs}
                    onKey={handleKey}
                    onScroll={setScroll}
                    scrollTop={scroll}
                  />
                </figure>
              </div>
            )}
          </div>
          {help ? <Shortcuts close={() => setHelp(false)} /> : null}
        </div>
      }
      margin={<PageMargin account={account} view={view} state={state} editing={editing} />}
      shelf={
        state.selected === null ? undefined : (
          <Shelf
            view={view}
            state={state}
            editing={editing}
            node={version?.node ?? state.selected}
            beside={beside}
            setBeside={setBeside}
            make={make}
          />
        )
      }
    />
  )
}

const shortcuts = [
  ['Arrows', 'walk the structure: down and up in reading order, left out of a part, right into it'],
  ['Enter', 'write the selected words on the page; Enter again or Escape ends it'],
  ['v', 'make a variant of what is selected'],
  [', and .', 'step along the shelf'],
  [';', 'set two versions side by side'],
  ['1 2 3', 'narrow, middle, wide'],
  ['o', 'outline'],
  ['Ctrl+Z, Ctrl+Shift+Z', 'undo, redo'],
  ['Ctrl+S', 'publish, after asking'],
  ['Escape', 'select nothing'],
] as const

function Shortcuts({ close }: { close: () => void }) {
  return (
    <Modal open title="Keys on this screen" footer={null} onCancel={close}>
      <dl className="shortcuts">
        {shortcuts.map(([keys, what]) => (
          <div key={keys}>
            <dt>
              <kbd>{keys}</kbd>
            </dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
    </Modal>
  )
}
