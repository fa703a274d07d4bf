'use client'

import { OneOf } from '../controls/choices'
import { Button } from '../controls/button'
import dynamic from 'next/dynamic'
import { useSearchParams } from 'next/navigation'
import { useDeferredValue, useEffect, useMemo, useState, type ReactNode } from 'react'
import type { AccountView, DocumentView, VersionView } from '@/contract/contract'
import { apply, nodeAt, parentOf, reachOf, subtree, walk, withFreshIds, type ContentDocument } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { titleOf } from '@/components/references'
import { componentTypes } from '@/components/types'
import { starterOf } from '@/components/starters'
import { useMessages } from '../frame/messages'
import { keepCopy, readCopy } from '../desk/clipboard'
import { DeskBar, deskCommands, DeskTrouble, useDesk, variesItself, type Desk } from '../desk/desk'
import { landingByKey, type Landing } from '../desk/landing'
import { freshId } from '../desk/fresh-id'
import { PageFrame } from '../desk/page-frame'
import { Shelf, shelfOf } from '../desk/shelf'
import { useBeside } from '../desk/use-beside'
import { useKeys } from '../frame/use-keys'
import type { RichWriting } from '../desk/write-in-place'
import type { KeyLines } from '../frame/key-list'
import { Screen } from '../frame/screen'
import { PageMargin } from './page-notes'
import { Palette, placeFor } from './palette'

/* What the first look at a page does not need comes after it. */
const RichTools = dynamic(() => import('../desk/rich-tools').then((room) => room.RichTools), { ssr: false })
const Outline = dynamic(() => import('./outline').then((room) => room.Outline), { ssr: false })

const hasRichWords = (type: string) =>
  Object.values(componentTypes.get(type)?.fields ?? {}).some(({ control }) => control === 'rich')

const widths = [
  { value: 390, label: 'Narrow' },
  { value: 834, label: 'Middle' },
  { value: 1280, label: 'Wide' },
] as const

/** What another kind of document puts in place of what a page has. */
export interface DeskParts {
  /** What the components look like in, where it is not the site as it is in its drafts. */
  readonly surroundings: readonly ContentDocument[]
  /** In the margin while nothing is selected. */
  readonly notes: (desk: Desk) => ReactNode
  readonly above: (desk: Desk) => ReactNode
}

