'use client'

import type { ResultView } from '@/contract/contract'
import { signed } from '@/core/numbers'
import { colourOf, markPath } from '../frame/marks'
import { dayWords } from '../frame/wording'
import { useAsk } from '../talk'
import { ChartFrame, type ChartTable } from './chart-frame'
import { evidenceGeometry, type EvidencePanel } from './evidence-geometry'

interface Props {
  readonly result: ResultView
  readonly names: (version: string) => string
}

/** The interval as a ribbon that narrows day by day; a flag where it first cleared the line. Rounds before stand beside it. */
export function EvidenceOverTime({ result, names }: Props) {
  const { round, roundNumber, crowd, goal } = result
  const asked = useAsk('result.before', { round, goal: goal.id }, { enabled: crowd === 0 && roundNumber > 1 })
  const before = asked.data?.rounds ?? []
  const rounds = [...before, { number: roundNumber, series: result.overTime }]
  const drawn = evidenceGeometry(rounds, result.smallestEffect)
  const soon = <p className="quiet">Evidence over time is drawn from the second day on.</p>
  if (drawn === null) return soon
  const table: ChartTable = {
    columns: [
      { name: 'round', as: 'count' },
      { name: 'variant', as: 'words' },
      { name: 'day', as: 'words' },
      { name: 'lift', as: 'lift' },
      { name: 'lower', as: 'lift' },
      { name: 'upper', as: 'lift' },
    ],
    rows: rounds.flatMap(({ number, series }) =>
      series.flatMap(({ version, points }) =>
        points.map(({ day, lift, lower, upper }) => [number, names(version), day, lift, lower, upper]),
      ),
    ),
  }
  const indexOf = (version: string) => result.overTime.findIndex((one) => one.version === version) + 1
  const { width, height, panels } = drawn
  return (
    <>
      <ChartFrame title="Evidence over time" table={table}>
        <svg
          viewBox={`0 0 ${width} ${height}`}
          role="img"
          aria-label="How the interval of the lift narrowed day by day; the table has the figures."
        >
          {panels.map((panel) => {
            const only = panel.lines[0]?.version ?? ''
            return <Panel key={only} panel={panel} title={panels.length === 1 ? null : names(only)} indexOf={indexOf} />
          })}
        </svg>
        {panels[0]?.breaks.length ? (
          <p className="quiet">
            Each round is read by itself, from empty counts: no line goes from one into the next, and they are not added up.
          </p>
        ) : null}
      </ChartFrame>
      {drawn.isDrawn ? null : soon}
    </>
  )
}

interface PanelProps {
  readonly panel: EvidencePanel
  readonly title: string | null
  readonly indexOf: (version: string) => number
}

function Panel({ panel, title, indexOf }: PanelProps) {
  const { box, left, right, top, bottom, zero, band, levels, days, breaks, lines } = panel
  return (
    <g transform={`translate(${box.left} ${box.top})`}>
      {title === null ? null : (
        <text x={left} y={14} className="row-name">
          {title}
        </text>
      )}
      <rect x={left} y={band.y} width={right - left} height={band.height} className="no-worth" />
      {levels.map(({ value, y }) => (
        <text key={value} x={left - 8} y={y + 4} textAnchor="end" className="tick">
          {value === 0 ? 'original' : signed(value)}
        </text>
      ))}
      <path d={`M${left} ${zero}H${right}`} className="original-line" />
      {breaks.map(({ round, x, gap }) => (
        <g key={round}>
          {gap === null ? null : <path d={`M${gap} ${top}V${bottom}`} className="round-break" />}
          <text x={x + 4} y={bottom - 5} className="tick">
            round {round}
          </text>
        </g>
      ))}
      {lines.map(({ version, ribbon }) => (
        <path key={version} d={ribbon} fill={colourOf(indexOf(version))} fillOpacity={0.2} />
      ))}
      {lines.map(({ version, middle, cleared }) => (
        <g key={version}>
          <path d={middle} fill="none" stroke={colourOf(indexOf(version))} strokeWidth={2} />
          {cleared === null ? null : <Cleared {...cleared} index={indexOf(version)} top={top + 2} bottom={bottom} />}
        </g>
      ))}
      {days.map(({ day, x }) => (
        <text key={day.toISOString()} x={x} y={box.height - 8} textAnchor="middle" className="tick">
          {day.toLocaleDateString('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' })}
        </text>
      ))}
    </g>
  )
}

interface ClearedProps {
  readonly day: string
  readonly x: number
  readonly side: 'start' | 'end'
  readonly index: number
  readonly top: number
  readonly bottom: number
}

/** The day on which the interval first left the line. */
function Cleared({ day, x, side, index, top, bottom }: ClearedProps) {
  return (
    <g transform={`translate(${x} 0)`}>
      <path d={`M0 ${top}V${bottom}`} className="cleared-line" />
      <g transform={`translate(-8 ${top - 12})`}>
        <path d={markPath(index)} fill={colourOf(index)} />
      </g>
      <text x={side === 'end' ? -12 : 12} y={top} textAnchor={side} className="tick">
        clear since {dayWords(day)}
      </text>
    </g>
  )
}
