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
import { Presses } from './presses'
import { VersionsTable } from './versions-table'

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
          <LookTable of={found} result={result} />
          <NextTable of={found} result={result} />
          <PressedTable of={found} result={result} />
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

/** Bounces, reading and speed, a version a line. */
function LookTable({ of, result }: TableProps) {
  return (
    <table className="rows figures">
      <caption>
        How it was looked at. Three in four of its visitors had speeds like these or better; it moves by 0 where nothing shifts
        while the page loads.
      </caption>
      <thead>
        <tr>
          <th>Version</th>
          <th className="number">Left at once</th>
          <th className="number">Read it</th>
          {speeds.map((speed) => (
            <th key={speed} className="number">
              {speedHeads[speed]}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {of.versions.map(({ version, name, visits, bounced, read, speed }, index) => {
          const exposed = result.rates.find((rate) => rate.version === version)?.exposed ?? 0
          return (
            <tr key={version}>
              <th scope="row">
                <VersionMark index={index} /> {name}
              </th>
              <td className="number">
                {bounced === null ? '–' : roughPercent(bounced.share)}
                {bounced === null ? null : (
                  <>
                    {' '}
                    <span className="quiet">of {count(visits)} visits</span>
                    <br />
                    <span className="quiet">
                      {roughPercent(bounced.interval[0])} to {roughPercent(bounced.interval[1])}
                    </span>
                  </>
                )}
              </td>
              <td className="number">{read === 0 || exposed === 0 ? '–' : roughPercent(Math.min(1, read / exposed))}</td>
              {speeds.map((one) => (
                <td key={one} className="number">
                  <SpeedCell of={one} {...speed[one]} />
                </td>
              ))}
            </tr>
          )
        })}
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

function NextTable({ of, result }: TableProps) {
  if (of.next.length === 0) return null
  return (
    <VersionsTable caption="Where they went from there, in the same visit" first="Page" rates={result.rates}>
      {of.next.map(({ page, title, visitors }) => (
        <tr key={page}>
          <th scope="row">{title}</th>
          {visitors.map((many, index) => (
            <Share key={of.versions[index]?.version} many={many} all={of.versions[index]?.visits ?? 0} />
          ))}
        </tr>
      ))}
    </VersionsTable>
  )
}

function PressedTable({ of, result }: TableProps) {
  if (of.pressed.length === 0) return null
  return (
    <VersionsTable caption="What they pressed on the page where they saw it, most first" first="Component" rates={result.rates}>
      {of.pressed.map(({ document, node, words, visitors }) => (
        <tr key={`${document} ${node}`}>
          <th scope="row">{words}</th>
          {visitors.map((many, index) => {
            const version = of.versions[index]?.version
            const all = result.rates.find((rate) => rate.version === version)?.exposed ?? 0
            return <Share key={version} many={many} all={all} />
          })}
        </tr>
      ))}
    </VersionsTable>
  )
}

function Share({ many, all }: { many: number; all: number }) {
  return (
    <td className="number">
      {many === 0 || all === 0 ? '–' : roughPercent(Math.min(1, many / all))}{' '}
      {many === 0 ? null : <span className="quiet">{count(many)}</span>}
    </td>
  )
}
