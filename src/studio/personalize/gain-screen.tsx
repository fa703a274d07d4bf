'use client'

import Link from 'next/link'
import { useState } from 'react'
import { mayAs, type AccountView, type PersonalizationView } from '@/contract/contract'
import { conditionWords, WHOLE } from '@/core/decide'
import type { TestedPart } from '@/core/experiment'
import { percent } from '@/core/numbers'
import { Button } from '../controls/button'
import { Choice } from '../controls/choices'
import { MadeUp } from '../frame/made-up'
import { useMessages } from '../frame/messages'
import { Note, Screen, Waiting } from '../frame/screen'
import { useAddress } from '../frame/use-address'
import { dayWords } from '../frame/wording'
import { ResultBody } from '../results/results'
import { download } from '../media/upload'
import { talk, useAsk, useTell, type Refused } from '../talk'
import { Measuring } from './measuring'
import { TakeOff } from './take-off'
import { useSite } from './use-site'

/** One part that is shown by rule: how its gain is measured, and what it is. */
export function GainScreen({ account, part }: { account: AccountView; part: TestedPart }) {
  const asked = useAsk('personalization.read', part, { every: 10_000 })
  const view = asked.data
  return (
    <Screen
      account={account}
      title={view === undefined ? null : `${view.part}: what its rules gain`}
      sheet={
        view === undefined ? (
          <Waiting error={asked.error} again={() => void asked.refetch()} />
        ) : (
          <>
            <GainHead account={account} view={view} />
            <section className="band" aria-label="How the gain is measured">
              <h2>How the gain is measured</h2>
              <Measuring key={view.lock} view={view} />
            </section>
            <Gains view={view} />
          </>
        )
      }
      margin={view === undefined ? null : <GainMargin view={view} />}
    />
  )
}

function GainHead({ account, view }: { account: AccountView; view: PersonalizationView }) {
  const [takingOff, setTakingOff] = useState(false)
  const message = useMessages()
  const publish = useTell('personalization.publish', () => message.success('Live: visitors see the version that suits them.'))
  const may = mayAs(account.role, 'publisher')
  const { document, node, live, changed, rules } = view
  const isCurrent = live && !changed
  return (
    <header className="sheet-head gain-head">
      <div>
        <h1>{view.part}</h1>
        <p className="quiet">
          <Link href={`/site/${document}?part=${node}`} prefetch={false}>
            {view.title}
          </Link>
          {live ? (changed ? ' · live, but changed since' : ' · live as it stands') : ' · not live: nobody sees it by rule'}
        </p>
      </div>
      <div className="place-tools">
        <Button
          look="primary"
          disabled={!may || isCurrent || rules.length === 0}
          title={may ? undefined : 'Only a publisher can do this.'}
          busy={publish.isPending}
          onClick={() => publish.mutate({ document, node }, { onError: (reason) => void message.error(reason.message, 8) })}
        >
          Publish for visitors
        </Button>
        {rules.length === 0 ? null : (
          <Button
            onClick={() =>
              void talk('format.rules', { document, node }).then(
                download,
                (reason: Refused) => void message.error(reason.message, 8),
              )
            }
          >
            As a file
          </Button>
        )}
        {live ? (
          <Button disabled={!may} onClick={() => setTakingOff(true)}>
            Take off the site
          </Button>
        ) : null}
      </div>
      {takingOff ? <TakeOff part={{ document, node }} close={() => setTakingOff(false)} /> : null}
    </header>
  )
}

/** The results: of one rule or of all together, by one goal. */
function Gains({ view }: { view: PersonalizationView }) {
  const [by, narrow] = useAddress(['round', 'goal'])
  const { rounds, goals } = view
  const first = rounds.find(({ rule, until }) => rule === null && until === null) ?? rounds[0]
  const round = rounds.find(({ id }) => id === by.round) ?? first
  const goal = round?.goals.find((id) => id === by.goal) ?? null
  if (round === undefined)
    return (
      <section className="band results" aria-label="Results">
        <h2>What it gains</h2>
        <p className="empty">Nothing has been counted yet: counting begins when the rules go live with a goal and a holdout.</p>
      </section>
    )
  const nameOf = (id: string) => goals.find((one) => one.id === id)?.name ?? 'a goal that is gone'
  return (
    <section className="band results" aria-label="Results">
      <header className="band-head">
        <h2>
          What it gains <MadeUp touched={({ any }) => any} />
        </h2>
        <div className="band-tools">
          {rounds.length < 2 ? null : (
            <Choice aria-label="Which rule" value={round.id} change={(id) => narrow({ round: id })} options={grouped(rounds)} />
          )}
          {round.goals.length < 2 ? null : (
            <Choice
              aria-label="Goal"
              value={goal ?? round.goals[0] ?? null}
              change={(id) => narrow({ goal: id ?? '' })}
              options={round.goals.map((id, at) => ({ value: id, label: at === 0 ? `${nameOf(id)} (decides)` : nameOf(id) }))}
            />
          )}
        </div>
      </header>
      <p className="quiet">
        {round.until === null
          ? `Counted since ${dayWords(round.since)}`
          : `Counted ${dayWords(round.since)} to ${dayWords(round.until)}`}
        : the original, shown to the {percent(round.holdout / WHOLE)} who are held out, against{' '}
        {round.rule === null ? 'what the rules show' : `‘${round.name}’`}.
      </p>
      <GainResult round={round.id} goal={goal} isOpen={round.until === null} />
    </section>
  )
}

type Round = PersonalizationView['rounds'][number]

function GainResult({ round, goal, isOpen }: { round: Round['id']; goal: Round['goals'][number] | null; isOpen: boolean }) {
  const asked = useAsk('personalization.result', { round, goal }, { every: isOpen ? 5000 : undefined })
  if (asked.data === undefined) return <Waiting error={asked.error} again={() => void asked.refetch()} />
  if (asked.data === null) return <p className="empty">Nothing has been counted for this goal yet.</p>
  return <ResultBody result={asked.data} />
}

/** Those that are counted now, and those before. */
function grouped(rounds: readonly Round[]) {
  const option = ({ id, rule, name, since }: Round) => ({
    value: id,
    label: `${rule === null ? 'All rules together' : `‘${name}’`}, since ${dayWords(since)}`,
  })
  const now = rounds
    .filter(({ until }) => until === null)
    .sort((one, other) => Number(one.rule !== null) - Number(other.rule !== null))
  const before = rounds.filter(({ until }) => until !== null)
  return [
    ...(now.length === 0 ? [] : [{ label: 'Counted now', options: now.map(option) }]),
    ...(before.length === 0 ? [] : [{ label: 'Before', options: before.map(option) }]),
  ]
}

function GainMargin({ view }: { view: PersonalizationView }) {
  const site = useSite()
  return (
    <>
      <Note title="The rules, from the top">
        <ol>
          {view.rules.map(({ version, name, condition }) => (
            <li key={version}>
              ‘{name}’ for: {conditionWords(condition, site)}
            </li>
          ))}
        </ol>
        Everybody else: the original.
      </Note>
      <Note title="When a count begins anew">
        A rule is counted anew when it shows something else, is for others, or when a rule above it is changed. All of them, when
        the goals or the holdout change.
      </Note>
    </>
  )
}
