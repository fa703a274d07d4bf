'use client'

import { useMemo } from 'react'
import type { AccountView, DocumentView } from '@/contract/contract'
import { apply, nodeAt, type ContentDocument, type ContentNode, type PropValue } from '@/core/document'
import type { DocumentId, NodeId } from '@/core/ids'
import { DeskBar, DeskTrouble, useDesk } from '../desk/desk'
import { useBeside } from '../desk/use-beside'
import { FieldList } from '../desk/field-list'
import { PageFrame } from '../desk/page-frame'
import { Revisions } from '../desk/revisions'
import { Shelf } from '../desk/shelf'
import { useKeys } from '../desk/use-keys'
import { VersionNotes } from '../desk/version-notes'
import { Note, Screen } from '../frame/screen'
import { TestNotes } from '../frame/test-notes'
import { count, plural } from '../frame/wording'
import { Files, WhereUsed } from '../page/page-notes'
import { useAsk } from '../talk'
import { shareWords } from './share-words'

/** A call to action in each of the arrangements that a place can give it, with its texts beside it. */
export function CallDesk({ account, view, refetch }: { account: AccountView; view: DocumentView; refetch: () => void }) {
  const desk = useDesk(view, refetch)
  const { editing, state, shown, version, locked } = desk
  const { document } = state
  const [beside, setBeside] = useBeside(desk)
  useKeys({
    plain: {
      v: () => desk.make('chance', null, document.root),
      ',': () => desk.stepAlong(-1, document.root),
      '.': () => desk.stepAlong(1, document.root),
    },
    withControl: {
      z: (shift) => (shift ? editing.redo() : editing.undo()),
      y: editing.redo,
      s: () => void desk.askToPublish(),
    },
  })
  const around = useMemo(() => [...view.surroundings, shown], [view.surroundings, shown])
  const other = state.versions.find(({ id }) => id === beside)
  const gallery = useMemo(() => everyArrangement(shown.id), [shown.id])
  return (
    <Screen
      account={account}
      wide
      sheet={
        <div className="page-sheet">
          <DeskBar account={account} desk={desk} />
          <DeskTrouble desk={desk} />
          <div className="page-stage">
            {other === undefined ? null : (
              <PageFrame
                document={gallery}
                surroundings={[...view.surroundings, document]}
                width={980}
                label="The original call to action in each arrangement"
              />
            )}
            <PageFrame
              document={gallery}
              surroundings={other === undefined ? around : [...view.surroundings, apply(document, other.edits).document]}
              width={980}
              label="The call to action in each arrangement"
            />
          </div>
        </div>
      }
      margin={
        <>
          {version === undefined ? null : <VersionNotes key={version.id} account={account} desk={desk} version={version} />}
          <Note title="The call to action">
            <FieldList
              node={document.root}
              content={nodeAt(shown, document.root)}
              original={version === undefined ? undefined : nodeAt(document, document.root)}
              surroundings={view.surroundings}
              disabled={locked}
              change={(prop: string, value: PropValue) => desk.write(document.root, prop, value, false)}
            />
          </Note>
          <CallFigures id={document.id} />
          <TestNotes title="Test of this call to action" tests={view.tests} />
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
          node={document.root}
          beside={beside}
          setBeside={setBeside}
          make={(manner, from) => desk.make(manner, from, document.root)}
        />
      }
    />
  )
}

function CallFigures({ id }: { id: DocumentId }) {
  const asked = useAsk('call.list', {})
  const line = asked.data?.lines.find((one) => one.id === id)
  if (line === undefined) return null
  return (
    <Note title="So far">
      <p className="figures">
        Seen <strong>{count(line.views)}</strong> times, pressed <strong>{count(line.clicks)}</strong> times
        {line.views === 0 ? '' : ` (${shareWords(line.clicks, line.views)})`}.{' '}
        {plural(line.submissions, 'goal was', 'goals were')} reached within fourteen days of a press, worth {count(line.worth)}.
      </p>
    </Note>
  )
}

/** A sheet on which the call to action stands as a banner, as a card, and as a button alone. */
function everyArrangement(id: DocumentId): ContentDocument {
  const nodes: Record<string, ContentNode> = {}
  const put = (name: string, node: ContentNode): NodeId => {
    nodes[name] = node
    return name as NodeId
  }
  const places = ['banner', 'card', 'button'].map((arrangement) =>
    put(arrangement, { type: 'callToAction', props: { callToAction: id, arrangement }, children: [] }),
  )
  const sections = places.map((place) =>
    put(`${place}-section`, { type: 'section', props: { spacing: 'close' }, children: [place] }),
  )
  const root = put('sheet', { type: 'mainPart', props: {}, children: sections })
  return { id: 'arrangements' as DocumentId, kind: 'page', root, nodes }
}
