'use client'

import { useId, useState, type ReactNode } from 'react'
import { mayAs, type AccountView, type TestView } from '@/contract/contract'
import type { Schedule, StopRule } from '@/core/experiment'
import { NumberField } from '../controls/fields'
import { Choice } from '../controls/choices'
import { siteZone } from '../frame/wording'
import type { Editing } from './test-screen'

const usualRule: StopRule = { days: 14, visitors: 1000, until: 'settled' }

const untilWords: { readonly [Until in StopRule['until']]: string } = {
  settled: 'and its result is settled',
  smallLoss: 'and hardly anything is to be lost by choosing the best',
  enough: 'whatever its result says',
}

/** When it starts, when it ends, and what happens then: each a sentence with its words to choose. */
export function WhenBand({ account, test, editing }: { account: AccountView; test: TestView; editing: Editing }) {
  const { schedule } = editing.design
  const change = (part: Partial<Schedule>) => editing.change({ schedule: { ...schedule, ...part } })
  const isFixed =
    test.status === 'ended' || test.status === 'settled' || (test.status !== 'draft' && !mayAs(account.role, 'publisher'))
  const started = test.status === 'running' || test.status === 'paused' || isFixed
  const { stop } = schedule
  const endKind = schedule.end !== null ? 'at' : stop !== null ? 'rule' : 'hand'
  return (
    <section className="band when" aria-label="When">
      <h2>When</h2>
      <Line label="It starts">
        <Choice
          aria-label="How it starts"
          value={schedule.start === null ? 'hand' : 'at'}
          disabled={started}
          change={(value) => change({ start: value === 'at' ? nextMorning(1) : null })}
          options={[
            { value: 'hand', label: 'when somebody presses Start' },
            { value: 'at', label: 'by itself, at' },
          ]}
        />
        {schedule.start === null ? null : (
          <Clock label="Start" value={schedule.start} disabled={started} change={(start) => change({ start })} />
        )}
      </Line>
      <Line label="It ends">
        <Choice
          aria-label="How it ends"
          value={endKind}
          disabled={isFixed}
          change={(kind) =>
            change({ end: kind === 'at' ? nextMorning(15) : null, stop: kind === 'rule' ? (stop ?? usualRule) : null })
          }
          options={[
            { value: 'hand', label: 'when somebody ends it' },
            { value: 'at', label: 'by itself, at' },
            { value: 'rule', label: 'by itself, after at least' },
          ]}
        />
        {schedule.end === null ? null : (
          <Clock label="End" value={schedule.end} disabled={isFixed} change={(end) => change({ end })} />
        )}
        {stop === null || endKind !== 'rule' ? null : (
          <StopFields rule={stop} disabled={isFixed} change={(rule) => change({ stop: rule })} />
        )}
      </Line>
      {endKind === 'hand' ? null : (
        <Line label="And then">
          <Choice
            aria-label="What happens when it ends by itself"
            value={schedule.then}
            disabled={isFixed}
            change={(then) => change({ then })}
            options={[
              { value: 'wait', label: 'it waits for somebody to decide' },
              { value: 'takeBetter', label: 'a better variant is taken over, else the original stays' },
            ]}
          />
          {schedule.then === 'wait' ? null : (
            <span className="quiet">never against a guard, nor by counts that are not to be trusted; it can be taken back</span>
          )}
        </Line>
      )}
      {schedule.start === null && schedule.end === null ? null : <p className="quiet">By the clock of the site: {siteZone()}.</p>}
    </section>
  )
}

function Line({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="when-line">
      <span className="when-label">{label}</span>
      <div>{children}</div>
    </div>
  )
}

function Clock({
  label,
  value,
  disabled,
  change,
}: {
  label: string
  value: string
  disabled: boolean
  change: (value: string) => void
}) {
  const [typed, setTyped] = useState<string | null>(null)
  // A year that is half typed is a year as well: only what is left standing is meant.
  const keep = () => {
    if (typed !== null && typed !== '' && typed !== value) change(typed.slice(0, 16))
    setTyped(null)
  }
  return (
    <input
      type="datetime-local"
      className="control"
      aria-label={label}
      value={typed ?? value}
      disabled={disabled}
      onChange={({ target }) => setTyped(target.value)}
      onBlur={keep}
      onKeyDown={({ key }) => key === 'Enter' && keep()}
    />
  )
}

function StopFields({ rule, disabled, change }: { rule: StopRule; disabled: boolean; change: (rule: StopRule) => void }) {
  const id = useId()
  return (
    <>
      <NumberField
        id={`${id}-days`}
        aria-label="Days at least"
        value={rule.days}
        min={1}
        max={365}
        step={1}
        digits={0}
        disabled={disabled}
        unit="days"
        change={(days) => change({ ...rule, days: Math.max(1, Math.round(days)) })}
      />
      <NumberField
        id={`${id}-visitors`}
        aria-label="Visitors of each version at least"
        value={rule.visitors}
        min={0}
        max={10_000_000}
        step={100}
        digits={0}
        disabled={disabled}
        unit="visitors of each version"
        change={(visitors) => change({ ...rule, visitors: Math.max(0, Math.round(visitors)) })}
      />
      <Choice
        aria-label="What its result has to say"
        value={rule.until}
        disabled={disabled}
        change={(until) => change({ ...rule, until })}
        options={(Object.keys(untilWords) as StopRule['until'][]).map((value) => ({ value, label: untilWords[value] }))}
      />
    </>
  )
}

/** Nine in the morning in so many days: a time to begin with. */
function nextMorning(days: number): string {
  const day = new Date(Date.now() + days * 86_400_000)
  return `${day.toISOString().slice(0, 10)}T09:00`
}
