'use client'

import { percent } from '@/core/numbers'
import { wilson } from '@/core/stats'
import { count } from '../frame/wording'
import { VersionMark } from '../frame/marks'

interface Column {
  readonly name: string
  /** Who could have begun; `null` where that is not known, and the first step is the beginning. */
  readonly entered: number | null
  readonly passed: readonly number[]
}

/** How many pass each step, and where the others are lost, with what the shares could really be (Wilson, 95%). */
export function Funnel({ columns, steps }: { columns: readonly Column[]; steps: readonly string[] }) {
  return (
    <div className="table-scroll" tabIndex={0} role="region" aria-label="Table, wider than the sheet">
      <table className="rows funnel">
        <thead>
          <tr>
            <th>Step</th>
            {columns.map(({ name }, index) => (
              <th key={name}>
                {columns.length > 1 ? <VersionMark index={index} /> : null} {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {steps.map((step, index) => (
            <tr key={`${index} ${step}`}>
              <td>
                {index + 1}. {step}
              </td>
              {columns.map((column) => (
                <td key={column.name}>
                  <Step column={column} index={index} />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

function Step({ column, index }: { column: Column; index: number }) {
  const passed = column.passed[index] ?? 0
  const start = column.entered ?? column.passed[0] ?? 0
  const before = index === 0 ? column.entered : (column.passed[index - 1] ?? 0)
  const width = start === 0 ? 0 : Math.min(1, passed / start)
  const lost = before === null ? 0 : before - passed
  return (
    <div className="funnel-step">
      <svg viewBox="0 0 100 8" preserveAspectRatio="none" aria-hidden="true">
        <rect className="rest" width="100" height="8" />
        <rect className="passed" width={100 * width} height="8" />
      </svg>
      <span>
        <strong>{count(passed)}</strong>
        {before === null || before === 0 ? null : <ShareOf passed={passed} before={before} lost={lost} />}
      </span>
    </div>
  )
}

function ShareOf({ passed, before, lost }: { passed: number; before: number; lost: number }) {
  const [low, high] = wilson({ n: before, conversions: Math.min(passed, before) }, 0.95)
  return (
    <span className="quiet">
      {' '}
      {percent(Math.min(1, passed / before))} go on ({percent(low)} to {percent(high)}), {count(lost)} lost
    </span>
  )
}
