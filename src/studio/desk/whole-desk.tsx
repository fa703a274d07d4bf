'use client'

import type { ReactNode } from 'react'
import type { AccountView, VersionView } from '@/contract/contract'
import { ORIGINAL } from '@/core/decide'
import { nodeAt, type PropValue } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { titleOf } from '@/components/references'
import type { KeyLines } from '../frame/key-list'
import { Screen } from '../frame/screen'
import { TestNotes } from '../frame/test-notes'
import { WhereUsed } from '../frame/where-used'
import { Files } from '../page/page-notes'
import { DeskBar, deskCommands, DeskTrouble, type Desk } from './desk'
import { FieldList } from './field-list'
import { Revisions } from './revisions'
import { Shelf } from './shelf'
import { fieldName } from './wrong-field'
import { useBeside } from './use-beside'
import { useKeys } from '../frame/use-keys'
import { VersionNotes } from './version-notes'

/** What a desk has whose document varies as a whole: its keys, and the version that stands beside the original. */
export function useWholeDesk(desk: Desk) {
  const { editing, state } = desk
  const root = state.document.root
  const [beside, setBeside] = useBeside(desk)
  const onKey = useKeys({
    plain: {
      v: () => desk.make('chance', null, root),
      ',': () => desk.stepAlong(-1, root),
      '.': () => desk.stepAlong(1, root),
      Escape: () => editing.select(null),
    },
    withControl: {
      z: (shift) => (shift ? editing.redo() : editing.undo()),
      y: editing.redo,
      s: () => void desk.askToPublish(),
    },
  })
  const other: VersionView | undefined = state.versions.find(({ id }) => id === beside)
  return { desk, beside, setBeside, onKey, other }
}

const keyLines: KeyLines = [
  ['v', 'make a variant'],
  [', and .', 'step along the shelf'],
  ['Ctrl+Z, Ctrl+Shift+Z', 'undo, redo'],
  ['Ctrl+S', 'publish, after asking'],
  ['Escape', 'select nothing'],
]

/** The frame of such a desk: its stage on the sheet, its fields first in the margin, its versions on the shelf. */
export function WholeDesk({
  account,
  whole: { desk, beside, setBeside },
  kind,
  tools,
  stage,
  fields,
}: {
  account: AccountView
  whole: ReturnType<typeof useWholeDesk>
  /** “menu”, as in “test of this menu”. */
  kind: string
  tools?: ReactNode
  stage: ReactNode
  fields: ReactNode
}) {
  const { view, editing, state, version } = desk
  const root = state.document.root
  return (
    <Screen
      account={account}
      title={titleOf(state.document)}
      keys={keyLines}
      commands={[
        ...deskCommands(desk),
        { name: `Make a variant of this ${kind}`, keys: 'v', run: () => desk.make('chance', null, root) },
      ]}
      wide
      sheet={
        <div className="page-sheet">
          <DeskBar account={account} desk={desk} tools={tools} />
          <DeskTrouble desk={desk} />
          {stage}
        </div>
      }
      margin={
        <>
          {version === undefined ? null : <VersionNotes key={version.id} account={account} desk={desk} version={version} />}
          {fields}
          <TestNotes title={`Test of this ${kind}`} tests={view.tests} />
          <WhereUsed title="Stands on" places={view.places} />
          <Revisions desk={desk} />
          <Files account={account} desk={desk} />
        </>
      }
      shelf={
        <Shelf
          view={view}
          state={state}
          editing={editing}
          node={root}
          beside={beside}
          setBeside={setBeside}
          make={(manner, from) => desk.make(manner, from, root)}
        />
      }
    />
  )
}

/** The fields of one node of what is on the sheet, the original's beside them where a version is. */
export function NodeFields({ desk, node, without }: { desk: Desk; node: NodeId; without?: readonly string[] }) {
  const { view, state, shown, version, locked } = desk
  return (
    <FieldList
      node={node}
      content={nodeAt(shown, node)}
      original={version === undefined ? undefined : state.document.nodes[node]}
      surroundings={view.surroundings}
      disabled={locked}
      without={without}
      wrong={(prop) => state.wrong.get(fieldName(version?.id ?? ORIGINAL, node, prop))}
      change={(prop: string, value: PropValue) => desk.write(node, prop, value, false)}
    />
  )
}
