import type { Output } from '@/contract/contract'
import { count } from '../frame/wording'
import { sizeWords } from './size-words'

/** How many of those who came lately a condition fits, with how far the reading of them has come. */
export function AudienceSize({ size, would }: { size: Output<'test.audience'> | undefined; would: string }) {
  const awaited = size?.kind === 'share' ? (size.awaited ?? null) : null
  return (
    <p className="quiet" aria-live="polite">
      {size === undefined ? 'Looking at who came lately …' : sizeWords(size, would)}
      {size?.kind === 'share' && awaited !== null ? (
        <span className="reading-on">
          <progress aria-label="Visitors read" value={size.of} max={awaited} /> {count(size.of)} of {count(awaited)} read
        </span>
      ) : null}
    </p>
  )
}
