'use client'

import type { ResultView } from '@/contract/contract'
import { signed } from '@/core/numbers'
import { ChartFrame, type ChartTable } from './chart-frame'
import { IntervalRows } from './interval-rows'

const stretchWords = ({ from, to }: ResultView['ages'][number]) =>
  to === 0 ? 'on the first day' : from === to ? `after ${from} day` : `after ${from} to ${to} days`

/** Whether what a variant adds wears off: its lift by the days since its visitors first saw it. */
export function EffectByAge({ result, names }: { result: ResultView; names: (version: string) => string }) {
  const { ages, rates } = result
  if (ages.length < 2) return null
  const variants = rates.slice(1).map(({ version }) => version)
  const rows = ages.flatMap((age) =>
    variants.map((version, index) => {
      const { lift = null, interval = null } = age.lifts.find((one) => one.version === version) ?? {}
      return {
        ...{ id: `${age.from} ${version}`, name: index === 0 ? stretchWords(age) : '', under: '', version: index + 1 },
        ...{ interval, point: interval === null ? null : lift, measured: null, isStrong: false },
      }
    }),
  )
  const table: ChartTable = {
    columns: [
      { name: 'days since first seen', as: 'words' },
      { name: 'variant', as: 'words' },
      { name: 'lift', as: 'lift' },
      { name: 'lower', as: 'lift' },
      { name: 'upper', as: 'lift' },
    ],
    rows: ages.flatMap((age) =>
      age.lifts.map(({ version, lift, interval }) => [
        stretchWords(age),
        names(version),
        lift,
        interval?.[0] ?? null,
        interval?.[1] ?? null,
      ]),
    ),
  }
  return (
    <ChartFrame title="By days since first seen" table={table}>
      <IntervalRows
        rows={rows}
        words="The lift of each variant by the days since its visitors first saw it; the table has the figures."
        tickWords={signed}
        least={0.1}
        together={variants.length}
        unknown=""
      />
      <p className="quiet">
        An effect of the first days that is gone later was its novelty. These intervals hold for one look each: to explore, not to
        decide.
      </p>
    </ChartFrame>
  )
}
