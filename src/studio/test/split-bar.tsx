'use client'

import { useRef, type KeyboardEvent, type PointerEvent } from 'react'
import { WHOLE } from '@/core/decide'
import { evenWeights, moveBorder } from '@/core/experiment'
import { percent } from '@/core/numbers'
import { colourOf, VersionMark } from '../frame/marks'

/** Whole percents: nobody means a share more exactly. */
const STEP = 100

/** Who sees what as one bar: its borders are dragged, or moved by the arrow keys; “=” makes all parts alike. */
export function SplitBar({
  arms,
  disabled,
  change,
}: {
  arms: readonly { readonly version: string; readonly name: string; readonly weight: number }[]
  disabled: boolean
  change: (weights: number[]) => void
}) {
  const bar = useRef<HTMLDivElement>(null)
  const weights = arms.map(({ weight }) => weight)
  const upTo = (index: number) => weights.slice(0, index + 1).reduce((sum, weight) => sum + weight, 0)
  const drag = (border: number) => (event: PointerEvent<HTMLDivElement>) => {
    if (disabled || !event.currentTarget.hasPointerCapture(event.pointerId)) return
    const box = bar.current?.getBoundingClientRect()
    if (box === undefined || box.width === 0) return
    const to = ((event.clientX - box.left) / box.width) * WHOLE
    change(moveBorder(weights, border, Math.round(to / STEP) * STEP))
  }
  const press = (border: number) => (event: KeyboardEvent) => {
    const steps: Record<string, number> = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1, PageDown: -10, PageUp: 10 }
    if (event.key === '=') change(evenWeights(arms.length))
    else if (event.key === 'Home') change(moveBorder(weights, border, 0))
    else if (event.key === 'End') change(moveBorder(weights, border, WHOLE))
    else if (Object.hasOwn(steps, event.key)) change(moveBorder(weights, border, upTo(border) + (steps[event.key] ?? 0) * STEP))
    else return
    event.preventDefault()
  }
  return (
    <div className="split-bar" ref={bar} role="group" aria-label="Who sees which version">
      {arms.map(({ version, name, weight }, index) => (
        <div key={version} className="split-part" style={{ flexGrow: weight, borderBlockEndColor: colourOf(index) }} title={name}>
          <span>
            <VersionMark index={index} /> {percent(weight / WHOLE)}
          </span>
          {index === arms.length - 1 ? null : (
            <div
              className="split-border"
              role="slider"
              tabIndex={disabled ? -1 : 0}
              aria-disabled={disabled}
              aria-label={`Border between ${name} and ${arms[index + 1]?.name ?? ''}`}
              aria-valuemin={0}
              aria-valuemax={100}
              aria-valuenow={Math.round(upTo(index) / STEP)}
              aria-valuetext={`${name} ${percent(weight / WHOLE)}, ${arms[index + 1]?.name ?? ''} ${percent((weights[index + 1] ?? 0) / WHOLE)}`}
              onPointerDown={(event) => {
                if (disabled) return
                event.currentTarget.setPointerCapture(event.pointerId)
                event.preventDefault()
                event.currentTarget.focus()
              }}
              onPointerMove={drag(index)}
              onKeyDown={disabled ? undefined : press(index)}
            />
          )}
        </div>
      ))}
    </div>
  )
}
