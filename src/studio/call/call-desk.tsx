'use client'

import { useMemo } from 'react'
import type { AccountView, CallLine, DocumentView } from '@/contract/contract'
import { apply, type ContentDocument, type ContentNode } from '@/core/document'
import type { DocumentId, NodeId } from '@/core/ids'
import { useDesk } from '../desk/desk'
import { PageFrame } from '../desk/page-frame'
import { NodeFields, useWholeDesk, WholeDesk } from '../desk/whole-desk'
import { Note } from '../frame/screen'
import { count, moneyWords, shareWords } from '../frame/wording'
import { useAsk } from '../talk'

/** A call to action in each of the arrangements that a place can give it, with its texts beside it. */
export function CallDesk({ account, view, refetch }: { account: AccountView; view: DocumentView; refetch: () => void }) {
  const desk = useDesk(account, view, refetch)
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

const columns = ['On pages', 'In letters', 'Together'] as const

/** What it has brought, by where it was shown. */
function CallFigures({ id }: { id: DocumentId }) {
  const page = useAsk('call.list', { only: id, channel: 'page' }).data
  const newsletter = useAsk('call.list', { only: id, channel: 'newsletter' }).data
  const [onPages, inLetters] = [page?.lines[0], newsletter?.lines[0]]
  // Added up here: asked for by itself it would be of another moment, and not what the two before it make.
  const lines = [onPages, inLetters, together(onPages, inLetters)]
  const currency = page?.currency ?? 'EUR'
  const row = (name: string, of: (line: Figures) => string) => (
    <tr>
      <th scope="row">{name}</th>
      {lines.map((line, index) => (
        <td key={columns[index]} className="number">
          {line === undefined ? '' : of(line)}
        </td>
      ))}
    </tr>
  )
  return (
    <Note title="So far">
      <div className="table-scroll" role="region" aria-label="What it has brought" tabIndex={0}>
        <table className="rows by-channel">
          <thead>
            <tr>
              <td />
              {columns.map((words) => (
                <th key={words} className="number">
                  {words}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {row('Seen', ({ views }) => count(views))}
            {row('Pressed', ({ clicks }) => count(clicks))}
            {row('Of those', ({ clicks, views }) => shareWords(clicks, views))}
            {row('Goals', ({ submissions }) => count(submissions))}
            {row('Orders open', ({ ordersOpen }) => count(ordersOpen))}
            {row('Closed', ({ ordersClosed }) => count(ordersClosed))}
            {row('Revenue', ({ revenue }) => moneyWords(Math.round(revenue), currency).replace(/\.00$/, ''))}
          </tbody>
        </table>
      </div>
      <p className="quiet">
        Goals and orders are those reached within fourteen days of a press, the last press where there were several; revenue is
        after what was paid back.
      </p>
    </Note>
  )
}

type Figures = Pick<CallLine, 'views' | 'clicks' | 'submissions' | 'ordersOpen' | 'ordersClosed' | 'revenue'>

function together(one: Figures | undefined, other: Figures | undefined): Figures | undefined {
  if (one === undefined || other === undefined) return undefined
  return {
    views: one.views + other.views,
    clicks: one.clicks + other.clicks,
    submissions: one.submissions + other.submissions,
    ordersOpen: one.ordersOpen + other.ordersOpen,
    ordersClosed: one.ordersClosed + other.ordersClosed,
    revenue: one.revenue + other.revenue,
  }
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
