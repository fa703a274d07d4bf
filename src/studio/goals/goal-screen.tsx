'use client'

import { Button } from '../controls/button'
import { OneOf } from '../controls/choices'
import { NumberField } from '../controls/fields'
import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { mayAs, type AccountView, type GoalView } from '@/contract/contract'
import { goalSchema, kindOf, libraryOf, type Goal } from '@/core/goals'
import type { GoalId } from '@/core/ids'
import { useMessages } from '../frame/messages'
import { MadeUp } from '../frame/made-up'
import { Note, Screen, Waiting } from '../frame/screen'
import { TitleInput } from '../frame/title-input'
import { useDraft } from '../saving/use-draft'
import { count, moneyWords, plural, savingWords } from '../frame/wording'
import { talk, useAsk, useTell, type Refused } from '../talk'
import { DaysLine } from '../frame/days-line'
import { FromElsewhere } from './from-elsewhere'
import { Funnel } from './funnel'
import { UsedBy } from './goals-screen'
import { WiredPlace } from './wired-place'
import { WiringFields } from './wiring-fields'
import { wiringWords } from './wiring-words'

/** A goal on one sheet: what counts, what it is worth, how it is counted. */
export function GoalScreen({ account, goal: id }: { account: AccountView; goal: GoalId }) {
  const asked = useAsk('goal.open', { goal: id }, { every: 8000 })
  if (asked.data === undefined)
    return <Screen account={account} sheet={<Waiting error={asked.error} again={() => void asked.refetch()} />} margin={null} />
  return <GoalSheet key={id} account={account} view={asked.data} />
}

const states = {
  draft: 'a draft: it counts nothing yet',
  published: 'published',
  changed: 'changed since it was published',
  archived: 'archived: it counts no more',
} as const

function GoalSheet({ account, view }: { account: AccountView; view: GoalView }) {
  const draft = useDraft<Goal>(
    { value: view.goal, lock: view.lock },
    {
      name: `goal ${view.goal.id} ${account.id}`,
      schema: goalSchema,
      save: (changed, lock) => talk('goal.save', { ...changed, wiring: copyOf(changed.wiring), lock }),
      again: async () => {
        const { goal: value, lock } = await talk('goal.open', { goal: view.goal.id })
        return { value, lock }
      },
      reads: 'goal.open',
    },
  )
  const { value: goal, change, fault } = draft
  const isArchived = view.state === 'archived'
  return (
    <Screen
      account={account}
      title={goal.name}
      sheet={
        <article className="test-sheet">
          <GoalHead account={account} view={view} draft={draft} />
          {fault === null ? null : (
            <div role="alert" className="trouble">
              <p>{fault.message}</p>
              <button onClick={() => void draft.settled()}>Save again</button>
              <button onClick={draft.giveUp}>Show what is saved, and lose my change</button>
            </div>
          )}
          <section className="band" aria-label="What counts">
            <h2>What counts</h2>
            <WiringFields
              view={view}
              goal={goal}
              disabled={isArchived}
              change={(wiring) =>
                change({ wiring, ...(wiring.kind === 'order' ? { worthFrom: 'reported', worthIn: 'money' } : {}) })
              }
            />
          </section>
          {goal.wiring.kind === 'steps' ? (
            <section className="band" aria-label="Funnel">
              <h2>
                Who gets how far, 28 days <MadeUp touched={({ any }) => any} />
              </h2>
              <Funnel
                columns={[{ name: 'Everybody', entered: null, passed: view.funnel.map(({ passed }) => passed) }]}
                steps={view.funnel.map(({ name }) => name)}
              />
            </section>
          ) : null}
          <FromElsewhere view={view} goal={goal} />
          <Worth goal={goal} currency={view.currency} disabled={isArchived} change={change} />
          <Counting goal={goal} disabled={isArchived} change={change} />
        </article>
      }
      margin={<GoalMargin view={view} goal={goal} account={account} />}
    />
  )
}

interface BandProps {
  readonly goal: Goal
  readonly disabled: boolean
  readonly change: (part: Partial<Goal>) => void
}

function GoalHead({ account, view, draft }: { account: AccountView; view: GoalView; draft: ReturnType<typeof useDraft<Goal>> }) {
  const message = useMessages()
  const { value: goal, change, state } = draft
  const failed = { onError: (reason: Refused) => void message.error(reason.message, 8) }
  const publish = useTell('goal.publish', () => void message.success('Published: it counts from now on.'))
  const archive = useTell('goal.archive', () => void message.success(view.state === 'archived' ? 'It is back.' : 'Archived.'))
  const may = mayAs(account.role, 'publisher')
  const isArchived = view.state === 'archived'
  const titles = new Map<string, string>(view.pages.map(({ id, title }) => [id, title]))
  const library = libraryOf(view.library)
  return (
    <header className="sheet-head">
      <div className="grow">
        <TitleInput label="Name of the goal" value={goal.name} change={(name) => change({ name })} />
        <p className="quiet">
          {states[view.state]} · {wiringWords(goal.wiring, library, (id) => titles.get(id) ?? 'a page')} · {savingWords[state]}
        </p>
      </div>
      {(view.state === 'draft' || isArchived) && view.tests.length === 0 ? <ToTheBin view={view} /> : null}
      {view.state === 'draft' ? null : (
        <Button
          disabled={!may}
          title={may ? undefined : 'Only a publisher can do this.'}
          onClick={() => archive.mutate({ goal: goal.id, archived: !isArchived }, failed)}
        >
          {isArchived ? 'Bring it back' : 'Archive'}
        </Button>
      )}
      <Button
        look="primary"
        disabled={!may || isArchived || (view.state === 'published' && state === 'saved')}
        title={may ? undefined : 'Only a publisher can publish.'}
        busy={publish.isPending}
        onClick={() => void draft.settled().then((lock) => publish.mutate({ goal: goal.id, lock }, failed))}
      >
        Publish
      </Button>
    </header>
  )
}

