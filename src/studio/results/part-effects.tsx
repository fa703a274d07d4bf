'use client'

import type { ResultView } from '@/contract/contract'
import { count, points, pointsBetween } from '@/core/numbers'
import { ChartFrame, type ChartTable } from './chart-frame'
import { IntervalRows } from './interval-rows'

type Parts = NonNullable<ResultView['parts']>

/** In a test of combinations: what each version of each part adds, over whatever the other parts show. */
export function PartEffects({ parts: found, partNames }: { parts: Parts; partNames: readonly string[] }) {
  const { levels, pairs } = found
  const table: ChartTable = {
    columns: [
      { name: 'part', as: 'words' },
      { name: 'version', as: 'words' },
      { name: 'saw it', as: 'count' },
      { name: 'reached the goal', as: 'count' },
      { name: 'adds', as: 'points' },
      { name: 'lower', as: 'points' },
      { name: 'upper', as: 'points' },
    ],
    rows: levels.map(({ part, name, exposed, converters, difference, interval }) => [
      ...[partNames[part] ?? '', name, exposed, converters, difference, interval?.[0] ?? null, interval?.[1] ?? null],
    ]),
  }
  const words = levels.map(({ part, name, interval }) => `${partNames[part] ?? ''}: ‘${name}’ ${levelWords(interval)}`)
  return (
    <ChartFrame title="Which part does what" table={table}>
      <IntervalRows
        rows={levels.map(({ part, version, name, difference, interval }) => ({
          ...{ id: `${part} ${version}`, name, under: partNames[part] ?? '', interval, point: difference, measured: null },
        }))}
        words={words.join('. ')}
        tickWords={(value) => points(value).replace(/ points?$/, '')}
        unknown="too early"
      />
      <p className="quiet">
        What each version adds to its part’s original, in points of a hundred visitors, whatever the other parts show. Safe to
        look at daily, for all of them together.
      </p>
      {pairs.length === 0 ? null : (
        <ul className="plain-list">
          {pairs
            .filter(({ beyondChance }, index) => beyondChance || index === 0)
            .map(({ names: [one, other], parts, difference, interval, beyondChance }) => (
              <li key={`${parts.join(' ')} ${one} ${other}`}>
                {beyondChance
                  ? `‘${one}’ and ‘${other}’ together bring ${difference > 0 ? 'more' : 'less'} than each by itself: ${pointsBetween(interval)}.`
                  : 'Nothing says that any two of them work differently together than each by itself.'}
              </li>
            ))}
        </ul>
      )}
    </ChartFrame>
  )
}

function levelWords(interval: readonly [number, number] | null): string {
  return interval === null ? 'cannot be told yet' : `adds ${pointsBetween(interval)}`
}

/** Other tests that the same visitors were in. */
export function BesideOthers({ beside }: { beside: ResultView['beside'] }) {
  if (beside.length === 0) return null
  return (
    <section className="beside-others" aria-label="Tests that ran beside it">
      <h3>Tests that ran beside it</h3>
      <ul className="plain-list">
        {beside.map(({ round, words, visitors, differs }) => (
          <li key={round} className={differs ? 'asks' : ''}>
            {words} <span className="quiet">{count(visitors)} visitors were in both.</span>
          </li>
        ))}
      </ul>
    </section>
  )
}
