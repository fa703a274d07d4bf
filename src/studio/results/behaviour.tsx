'use client'

import { useState } from 'react'
import type { BehaviourView, ResultView } from '@/contract/contract'
import { speedWords } from '@/core/experiment'
import { speeds, type Speed } from '@/core/ledger'
import { roughPercent } from '@/core/numbers'
import { VersionMark } from '../frame/marks'
import { Waiting } from '../frame/screen'
import { count } from '../frame/wording'
import { useAsk } from '../talk'
import { BarRows } from './bar-rows'
import { ChartFrame, type ChartTable } from './chart-frame'
import { Presses } from './presses'
import { ShareBars } from './share-bars'

const speedHeads: { readonly [Of in Speed]: string } = {
  paint: 'Painted within',
  response: 'Answers a press within',
  shift: 'Moves by at most',
}

/** What those did who took part, whether a goal asks for it or not; asked for when somebody opens it. */
export function Behaviour({ result }: { result: ResultView }) {
  const [open, setOpen] = useState(false)
  const { round, crowd } = result
  const asked = useAsk('result.behaviour', { round, crowd }, { enabled: open })
  const found = asked.data
  return (
    <details className="by-segment" open={open} onToggle={({ currentTarget }) => setOpen(currentTarget.open)}>
      <summary>What visitors did on the page, and how fast it was for them</summary>
      {!open ? null : found === undefined ? (
        <Waiting error={asked.error} again={() => void asked.refetch()} />
      ) : found === null || found.versions.every(isSilent) ? (
        <p className="quiet">Nothing is known of it: what visitors do is told by their browsers, and none has told anything.</p>
      ) : (
        <>
          <p className="quiet">Counted without a goal having asked for it, to understand a result by, not to decide.</p>
          <Looked of={found} result={result} />
          <SpeedTable of={found} />
          <ShareBars
            title="Where they went from there, in the same visit"
            first="page"
            lines={found.next.map(({ page, title, visitors }) => ({ id: page, words: title, visitors }))}
            versions={found.versions}
            wholes={found.versions.map(({ visits }) => visits)}
          />
          <ShareBars
            title="What they pressed on the page where they saw it"
            first="component"
            lines={found.pressed.map(({ document, node, ...line }) => ({ id: `${document} ${node}`, ...line }))}
            versions={found.versions}
            wholes={found.versions.map(({ version }) => result.rates.find((one) => one.version === version)?.exposed ?? 0)}
          />
          {found.pages.length === 0 ? null : <Presses key={round} {...{ round, crowd }} behaviour={found} />}
        </>
      )}
    </details>
  )
}

const isSilent = ({ visits, speed }: BehaviourView['versions'][number]) =>
  visits === 0 && speeds.every((of) => speed[of].measured === 0)

interface TableProps {
  readonly of: BehaviourView
  readonly result: ResultView
}

const LOOKED_ROOM = 110

/** How many left at once, and how many read it. */
function Looked({ of, result }: TableProps) {
  const told = of.versions.map(({ version, name, visits, bounced, read }) => {
    const exposed = result.rates.find((rate) => rate.version === version)?.exposed ?? 0
    return { version, name, visits, bounced, read: exposed === 0 ? null : Math.min(1, read / exposed) }
  })
  const table: ChartTable = {
    columns: [
      { name: 'version', as: 'words' },
      { name: 'visits', as: 'count' },
      { name: 'left at once', as: 'share' },
      { name: 'lower', as: 'share' },
      { name: 'upper', as: 'share' },
      { name: 'read it', as: 'share' },
    ],
    rows: told.map(({ name, visits, bounced, read }) => [
      ...[name, visits, bounced?.share ?? null],
      ...[bounced?.interval[0] ?? null, bounced?.interval[1] ?? null, read],
    ]),
  }
  const leftWords = (bounced: Looks['bounced']) =>
    bounced === null
      ? 'not known'
      : `${roughPercent(bounced.share)} (${roughPercent(bounced.interval[0])} to ${roughPercent(bounced.interval[1])})`
  const readWords = (read: number | null) => (read === null ? 'not known' : roughPercent(read))
  return (
    <ChartFrame title="How it was looked at" table={table}>
      <BarRows
        rows={told.map(({ version, name, visits, bounced, read }, index) => ({
          ...{ id: version, name, version: index },
          bars: [
            { value: visits, whole: null, words: count(visits) },
            { value: bounced?.share ?? 0, whole: 1, words: leftWords(bounced) },
            { value: read ?? 0, whole: 1, words: readWords(read) },
          ],
        }))}
        heads={['visits', 'left at once', 'read it']}
        room={LOOKED_ROOM}
        words={told
          .map(
            ({ name, visits, bounced, read }) =>
              `${name}: ${count(visits)} visits, left at once ${leftWords(bounced)}, read it ${readWords(read)}.`,
          )
          .join(' ')}
      />
    </ChartFrame>
  )
}
type Looks = BehaviourView['versions'][number]

/** A version a line. */
function SpeedTable({ of }: { of: BehaviourView }) {
  return (
    <table className="rows figures">
      <caption>
        How fast it was. Three in four of its visitors had speeds like these or better; it moves by 0 where nothing shifts while
        the page loads.
      </caption>
      <thead>
        <tr>
          <th>Version</th>
          {speeds.map((speed) => (
            <th key={speed} className="number">
              {speedHeads[speed]}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {of.versions.map(({ version, name, speed }, index) => (
          <tr key={version}>
            <th scope="row">
              <VersionMark index={index} /> {name}
            </th>
            {speeds.map((one) => (
              <td key={one} className="number">
                <SpeedCell of={one} {...speed[one]} />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function SpeedCell({ of, measured, slowest }: { of: Speed } & BehaviourView['versions'][number]['speed'][Speed]) {
  if (slowest === null) return measured === 0 ? '–' : <span className="quiet">{count(measured)} measured, too few</span>
  const [value, lower, upper] = [slowest.value, ...slowest.interval].map((one) => speedWords(of, one))
  return (
    <>
      {value}
      <br />
      <span className="quiet">{lower === upper ? 'hardly more or less' : `${lower} to ${upper}`}</span>
    </>
  )
}
