'use client'

import { OneOf } from '../controls/choices'
import { Button } from '../controls/button'
import dynamic from 'next/dynamic'
import { useSearchParams } from 'next/navigation'
import { useDeferredValue, useEffect, useState, type ReactNode } from 'react'
import type { AccountView, DocumentView, VersionView } from '@/contract/contract'
import type { ContentDocument } from '@/core/document'
import type { NodeId, VersionId } from '@/core/ids'
import { titleOf } from '@/components/references'
import { componentTypes } from '@/components/types'
import { useMessages } from '../frame/messages'
import { DeskBar, DeskTrouble, useDesk, variesItself, type Desk } from '../desk/desk'
import type { Landing } from '../desk/landing'
import { PageFrame } from '../desk/page-frame'
import { Shelf, shelfOf } from '../desk/shelf'
import { useBeside } from '../desk/use-beside'
import type { RichWriting } from '../desk/write-in-place'
import { Screen } from '../frame/screen'
import { PageMargin } from './page-notes'
import { Palette } from './palette'
import { SideBySide } from './side-by-side'
import { keyLines, pageCommands, usePageKeys, widths, type PageView } from './by-key'
import { usePartActions } from './use-part-actions'

/* What the first look at a page does not need comes after it. */
const RichTools = dynamic(() => import('../desk/rich-tools').then((room) => room.RichTools), { ssr: false })
const Outline = dynamic(() => import('./outline').then((room) => room.Outline), { ssr: false })

const hasRichWords = (type: string) =>
  Object.values(componentTypes.get(type)?.fields ?? {}).some(({ control }) => control === 'rich')

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
  const desk = useDesk(account, view, refetch)
  const { editing, state, shown, version, locked } = desk
  // The shelf follows a moment later: what is typed shows on the page first.
  const later = useDeferredValue(state)
  const [width, setWidth] = useState<number>(1280)
  const [outline, setOutline] = useState(false)
  const [beside, setBeside] = useBeside(desk)
  const [writeIn, setWriteIn] = useState<{ node: NodeId; request: number } | null>(null)
  const [rich, setRich] = useState<RichWriting | null>(null)
  useWantedPart(editing)
  useRichWordsAhead(desk)
  const actions = usePartActions(desk)
  const { add, move, duplicate } = actions
  const setSideBySide = useSideBySide(desk, beside, setBeside)
  const page: PageView = { width: setWidth, outline, setOutline, besides: beside !== null, setSideBySide }
  const handleKey = usePageKeys(desk, actions, page, {
    write: (node) => setWriteIn({ node, request: Date.now() }),
    leave: () => (rich === null ? editing.select(null) : rich.end()),
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
      commands={pageCommands(desk, page)}
      wide
      sheet={
        <div className="page-sheet">
          <DeskBar
            account={account}
            desk={desk}
            tools={
              <PageTools
                desk={desk}
                words={rich}
                add={add}
                width={width}
                setWidth={setWidth}
                alone={beside === null ? null : () => setBeside(null)}
                outline={outline}
                setOutline={setOutline}
              />
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
            <OnStage desk={desk} other={other} frame={frame} writeIn={writeIn} tookUp={() => setWriteIn(null)} />
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

/** The part that the address names is selected. */
function useWantedPart(editing: Desk['editing']): void {
  const part = useSearchParams().get('part')
  useEffect(() => {
    const wanted = part as NodeId | null
    if (wanted !== null && editing.store.getState().document.nodes[wanted] !== undefined) editing.select(wanted)
  }, [editing, part])
}

/** The editor for words with links and lists is large: it comes when such words are selected, before they are written in. */
function useRichWordsAhead({ state, shown }: Desk): void {
  const wantsRich = state.selected !== null && hasRichWords(shown.nodes[state.selected]?.type ?? '')
  useEffect(() => {
    if (wantsRich) void import('../desk/write-rich')
  }, [wantsRich])
}

/** A version beside the original, or each alone again. */
function useSideBySide({ state, version }: Desk, beside: VersionId | null, setBeside: (version: VersionId | null) => void) {
  const message = useMessages()
  return () => {
    if (beside !== null) return setBeside(null)
    const other = version ?? shelfOf(state.versions, state.selected ?? ('' as NodeId))[0]
    if (other === undefined) return void message.info('Make a variant first: then it can stand beside the original.')
    setBeside(other.id)
  }
}

/** One version, or the original with one beside it. */
function OnStage({
  desk,
  other,
  frame,
  writeIn,
  tookUp,
}: {
  desk: Desk
  other: VersionView | undefined
  frame: Parameters<typeof SideBySide>[0]['frame']
  writeIn: { node: NodeId; request: number } | null
  tookUp: () => void
}) {
  const { state, shown, version, write } = desk
  const writing = { selected: state.selected, write, writeIn, tookUp }
  return other === undefined ? (
    <PageFrame {...frame} {...writing} document={shown} label={`The page: ${version?.name ?? 'Original'}`} />
  ) : (
    <SideBySide {...writing} original={state.document} version={other} frame={frame} />
  )
}

/** Above the page: new parts, or the tools for the words that are being written; how wide, and how it is built. */
function PageTools({
  desk,
  words,
  add,
  width,
  setWidth,
  alone,
  outline,
  setOutline,
}: {
  desk: Desk
  words: RichWriting | null
  add: (type: string, landing: Landing) => void
  width: number
  setWidth: (width: number) => void
  /** Ends two versions standing side by side; `null` where one stands alone. */
  alone: (() => void) | null
  outline: boolean
  setOutline: (open: boolean) => void
}) {
  const { shown, state, locked, view } = desk
  return (
    <>
      {words === null ? (
        <Palette document={shown} selected={state.selected} disabled={locked} add={add} />
      ) : (
        <RichTools editor={words.editor} label="Words on the page" surroundings={view.surroundings} />
      )}
      <OneOf aria-label="Width of the page" value={width} change={setWidth} options={[...widths]} />
      {alone === null ? null : <Button onClick={alone}>Alone again</Button>}
      <Button aria-pressed={outline} onClick={() => setOutline(!outline)}>
        Outline
      </Button>
    </>
  )
}
