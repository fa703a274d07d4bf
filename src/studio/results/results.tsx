'use client'

import { Choice } from '../controls/choices'
import { useState } from 'react'
import type { ResultView, TestView } from '@/contract/contract'
import { WHOLE } from '@/core/decide'
import { goalsOf, readingWords } from '@/core/experiment'
import { limitWords, percent, pValueWords } from '@/core/numbers'
import { Funnel } from '../goals/funnel'
import { MadeUp } from '../frame/made-up'
import { VersionMark } from '../frame/marks'
import { Waiting } from '../frame/screen'
import { count, dayWords, momentWords, moneyWords, plural } from '../frame/wording'
import { useAddress } from '../frame/use-address'
import { useAsk } from '../talk'
import { Allocation } from './allocation'
import { Behaviour } from './behaviour'
import { Chances } from './chances'
import { DayStrips } from './day-strips'
import { EffectByAge } from './effect-by-age'
import { ByTable } from './by-table'
import { BesideOthers, PartEffects } from './part-effects'
import { EvidenceOverTime } from './evidence-over-time'
import { LiftIntervals } from './lift-intervals'

/** First a sentence, then the picture, then the table: live, or of a rehearsal and then labelled at every turn. */
export function Results({ test }: { test: TestView }) {
  const [asks, narrow] = useAddress(['whose', 'round', 'goal'])
  const counted = test.goals.filter(({ id }) => goalsOf(test.design).includes(id))
  const crowd = test.rehearsals.find(({ id }) => String(id) === asks.whose)?.id ?? 0
  const round = test.rounds.find(({ id }) => id === asks.round)?.id ?? null
  const goal = counted.find(({ id }) => id === asks.goal)?.id ?? null
  const asked = useAsk(
    'result.read',
    { test: test.id, round, crowd, goal },
    { every: test.status === 'running' || crowd > 0 ? 3000 : undefined },
  )
  const rehearsals = test.rehearsals.filter(({ sent }) => sent > 0)
  const result = asked.data
  return (
    <section className={crowd > 0 ? 'band results rehearsed' : 'band results'} aria-label="Results">
      <header className="band-head">
        <h2>Results {crowd > 0 ? null : <MadeUp touched={({ tests }) => tests.includes(test.id)} />}</h2>
        <div className="band-tools">
          {rehearsals.length === 0 ? null : (
            <Choice
              aria-label="Whose visitors"
              value={crowd}
              change={(whose) => narrow({ whose: whose === 0 ? '' : String(whose) })}
              options={[
                { value: 0, label: 'Real visitors' },
                ...rehearsals.map(({ id, plan }) => ({
                  value: id,
                  label: `Rehearsal ${id}: ${count(plan.visitors)} simulated visitors`,
                })),
              ]}
            />
          )}
          {test.rounds.length < 2 ? null : (
            <Choice
              aria-label="Round"
              value={round ?? test.rounds[0]?.id ?? null}
              change={(next) => narrow({ round: next === test.rounds[0]?.id ? '' : (next ?? '') })}
              options={test.rounds.map(({ id, number, startedAt }) => ({
                value: id,
                label: `Round ${number}, from ${dayWords(startedAt)}`,
              }))}
            />
          )}
          {counted.length < 2 ? null : (
            <Choice
              aria-label="Goal"
              value={goal ?? test.design.primary}
              change={(next) => narrow({ goal: next === test.design.primary ? '' : (next ?? '') })}
              options={counted.map(({ id, name }) => ({
                value: id,
                label: id === test.design.primary ? `${name} (decides)` : name,
              }))}
            />
          )}
        </div>
      </header>
      <RoundWhy test={test} round={round ?? test.rounds[0]?.id ?? null} />
      {crowd > 0 ? (
        <p className="rehearsal-banner">
          Rehearsal: simulated visitors with effects that were set. Nothing here is counted as real.
        </p>
      ) : null}
      {result === undefined ? <Waiting error={asked.error} again={() => void asked.refetch()} /> : null}
      {result === null ? <p className="empty">Nothing has been counted for this goal yet.</p> : null}
      {result ? <ResultBody result={result} partNames={test.parts.map(({ words }) => words)} /> : null}
    </section>
  )
}

