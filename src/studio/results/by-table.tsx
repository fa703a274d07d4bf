'use client'

import { useState } from 'react'
import type { ByView, ResultView } from '@/contract/contract'
import { divisions, isNarrowable, type Division } from '@/core/experiment'
import { percent } from '@/core/numbers'
import { Choice } from '../controls/choices'
import { Waiting } from '../frame/screen'
import { useAddress } from '../frame/use-address'
import { count } from '../frame/wording'
import { useAsk } from '../talk'
import { VersionsTable } from './versions-table'

const byWords: { readonly [By in Division]: string } = {
  goal: 'goal',
  device: 'device',
  returning: 'new or returning',
  source: 'where they came from',
  region: 'where they are',
  language: 'language of their browser',
  segment: 'segment',
  day: 'day',
  round: 'round',
  channel: 'page or newsletter',
}
const first: { readonly [By in Division]: string } = {
  ...{ goal: 'Goal', device: 'Visitors', returning: 'Visitors', source: 'Visitors', region: 'Visitors' },
  ...{ language: 'Visitors', segment: 'Visitors', day: 'Day', round: 'Round', channel: 'Where' },
}
const onlyWords: { readonly [By in ByView['only'][number]['by']]: string } = {
  ...{ device: 'Device', returning: 'New or returning', source: 'Where they came from' },
  ...{ region: 'Where they are', language: 'Language of their browser', segment: 'Segment' },
}

/** What is shown at once; the rest on demand. */
const FEW = 14

/** The result divided by one thing; by what, and of whom alone, stands in the address. */
export function ByTable({ result }: { result: ResultView }) {
  const [asks, narrow] = useAddress(['by', 'only'])
  const by = divisions.find((one) => one === asks.by)
  return (
    <details className="by-segment" open={by !== undefined} onToggle={({ currentTarget }) => follow(currentTarget.open)}>
      <summary>By one thing at a time: to explore, not to decide</summary>
      {by === undefined ? null : <Divided {...{ result, by, narrow }} only={asks.only} />}
    </details>
  )

  function follow(open: boolean) {
    if (open && by === undefined) narrow({ by: 'device' })
    if (!open && by !== undefined) narrow({ by: '', only: '' })
  }
}

function Divided({
  result,
  by,
  only,
  narrow,
}: {
  result: ResultView
  by: Division
  only: string
  narrow: (part: { by?: string; only?: string }) => void
}) {
  const { round, crowd, goal } = result
  const asked = useAsk('result.by', { round, crowd, goal: goal.id, by, only }, { keepLast: true })
  const view = asked.data
  return (
    <>
      <p className="quiet">
        What visitors were when they first saw the part. Among so many numbers some differ by chance: what looks different here is
        a question for another test.
      </p>
      <div className="filters">
        <label className="by-choice">
          By
          <Choice
            aria-label="Divided by"
            size="small"
            value={by}
            change={(next) => narrow({ by: next })}
            options={divisions.map((value) => ({ value, label: byWords[value] }))}
          />
        </label>
        {isNarrowable(by) ? <Only view={view} {...{ only, narrow }} /> : null}
      </div>
      {view === undefined ? (
        <Waiting error={asked.error} again={() => void asked.refetch()} />
      ) : (
        <Rows key={by} {...{ view, by, goal: goal.name }} />
      )}
    </>
  )
}

/** Of everybody, or of those of one kind. */
function Only({ view, only, narrow }: { view: ByView | undefined; only: string; narrow: (part: { only?: string }) => void }) {
  const kinds = view?.only ?? []
  const groups = [...new Set(kinds.map((kind) => kind.by))].map((by) => ({
    label: onlyWords[by],
    options: kinds.filter((kind) => kind.by === by).map((kind) => ({ value: kind.only, label: kind.words })),
  }))
  const unknown = only !== '' && view !== undefined && !kinds.some((kind) => kind.only === only)
  return (
    <label className="by-choice">
      Of
      <Choice
        aria-label="Of whom"
        size="small"
        value={only}
        change={(next) => narrow({ only: next })}
        options={[
          { value: '', label: 'all visitors' },
          ...(unknown ? [{ value: only, label: 'visitors of whom nothing is known here' }] : []),
          ...groups,
        ]}
      />
    </label>
  )
}

function Rows({ view, by, goal }: { view: ByView; by: Division; goal: string }) {
  const [all, setAll] = useState(false)
  const { rows } = view
  const caption = `${by === 'goal' ? 'By goal' : `${goal}, by ${byWords[by]}`}. ${view.words}`
  return (
    <>
      <VersionsTable caption={caption} first={first[by]} rates={view.versions}>
        {(all ? rows : rows.slice(0, FEW)).map(({ value, words, arms }) => (
          <tr key={value}>
            <th scope="row">{words}</th>
            {arms.map((arm) => (
              <ArmCell key={arm.version} {...arm} />
            ))}
          </tr>
        ))}
      </VersionsTable>
      {rows.length > FEW && !all ? (
        <button type="button" className="plain" onClick={() => setAll(true)}>
          Show all {rows.length}
        </button>
      ) : null}
    </>
  )
}

function ArmCell({ exposed, converters, rate, interval }: ByView['rows'][number]['arms'][number]) {
  return (
    <td className="number">
      {rate === null || interval === null ? (
        exposed + converters === 0 ? (
          '–'
        ) : (
          <>
            {count(converters)} <span className="quiet">reached it, {count(exposed)} came</span>
          </>
        )
      ) : (
        <>
          {percent(rate)} <span className="quiet">of {count(exposed)}</span>
          <br />
          <span className="quiet">
            {percent(interval[0])} to {percent(interval[1])}
          </span>
        </>
      )}
    </td>
  )
}
