'use client'

import { useState } from 'react'
import type { NamedView, ResultView, TraitView } from '@/contract/contract'
import { percent } from '@/core/numbers'
import { Waiting } from '../frame/screen'
import { count } from '../frame/wording'
import { useAsk } from '../talk'
import { VersionsTable } from './versions-table'

const traitWords: { readonly [Of in TraitView['trait']]: string } = {
  device: 'By device',
  source: 'By where they came from',
  region: 'By where they are',
  language: 'By the language of their browser',
  returning: 'By whether they had been here before',
}

/** What is shown at once; the rest on demand. */
const FEW = 6

/** The result by kinds of visitors, asked for when somebody opens it. */
export function BySegment({ result, names }: { result: ResultView; names: (version: string) => string }) {
  const [open, setOpen] = useState(false)
  const { round, crowd, goal } = result
  const asked = useAsk('result.segments', { round, crowd, goal: goal.id }, { enabled: open })
  return (
    <details className="by-segment" open={open} onToggle={({ currentTarget }) => setOpen(currentTarget.open)}>
      <summary>By kinds of visitors: to explore, not to decide</summary>
      {!open ? null : asked.data === undefined ? (
        <Waiting error={asked.error} again={() => void asked.refetch()} />
      ) : asked.data.traits.length === 0 ? (
        <p className="quiet">Nothing is known yet of those who saw it.</p>
      ) : (
        <>
          <p className="quiet">
            What visitors were when they first saw the part. Among so many numbers some differ by chance: what looks different
            here is a question for another test.
          </p>
          {asked.data.traits.map((trait) => (
            <TraitTable key={trait.trait} of={trait} result={result} names={names} />
          ))}
          {asked.data.named.map((named) => (
            <NamedTable key={named.id} of={named} result={result} names={names} />
          ))}
          {asked.data.unread.length === 0 ? null : (
            <p className="quiet">
              By {asked.data.unread.map((name) => `“${name}”`).join(', ')} nothing can be said: nobody whom it fits saw this, or
              they came before it asked what it asks now.
            </p>
          )}
        </>
      )}
    </details>
  )
}

function TraitTable({ of, result, names }: { of: TraitView; result: ResultView; names: (version: string) => string }) {
  const [all, setAll] = useState(false)
  const shown = all ? of.values : of.values.slice(0, FEW)
  return (
    <>
      <VersionsTable caption={`${traitWords[of.trait]}. ${differenceWords(of, names)}`} first="Visitors" rates={result.rates}>
        {shown.map(({ value, words, arms }) => (
          <tr key={value}>
            <th scope="row">{words}</th>
            <ArmCells arms={arms} />
          </tr>
        ))}
      </VersionsTable>
      {of.values.length > FEW && !all ? (
        <button type="button" className="plain" onClick={() => setAll(true)}>
          Show all {of.values.length}
        </button>
      ) : null}
    </>
  )
}

/** Those whom a segment fits beside all others of whom that is known. */
function NamedTable({ of, result, names }: { of: NamedView; result: ResultView; names: (version: string) => string }) {
  const differing = of.differing.map((version) => `‘${names(version)}’`).join(' and ')
  const difference =
    differing === '' ? 'Nothing says that the versions work differently for them.' : `${differing} may work differently for them.`
  return (
    <VersionsTable caption={`By the segment “${of.name}”. ${difference}`} first="Visitors" rates={result.rates}>
      <tr>
        <th scope="row">in it</th>
        <ArmCells arms={of.within} />
      </tr>
      <tr>
        <th scope="row">all others</th>
        <ArmCells arms={of.outside} />
      </tr>
    </VersionsTable>
  )
}

function ArmCells({ arms }: { arms: NamedView['within'] }) {
  return arms.map(({ version, exposed, rate, interval }) => (
    <td key={version} className="number">
      {rate === null || interval === null ? (
        '–'
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
  ))
}

function differenceWords({ values, comparable, differing }: TraitView, names: (version: string) => string): string {
  if (values.length < 2) return 'All of them are the same in this.'
  if (!comparable) return 'Too few reached the goal to say whether the versions work differently for them.'
  if (differing.length === 0) return 'Nothing says that the versions work differently for them.'
  const named = differing.map((version) => `‘${names(version)}’`).join(' and ')
  return `${named} may work differently for them.`
}