export function ResultBody({ result, partNames = [] }: { result: ResultView; partNames?: readonly string[] }) {
  const [now] = useState(() => Date.now())
  const names = (version: string) => result.rates.find((rate) => rate.version === version)?.name ?? version
  const isTrusted = result.variants.every(({ reading }) => reading !== 'notToBeTrusted')
  return (
    <>
      <p className="sentence" data-testid={result.crowd > 0 ? 'rehearsal-sentence' : 'live-sentence'}>
        {result.sentence}
      </p>
      <Alarms result={result} />
      {result.slower.map(({ words }) => (
        <p key={words} className="alarm">
          {words}
        </p>
      ))}
      {result.parts === null ? null : <PartEffects parts={result.parts} partNames={partNames} />}
      <LiftIntervals result={result} />
      {isTrusted ? (
        <EvidenceOverTime result={result} names={names} />
      ) : (
        <p className="quiet">No evidence is drawn from counts that are not to be trusted.</p>
      )}
      <DayStrips
        title="Arrivals"
        label="Visitors who saw each version, by day; the table has the figures."
        of="exposed"
        {...{ result, names }}
      />
      <DayStrips
        title="Conversions"
        label="Visitors of each version who reached the goal, by day; the table has the figures."
        of="converters"
        {...{ result, names }}
      />
      <Chances result={result} />
      {isTrusted ? <EffectByAge result={result} names={names} /> : null}
      {result.funnel === null ? null : (
        <Funnel
          steps={result.funnel.steps}
          columns={result.funnel.passed.map(({ version, counts }) => ({
            name: names(version),
            entered: result.rates.find((rate) => rate.version === version)?.exposed ?? 0,
            passed: counts,
          }))}
        />
      )}
      <Guards result={result} names={names} />
      <Allocation result={result} now={now} />
      <Epochs result={result} />
      <ResultTable result={result} />
      <WorthTable result={result} names={names} />
      <Behaviour result={result} />
      <BesideOthers beside={result.beside} />
      <ByTable result={result} />
    </>
  )
}

/** What is wrong with the counting itself, and where to look. */
function Alarms({ result }: { result: ResultView }) {
  return result.alarms.map(({ kind, words, look }) => (
    <div key={kind} className="alarm" role="status">
      <p>{words}</p>
      <p>Look at this, likeliest first:</p>
      <ol>
        {look.map((one) => (
          <li key={one}>{one}</li>
        ))}
      </ol>
    </div>
  ))
}

const limits = ([lower, upper]: readonly [number, number]) => `${limitWords(lower)} to ${limitWords(upper)}`

const guardWords = {
  broken: 'got worse by more than that',
  holds: 'did not get worse by that much',
  open: 'not known yet',
} as const

/** What must not get worse, and whether it did. */
function Guards({ result, names }: { result: ResultView; names: (version: string) => string }) {
  if (result.guards.length === 0) return null
  return (
    <table className="rows figures">
      <caption>What must not get worse</caption>
      <thead>
        <tr>
          <th>Goal</th>
          <th>Version</th>
          <th className="number">Change, safe to look at daily</th>
          <th>Reading</th>
        </tr>
      </thead>
      <tbody>
        {result.guards.flatMap(({ of, name, margin, variants }) =>
          variants.map(({ version, reading, liftInterval }) => (
            <tr key={`${of} ${version}`}>
              <td>
                {name}, by at most {percent(margin)}
              </td>
              <td>{names(version)}</td>
              <td className="number">{liftInterval === null ? '–' : limits(liftInterval)}</td>
              <td className={reading === 'broken' ? 'asks' : ''}>{guardWords[reading]}</td>
            </tr>
          )),
        )}
      </tbody>
    </table>
  )
}

