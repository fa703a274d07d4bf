'use client'

import type { ResultView } from '@/contract/contract'
import { readingWords } from '@/core/experiment'
import { percent, signed } from '@/core/numbers'
import { Check } from '../controls/choices'
import { useAddress } from '../frame/use-address'
import { ChartFrame, type ChartTable } from './chart-frame'
import { IntervalRows } from './interval-rows'

/** A row for each variant: interval and point against the original's line; right of the line is more. */
export function LiftIntervals({ result }: { result: ResultView }) {
  const { smallestEffect, steadied } = result
  const [asks, narrow] = useAddress(['before'])
  const takenOut = steadied !== null && asks.before === 'out'
  const variants = takenOut
    ? result.variants.map((one) => ({ ...one, ...steadied.variants.find(({ version }) => version === one.version) }))
    : result.variants
  const rows = variants.map(({ version, name, lift, liftInterval, reading }, index) => {
    const isTrusted = reading !== 'notToBeTrusted'
    return {
      ...{ id: version, name, under: readingWords[reading], version: index + 1, measured: null },
      interval: isTrusted ? liftInterval : null,
      point: isTrusted ? lift : null,
      isStrong: reading === 'better' || reading === 'worse' || reading === 'noDifference',
    }
  })
  const table: ChartTable = {
    columns: [
      { name: 'variant', as: 'words' },
      { name: 'reading', as: 'words' },
      { name: 'lift', as: 'lift' },
      { name: 'lower', as: 'lift' },
      { name: 'upper', as: 'lift' },
      { name: 'always-valid p', as: 'pValue' },
    ],
    rows: variants.map(({ name, reading, lift, liftInterval, pValue }) => [
      name,
      readingWords[reading],
      lift,
      liftInterval?.[0] ?? null,
      liftInterval?.[1] ?? null,
      pValue,
    ]),
  }
  return (
    <ChartFrame
      title={takenOut ? 'Lift over the original, what was done before taken out' : 'Lift over the original'}
      table={table}
    >
      <IntervalRows
        rows={rows}
        words={variants.map(({ words }) => words).join(' ')}
        tickWords={signed}
        band={[-smallestEffect, smallestEffect]}
        least={smallestEffect * 1.5}
        unknown={variants.some(({ reading }) => reading === 'notToBeTrusted') ? 'not drawn' : 'no interval yet'}
      />
      <p className="quiet">
        The shaded band is no difference worth having (under {percent(smallestEffect)}). Intervals hold at every moment at once:
        looking daily does no harm.
      </p>
      {steadied === null ? null : (
        <div className="steadied not-printed">
          <Check checked={takenOut} change={(on) => narrow({ before: on ? 'out' : '' })}>
            Take out what visitors had done before they saw it
          </Check>
          <p className="quiet">
            {steadied.words}
            {takenOut ? ' The sentence and the readings go by the plain numbers all the same.' : ''}
          </p>
        </div>
      )}
    </ChartFrame>
  )
}
