import { manyRuns, type Runs, type RunsPlan } from '@/core/simulate'

/** What is asked of it, and what it tells as it goes. */
export interface ManyAsked {
  readonly plan: RunsPlan
  readonly runs: number
}

const TELL_EVERY = 120

addEventListener('message', ({ data }: MessageEvent<ManyAsked>) => {
  let told = performance.now()
  let last: Runs | null = null
  for (const so of manyRuns(data.plan, data.runs)) {
    last = so
    if (performance.now() - told < TELL_EVERY) continue
    told = performance.now()
    postMessage(so)
  }
  if (last !== null) postMessage(last)
})