/** A page (or a template, a shared component, a newsletter), live on the sheet, edited in place; every version of the selected part on the shelf. */
export function PageDesk({
  account,
  view,
  refetch,
  parts,
}: {
  account: AccountView
  view: DocumentView
  refetch: () => void
  parts?: DeskParts
}) {
  const message = useMessages()
  const part = useSearchParams().get('part')
  const desk = useDesk(account, view, refetch)
  const { editing, state, shown, version, locked } = desk
  // The shelf follows a moment later: what is typed shows on the page first.
  const later = useDeferredValue(state)
  const [width, setWidth] = useState<number>(1280)
  const [outline, setOutline] = useState(false)
  const [beside, setBeside] = useBeside(desk)
  const [writeIn, setWriteIn] = useState<{ node: NodeId; request: number } | null>(null)
  const [rich, setRich] = useState<RichWriting | null>(null)
  useEffect(() => {
    const wanted = part as NodeId | null
    if (wanted !== null && editing.store.getState().document.nodes[wanted] !== undefined) editing.select(wanted)
  }, [editing, part])

  // The editor for words with links and lists is large: it comes when such words are selected, before they are written in.
  const wantsRich = state.selected !== null && hasRichWords(shown.nodes[state.selected]?.type ?? '')
  useEffect(() => {
    if (wantsRich) void import('../desk/write-rich')
  }, [wantsRich])

  const refuseLocked = () =>
    locked ? void message.info('This version is in a test that runs. Pause the test to change it.') : undefined
  const add = (type: string, landing: Landing) => {
    if (locked) return refuseLocked()
    const tree = starterOf(type, freshId)
    editing.edit([{ kind: 'insert', ...landing, tree }])
    editing.select(tree.root)
  }
  const move = (node: NodeId, landing: Landing) => {
    if (locked) return refuseLocked()
    editing.edit([{ kind: 'move', node, ...landing }])
  }
  const copyAt = (node: NodeId, landing: Landing, from: ReturnType<typeof subtree>) => {
    if (locked) return refuseLocked()
    const tree = withFreshIds(from, freshId)
    editing.edit([{ kind: 'insert', ...landing, tree }])
    editing.select(tree.root)
    return node
  }
  const duplicate = (node: NodeId) => {
    const parent = parentOf(shown, node)
    if (parent !== null) copyAt(node, { parent, after: node }, subtree(shown, node))
  }
  const copy = () => {
    if (state.selected === null || shown.nodes[state.selected] === undefined || state.selected === shown.root) return
    keepCopy(subtree(shown, state.selected))
    void message.info('Copied. Paste it here or on another page with Ctrl+V.')
  }
  const paste = () => {
    const tree = readCopy()
    if (tree === null) return void message.info('Nothing has been copied yet: select a part and press Ctrl+C.')
    const landing = placeFor(shown, state.selected, tree.nodes[tree.root]?.type ?? '')
    if (landing === null) return void message.info('There is no place for it here. Select where it should go first.')
    copyAt(tree.root, landing, tree)
  }
  const remove = () => {
    if (state.selected === null || state.selected === shown.root || nodeAt(shown, shown.root).children.includes(state.selected))
      return
    if (locked) return refuseLocked()
    editing.edit([{ kind: 'remove', node: state.selected }])
    if (version === undefined) editing.select(null)
  }
  const walkTo = (direction: 'next' | 'before' | 'out' | 'in') => {
    const { selected } = editing.store.getState()
    const order = walk(shown)
    if (selected === null) return editing.select(order[0] ?? null)
    const at = order.indexOf(selected)
    const target = {
      next: order[at + 1],
      before: order[at - 1],
      out: parentOf(shown, selected),
      in: shown.nodes[selected]?.children[0],
    }[direction]
    if (target) editing.select(target)
  }
  const moveByKey = (key: string) => {
    const { selected } = editing.store.getState()
    const landing = selected === null ? null : landingByKey(shown, selected, key)
    if (selected !== null && landing !== null) move(selected, landing)
  }
  const setSideBySide = () => {
    if (beside !== null) return setBeside(null)
    const other = version ?? shelfOf(state.versions, state.selected ?? ('' as NodeId))[0]
    if (other === undefined) return void message.info('Make a variant first: then it can stand beside the original.')
    setBeside(other.id)
  }

  const handleKey = useKeys({
    plain: {
      ArrowDown: () => walkTo('next'),
      ArrowUp: () => walkTo('before'),
      ArrowLeft: () => walkTo('out'),
      ArrowRight: () => walkTo('in'),
      Enter: () => state.selected !== null && setWriteIn({ node: state.selected, request: Date.now() }),
      Escape: () => (rich === null ? editing.select(null) : rich.end()),
      Delete: remove,
      v: () => desk.make('chance', null),
      ',': () => desk.stepAlong(-1),
      '.': () => desk.stepAlong(1),
      ';': setSideBySide,
      '1': () => setWidth(390),
      '2': () => setWidth(834),
      '3': () => setWidth(1280),
      o: () => setOutline(!outline),
    },
    withAlt: Object.fromEntries(['ArrowUp', 'ArrowDown', 'ArrowLeft', 'ArrowRight'].map((key) => [key, () => moveByKey(key)])),
    withControl: {
      z: (shift) => (shift ? editing.redo() : editing.undo()),
      y: editing.redo,
      s: () => void desk.askToPublish(),
      c: copy,
      v: paste,
      d: () => state.selected !== null && duplicate(state.selected),
    },
  })

  const other = beside === null ? undefined : state.versions.find(({ id }) => id === beside)
  const frame = {
    surroundings: parts?.surroundings ?? view.surroundings,
    width,
    select: editing.select,
    onKey: handleKey,
    rich: setRich,
    ...(locked ? {} : { move }),
  }
  return (
    <Screen
      account={account}
      title={titleOf(state.document)}
      keys={keyLines}
      commands={[
        ...deskCommands(desk),
        { name: 'Make a variant of what is selected', keys: 'v', run: () => desk.make('chance', null) },
        {
          name: beside === null ? 'Set two versions side by side' : 'Set the version alone again',
          keys: ';',
          run: setSideBySide,
        },
        { name: outline ? 'Close the outline' : 'Open the outline', keys: 'o', run: () => setOutline(!outline) },
        ...widths.map(({ value, label }, index) => ({
          name: `Show the page ${label.toLowerCase()}`,
          keys: String(index + 1),
          run: () => setWidth(value),
        })),
      ]}
      wide
      sheet={
        <div className="page-sheet">
          <DeskBar
            account={account}
            desk={desk}
            tools={
              <>
                {rich === null ? (
                  <Palette document={shown} selected={state.selected} disabled={locked} add={add} />
                ) : (
                  <RichTools editor={rich.editor} label="Words on the page" surroundings={view.surroundings} />
                )}
                <OneOf
                  aria-label="Width of the page"
                  value={width}
                  change={setWidth}
                  options={widths.map(({ value, label }) => ({ value, label }))}
                />
                {beside === null ? null : <Button onClick={() => setBeside(null)}>Alone again</Button>}
                <Button aria-pressed={outline} onClick={() => setOutline(!outline)}>
                  Outline
                </Button>
              </>
            }
          />
          <DeskTrouble desk={desk} />
          {parts?.above(desk)}
          <div className="page-stage">
            {outline ? (
              <Outline
                document={shown}
                versions={state.versions}
                version={version}
                selected={state.selected}
                select={editing.select}
                move={locked ? null : move}
              />
            ) : null}
            {other === undefined ? (
              <PageFrame
                {...frame}
                document={shown}
                label={`The page: ${version?.name ?? 'Original'}`}
                selected={state.selected}
                write={desk.write}
                writeIn={writeIn}
                tookUp={() => setWriteIn(null)}
              />
            ) : (
              <SideBySide
                original={state.document}
                version={other}
                frame={frame}
                selected={state.selected}
                write={desk.write}
                writeIn={writeIn}
                tookUp={() => setWriteIn(null)}
              />
            )}
          </div>
        </div>
      }
      margin={<PageMargin account={account} desk={desk} duplicate={duplicate} notes={parts?.notes} />}
      shelf={
        state.selected === null || !variesItself(view.document) ? undefined : (
          <Shelf
            view={view}
            state={later}
            editing={editing}
            node={version?.node ?? state.selected}
            beside={beside}
            setBeside={setBeside}
            make={desk.make}
          />
        )
      }
    />
  )
}