/** What one conversion is worth, and in what. */
function Worth({ goal, currency, disabled, change }: BandProps & { currency: string }) {
  return (
    <section className="band" aria-label="Worth">
      <h2>What it is worth</h2>
      <div className="goal-lines">
        {kindOf(goal.wiring).reported ? (
          <label>
            <span>Worth</span>
            <OneOf<Goal['worthFrom']>
              aria-label="Where its worth comes from"
              value={goal.worthFrom}
              disabled={disabled}
              options={[
                { value: 'fixed', label: 'always the same' },
                { value: 'reported', label: 'as reported with it' },
              ]}
              change={(worthFrom) => change({ worthFrom })}
            />
          </label>
        ) : null}
        <label>
          <span>{goal.worthFrom === 'reported' ? 'Where nothing is reported' : 'One conversion'}</span>
          <NumberField
            aria-label="Worth of one conversion"
            value={goal.worth}
            min={0}
            max={1_000_000}
            disabled={disabled}
            change={(worth) => change({ worth })}
          />
          <OneOf<Goal['worthIn']>
            aria-label="Worth in"
            value={goal.worthIn}
            disabled={disabled}
            options={[
              { value: 'points', label: 'points' },
              { value: 'money', label: currency },
            ]}
            change={(worthIn) => change({ worthIn })}
          />
        </label>
      </div>
    </section>
  )
}

function Counting({ goal, disabled, change }: BandProps) {
  return (
    <section className="band" aria-label="Counting">
      <h2>How it is counted</h2>
      <div className="goal-lines">
        <label>
          <span>For each visitor</span>
          <OneOf<Goal['counts']>
            aria-label="For each visitor"
            value={goal.counts}
            disabled={disabled || goal.wiring.kind === 'steps'}
            options={[
              { value: 'once', label: 'once' },
              { value: 'everyTime', label: 'every time' },
            ]}
            change={(counts) => change({ counts })}
          />
        </label>
        <label>
          <span>In a test, within</span>
          <NumberField
            aria-label="Days after being shown the tested part"
            value={goal.withinDays}
            min={1}
            max={90}
            digits={0}
            disabled={disabled}
            unit="days"
            change={(days) => change({ withinDays: days })}
          />
        </label>
      </div>
      <p className="quiet">
        A test credits it to the version that a visitor really saw, only after it was seen. What happens without a test is counted
        for the site’s own numbers.
      </p>
    </section>
  )
}

function GoalMargin({ view, goal, account }: { view: GoalView; goal: Goal; account: AccountView }) {
  return (
    <>
      {view.lacks === '' ? null : (
        <Note title="What is missing" tone="asks">
          {view.lacks}
        </Note>
      )}
      <AsBefore view={view} account={account} />
      <Note title="In 28 days">
        <DaysLine days={view.days} wide />
        <MadeUp touched={({ any }) => any} />
        {view.times === 0 ? (
          <p>Nobody has reached it yet.</p>
        ) : (
          <p className="figures">
            Reached <strong>{count(view.times)}</strong> times, by {plural(view.visitors, 'visitor', 'visitors')} for the first
            time
            {view.worth === 0
              ? '.'
              : `; worth ${goal.worthIn === 'money' ? moneyWords(view.worth, view.currency) : plural(Math.round(view.worth), 'point', 'points')}.`}
          </p>
        )}
      </Note>
      <WiredPlace line={view} />
      <UsedBy line={view} />
    </>
  )
}

function ToTheBin({ view }: { view: GoalView }) {
  const router = useRouter()
  const message = useMessages()
  const remove = useTell('goal.remove', () => {
    void message.success('Moved to the bin, where it stays for 30 days.')
    router.push('/goals')
  })
  return (
    <Button
      busy={remove.isPending}
      onClick={() => remove.mutate({ goal: view.goal.id }, { onError: (reason) => void message.error(reason.message, 8) })}
    >
      Move to the bin
    </Button>
  )
}

/** With a list of its own, as what is sent must not be read-only. */
function copyOf(wiring: Goal['wiring']) {
  return wiring.kind === 'anyOf' || wiring.kind === 'steps' ? { ...wiring, goals: [...wiring.goals] } : wiring
}

/** The running tests that go on counting the goal as it was, each with the way to its next round. */
function AsBefore({ view, account }: { view: GoalView; account: AccountView }) {
  const message = useMessages()
  const next = useTell('test.nextRound', () => void message.success('The next round counts the goal as it is now.'))
  return view.asBefore.map(({ test, name }) => (
    <Note
      key={test}
      title="Counted as it was"
      tone="asks"
      action={
        <Button
          size="small"
          disabled={!mayAs(account.role, 'publisher')}
          busy={next.isPending}
          onClick={() => next.mutate({ test }, { onError: (reason) => void message.error(reason.message, 8) })}
        >
          Open its next round
        </Button>
      }
    >
      <Link href={`/tests/${test}`}>“{name}”</Link> runs, and goes on counting this goal as it was when its round began. A next
      round counts it as it is now, from nothing.
    </Note>
  ))
}
