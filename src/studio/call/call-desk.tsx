'use client'

import { useMemo } from 'react'
import type { AccountView, DocumentView } from '@/contract/contract'
import { apply, type ContentDocument, type ContentNode } from '@/core/document'
import type { DocumentId, NodeId } from '@/core/ids'
import { useDesk } from '../desk/desk'
import { PageFrame } from '../desk/page-frame'
import { NodeFields, useWholeDesk, WholeDesk } from '../desk/whole-desk'
import { Note } from '../frame/screen'
import { count, moneyWords, plural, shareWords } from '../frame/wording'
import { useAsk } from '../talk'

/** A call to action in each of the arrangements that a place can give it, with its texts beside it. */
export function CallDesk({ account, view, refetch }: { account: AccountView; view: DocumentView; refetch: () => void }) {
  const desk = useDesk(view, refetch)
  const whole = useWholeDesk(desk)
  const { state, shown } = desk
  const { document } = state
  const { other } = whole
  const gallery = useMemo(() => everyArrangement(shown.id), [shown.id])
  const changed = useMemo(() => (other === undefined ? shown : apply(document, other.edits).document), [other, shown, document])
  const around = useMemo(() => [...view.surroundings, changed], [view.surroundings, changed])
  return (
    <WholeDesk
      account={account}
      whole={whole}
      kind="call to action"
      stage={
        <div className="page-stage">
          {other === undefined ? null : (
            <PageFrame
              document={gallery}
              surroundings={[...view.surroundings, document]}
              width={980}
              label="The original call to action in each arrangement"
              onKey={whole.onKey}
            />
          )}
          <PageFrame
            document={gallery}
            surroundings={around}
            width={980}
            label="The call to action in each arrangement"
            onKey={whole.onKey}
          />
        </div>
      }
      fields={
        <>
          <Note title="The call to action">
            <NodeFields desk={desk} node={document.root} />
          </Note>
          <CallFigures id={document.id} />
        </>
      }
    />
  )
}

function CallFigures({ id }: { id: DocumentId }) {
  const asked = useAsk('call.list', { only: id })
  const line = asked.data?.lines[0]
  if (line === undefined) return null
  return (
    <Note title="So far">
      <p className="figures">
        Seen <strong>{count(line.views)}</strong> times, pressed <strong>{count(line.clicks)}</strong> times
        {line.views === 0 ? '' : ` (${shareWords(line.clicks, line.views)})`}.{' '}
        {plural(line.submissions, 'goal was', 'goals were')} reached within fourteen days of a press, worth {count(line.worth)}.
      </p>
      <p className="figures">
        It led to orders of <strong>{moneyWords(line.revenue, asked.data?.currency ?? 'EUR')}</strong>, after what was paid back:{' '}
        {count(line.ordersOpen)} open, {count(line.ordersClosed)} closed.
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
