'use client'

import { openOverlay, useOverlay } from './overlay'
import { SheetOver } from '../controls/sheet-over'

/** Keys, and what they do. */
export type KeyLines = readonly (readonly [string, string])[]

const everywhere: KeyLines = [
  ['/', 'find a page, a part, a test, a goal, or something to do'],
  ['?', 'these keys'],
  ['Tab, Enter', 'go from one thing to the next; press it'],
  ['Escape', 'close what is open, one thing at a time'],
]

/** The keys of the screen that is open. */
export function KeyList({ keys }: { keys: KeyLines }) {
  const open = useOverlay() === 'keys'
  if (!open) return null
  return (
    <SheetOver title="Keys on this screen" close={() => openOverlay(null)}>
      {keys.length === 0 ? null : <Lines lines={keys} />}
      <h3>On every screen</h3>
      <Lines lines={everywhere} />
    </SheetOver>
  )
}

function Lines({ lines }: { lines: KeyLines }) {
  return (
    <dl className="shortcuts">
      {lines.map(([keys, what]) => (
        <div key={keys}>
          <dt>
            <kbd>{keys}</kbd>
          </dt>
          <dd>{what}</dd>
        </div>
      ))}
    </dl>
  )
}
