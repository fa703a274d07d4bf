'use client'

import type { ResultView } from '@/contract/contract'
import { lossWords, roughPercent } from '@/core/numbers'
import { BarRows } from './bar-rows'
import { ChartFrame, type ChartTable } from './chart-frame'

/** Nothing is ever quite certain. */
const ALMOST_SURE = 0.9999
const ROOM = 130

const chanceWords = (chance: number) => roughPercent(Math.min(chance, ALMOST_SURE))

/** How likely each version is the best of them, and what choosing it would lose in the mean if it is not. */
export function Chances({ result }: { result: ResultView }) {
  const { chances } = result
  // Before anything can be said of a version, nothing is said of which is likely the best.
  if (chances === null || result.variants.every(({ liftInterval }) => liftInterval === null)) return null
  const table: ChartTable = {
    columns: [
      { name: 'version', as: 'words' },
      { name: 'chance of being the best', as: 'share' },
      { name: 'expected loss', as: 'loss' },
    ],
    rows: chances.map(({ name, chance, loss }) => [name, chance, loss]),
  }
  const rows = chances.map(({ version, name, chance, loss }, index) => ({
    ...{ id: version, name, version: index },
    bars: [
      { value: chance, whole: 1, words: chanceWords(chance) },
      { value: loss, whole: null, words: lossWords(loss) },
    ],
  }))
  return (
    <ChartFrame title="Likely the best" table={table}>
      <BarRows
        rows={rows}
        heads={['how likely it is the best', 'what choosing it would lose']}
        room={ROOM}
        words={chances.map(({ name, chance }) => `${name}: ${chanceWords(chance)} likely the best.`).join(' ')}
      />
      <p className="quiet">
        As if every rate had been as likely as any other before. What choosing a version would lose is the mean over all that may
        be true: where it is the best, nothing; where not, how far it is behind, in points of a hundred visitors.
      </p>
    </ChartFrame>
  )
}
