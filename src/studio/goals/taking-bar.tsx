import type { Output } from '@/contract/contract'
import { count } from '../frame/wording'

/** How far a table of orders is brought in. */
export function TakingBar({ progress: { name, lines, done } }: { progress: Output<'order.progress'> }) {
  return (
    <div className="taking-bar">
      <label>
        <span>
          {name === '' ? 'The table' : `“${name}”`} is being brought in: {count(done)} of {count(lines)} lines.
        </span>
        <progress max={Math.max(1, lines)} value={done} />
      </label>
    </div>
  )
}