function ResultTable({ result }: { result: ResultView }) {
  // Before the planned end one look would be wrong far more often than it says.
  const isPlanned = result.variants.some(({ once }) => once !== null)
  return (
    <div className="table-scroll" tabIndex={0} role="region" aria-label="Table, wider than the sheet">
      <table className="rows figures">
        <caption>
          {result.goal.name}, round {result.roundNumber}, {plural(Math.max(1, Math.round(result.days)), 'day', 'days')}
        </caption>
        <thead>
          <tr>
            <th>Version</th>
            <th className="number">Sent</th>
            <th className="number">Saw it</th>
            <th className="number">Reached the goal</th>
            <th className="number">Rate (95% Wilson)</th>
            <th className="number">Lift, safe to look at daily</th>
            {isPlanned ? <th className="number">One look at the end</th> : null}
            <th>Reading</th>
          </tr>
        </thead>
        <tbody>
          {result.rates.map(({ version, name, assigned, exposed, converters, rate, interval }, index) => {
            const variant = result.variants.find((one) => one.version === version)
            const trusted = variant?.reading !== 'notToBeTrusted'
            return (
              <tr key={version}>
                <td>
                  <VersionMark index={index} /> {name}
                </td>
                <td className="number">{count(assigned)}</td>
                <td className="number">{count(exposed)}</td>
                <td className="number">{count(converters)}</td>
                <td className="number">
                  {rate === null ? '–' : percent(rate)}
                  {interval === null ? '' : ` (${percent(interval[0])} to ${percent(interval[1])})`}
                </td>
                <td className="number">{variant?.liftInterval && trusted ? limits(variant.liftInterval) : '–'}</td>
                {isPlanned ? (
                  <td className="number quiet">
                    {variant?.once?.lift && trusted ? `${limits(variant.once.lift)}, p ${pValueWords(variant.once.pValue)}` : '–'}
                  </td>
                ) : null}
                <td>{variant === undefined ? '' : readingWords[variant.reading]}</td>
              </tr>
            )
          })}
        </tbody>
      </table>
    </div>
  )
}

/** How visitors were divided, where that was changed: each stretch is compared by itself. */
function Epochs({ result }: { result: ResultView }) {
  if (result.epochs.length < 2) return null
  return (
    <table className="rows figures">
      <caption>What changed. Each stretch is compared by itself, and what they say is put together by their visitors</caption>
      <thead>
        <tr>
          <th>From</th>
          <th>Why</th>
          <th>Split</th>
        </tr>
      </thead>
      <tbody>
        {result.epochs.slice(-MOST_EPOCHS).map(({ since, because, arms }) => (
          <tr key={since}>
            <td>{momentWords(since)}</td>
            <td>{because === '' ? 'it started' : because}</td>
            <td>{arms.map(({ name, weight }) => `${name} ${percent(weight / WHOLE)}`).join(' · ')}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
/** The latest: a split that follows what visitors do changes often. */
const MOST_EPOCHS = 12

/** What the visitors of each version brought. */
function WorthTable({ result, names }: { result: ResultView; names: (version: string) => string }) {
  const { worth } = result
  const words = (value: number | null) =>
    value === null ? '–' : worth.in === 'money' ? moneyWords(value, worth.currency) : value.toFixed(2).replace('-', '−')
  const between = (interval: readonly [number, number] | null) =>
    interval === null ? '–' : `${words(interval[0])} to ${words(interval[1])}`
  return (
    <table className="rows figures">
      <caption>
        What it is worth, in {worth.in === 'money' ? worth.currency : 'points'}; the differences are safe to look at daily.
        {worth.cap === null
          ? ''
          : ` ${plural(worth.cap.visitors, 'visitor who brought more than', 'visitors who brought more than')} ${words(worth.cap.upTo)} ${worth.cap.visitors === 1 ? 'counts' : 'count'} as that much: a few who buy much would carry the rest.`}
      </caption>
      <thead>
        <tr>
          <th>Version</th>
          <th className="number">Per visitor</th>
          <th className="number">Difference from the original</th>
          <th className="number">Per visit</th>
          <th className="number">Difference from the original</th>
        </tr>
      </thead>
      <tbody>
        {worth.arms.map(({ version, perVisitor, perVisit, difference, visitDifference }, index) => (
          <tr key={version}>
            <td>
              <VersionMark index={index} /> {names(version)}
            </td>
            <td className="number">{words(perVisitor)}</td>
            <td className="number">{between(difference)}</td>
            <td className="number">{words(perVisit)}</td>
            <td className="number">{between(visitDifference)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** Why the round that is shown was opened. Results of different rounds are never added up blindly. */
function RoundWhy({ test, round }: { test: TestView; round: string | null }) {
  const found = test.rounds.find(({ id }) => id === round)
  if (found === undefined || found.because === '') return null
  return (
    <p className="quiet">
      Round {found.number} was opened on {dayWords(found.startedAt)} because {found.because}. Its counts began empty; the rounds
      before are read by themselves.
    </p>
  )
}
