'use client'

import { Button } from '../controls/button'
import Link from 'next/link'
import type { GoalView } from '@/contract/contract'
import type { Goal } from '@/core/goals'
import { useMessages } from '../frame/messages'
import { dayWords } from '../frame/wording'
import { useAsk } from '../talk'

/** How a page elsewhere reports this goal: lines to copy, and whether anything has come. */
export function FromElsewhere({ view, goal }: { view: GoalView; goal: Goal }) {
  const message = useMessages()
  const keys = useAsk('key.list', {})
  const { wiring } = goal
  // Without the address of the site there is nothing to copy yet.
  if ((wiring.kind !== 'event' && wiring.kind !== 'order') || keys.data === undefined) return null
  const { address } = keys.data
  const live = keys.data.keys.filter(({ revokedAt }) => revokedAt === null)
  const snippet = snippetFor(address, wiring)
  const copy = () =>
    void navigator.clipboard.writeText(snippet).then(
      () => void message.success('Copied. Put your key in place of YOUR-KEY.'),
      () => void message.error('The browser did not let it be copied. Select the lines and copy them.', 8),
    )
  return (
    <section className="band" aria-label="From elsewhere">
      <h2>From elsewhere</h2>
      <p>
        Put these lines into the page where it happens
        {wiring.kind === 'order' ? ', with the number and the value of the order' : ''}. The key is that of the page’s origin
        {live.length === 0 ? (
          <>
            ; <Link href="/settings">no origin has one yet</Link>.
          </>
        ) : (
          <>
            : {live.map(({ origin }) => origin).join(', ')} (<Link href="/settings">keys</Link>).
          </>
        )}
      </p>
      <pre className="snippet" aria-label="Snippet">
        {snippet}
      </pre>
      <div className="place-tools">
        <Button onClick={copy}>Copy</Button>
        <p className={view.seenAt === null ? 'quiet' : 'living-line'} role="status">
          {view.seenAt === null
            ? 'Nothing has been seen from it yet. This line changes when the first report comes.'
            : `It has been seen: the first report came on ${dayWords(view.seenAt)}.`}
        </p>
      </div>
    </section>
  )
}

function snippetFor(address: string, wiring: Extract<Goal['wiring'], { kind: 'event' | 'order' }>): string {
  if (wiring.kind === 'order')
    return `<script src="${address}/look/report.js" data-key="YOUR-KEY" data-order="ORDER-NUMBER" data-value="24.00" defer></script>`
  return [
    `<script src="${address}/look/report.js" data-key="YOUR-KEY" data-event="${wiring.event}" defer></script>`,
    `<noscript><img src="${address}/report/image?key=YOUR-KEY&amp;event=${wiring.event}" alt="" width="1" height="1"></noscript>`,
  ].join('\n')
}
