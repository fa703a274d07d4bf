'use client'

import type { Output } from '@/contract/contract'
import { useAsk } from '../talk'

type Touched = Output<'site.madeUp'>

/** Beside a number: says that made-up people are in it, where they are. Asks once for all screens. */
export function MadeUp({ touched }: { touched: (which: Touched) => boolean }) {
  const asked = useAsk('site.madeUp', {})
  if (asked.data === undefined || !touched(asked.data)) return null
  return (
    <span className="made-up" title="This is a demonstration site: what made-up readers of a newsletter did is counted here too.">
      with made-up readers
    </span>
  )
}
