'use client'

import { count, percent } from '@/core/numbers'
import { wilson } from '@/core/stats'
import { BarRows } from '../results/bar-rows'
import { ChartFrame, type ChartTable } from '../results/chart-frame'

interface Column {
  readonly name: string
  /** Who could have begun; `null` where that is not known, and the first step is the beginning. */
  readonly entered: number | null
  readonly passed: readonly number[]
}

const ROOM = 300

/** How many pass each step, and where the others are lost, with what the shares could really be (Wilson, 95%). */
export function Funnel({ columns, steps }: { columns: readonly Column[]; steps: readonly string[] }) {
  const told = steps.flatMap((step, index) =>
    columns.map((column, at) => ({ step, index, column, at, ...passedOf(column, index) })),
  )
  const table: ChartTable = {
    columns: [
      { name: 'step', as: 'words' },
      { name: 'version', as: 'words' },
      { name: 'passed', as: 'count' },
      { name: 'of', as: 'count' },
      { name: 'lower', as: 'share' },
      { name: 'upper', as: 'share' },
    ],
    rows: told.map(({ step, index, column, passed, before, interval }) => [
      `${index + 1}. ${step}`,
      ...[column.name, passed, before, interval?.[0] ?? null, interval?.[1] ?? null],
    ]),
  }
  const rows = told.map(({ step, index, at, passed, before, words }) => ({
    ...{ id: `${index} ${at}`, name: at === 0 ? `${index + 1}. ${step}` : '' },
    ...(columns.length > 1 ? { version: at } : {}),
    bars: [{ value: passed, whole: before, words }],
  }))
  return (
    <ChartFrame title="Steps" table={table}>
      <BarRows
        rows={rows}
        room={ROOM}
        above
        versions={columns.length > 1 ? columns.map(({ name }) => name) : []}
        words={told.map(({ step, column, words }) => `${step}, ${column.name}: ${words}.`).join(' ')}
      />
    </ChartFrame>
  )
}

/** Of those who had passed the step before. */
function passedOf({ entered, passed: all }: Column, index: number) {
  const passed = all[index] ?? 0
  const before = index === 0 ? entered : (all[index - 1] ?? 0)
  if (before === null || before === 0) return { passed, before, interval: null, words: count(passed) }
  const interval = wilson({ n: before, conversions: Math.min(passed, before) }, 0.95)
  const [low, high] = interval
  const share = percent(Math.min(1, passed / before))
  return {
    ...{ passed, before, interval },
    words: `${count(passed)}, ${share} go on (${percent(low)} to ${percent(high)}), ${count(before - passed)} lost`,
  }
}