/** The original on the left, a version on the right, scrolled together, what differs outlined; the version is edited there. */
function SideBySide({
  original,
  version,
  frame,
  ...writing
}: {
  original: ContentDocument
  version: VersionView
  frame: Omit<Parameters<typeof PageFrame>[0], 'document' | 'label'>
  selected: NodeId | null
  write: NonNullable<Parameters<typeof PageFrame>[0]['write']>
  writeIn: Parameters<typeof PageFrame>[0]['writeIn']
  tookUp: () => void
}) {
  const [scroll, setScroll] = useState(0)
  const { edits } = version
  const changed = useMemo(() => apply(original, edits).document, [original, edits])
  const differs = useMemo(
    () => [...reachOf(original, edits), ...edits.flatMap((edit) => (edit.kind === 'insert' ? [edit.tree.root] : []))],
    [original, edits],
  )
  // What was added is outlined itself; the place that holds it need not be.
  const outlined = differs.filter((node) => !edits.some((edit) => edit.kind === 'insert' && edit.parent === node))
  const shared = { ...frame, differs: outlined, onScroll: setScroll, scrollTop: scroll }
  return (
    <div className="side-by-side">
      <figure>
        <figcaption>Original</figcaption>
        <PageFrame {...shared} move={undefined} document={original} label="The page: Original, beside" />
      </figure>
      <figure>
        <figcaption>{version.name}</figcaption>
        <PageFrame {...shared} {...writing} document={changed} label={`The page: ${version.name}, beside`} />
      </figure>
    </div>
  )
}

const keyLines: KeyLines = [
  ['Arrows', 'walk the structure: down and up in reading order, left out of a part, right into it'],
  ['Alt with the arrows', 'move the selected part: up and down among its siblings, left out of its parent'],
  ['Enter', 'write the selected words on the page; Enter again or Escape ends it'],
  ['v', 'make a variant of what is selected'],
  [', and .', 'step along the shelf'],
  [';', 'set two versions side by side'],
  ['1 2 3', 'narrow, middle, wide'],
  ['o', 'outline'],
  ['Ctrl+C, Ctrl+V, Ctrl+D', 'copy a part, paste it here or on another page, duplicate it'],
  ['Delete', 'remove a part, or hide it in a version'],
  ['Ctrl+Z, Ctrl+Shift+Z', 'undo, redo'],
  ['Ctrl+S', 'publish, after asking'],
  ['Escape', 'end writing, then select nothing'],
]
