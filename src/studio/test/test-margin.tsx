'use client'

import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from '../controls/button'
import { Check } from '../controls/choices'
import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { mayAs, type AccountView, type FindingView, type TestView } from '@/contract/contract'
import { WHOLE } from '@/core/decide'
import { EVERYBODY } from '@/core/decide'
import {
  chanceToSee,
  evenWeights,
  forecast,
  likelyGain,
  partsOf,
  shareOf,
  trafficAmong,
  waitingSentence,
  type Help,
  type Traffic,
} from '@/core/experiment'
import { useAudience } from '../condition/use-audience'
import { limitWords, percent, roughPercent, signed } from '@/core/numbers'
import type { DocumentId } from '@/core/ids'
import { useMessages } from '../frame/messages'
import { Note } from '../frame/screen'
import { count, dayWords, momentWords, plural } from '../frame/wording'
import { talk, useAsk, useTell, type Refused } from '../talk'
import { DrawnCheck } from './drawn-check'
import type { Editing } from './test-screen'

/** What the application worked out about a test: what is in the way, and how long it will take. */
export function TestMargin({ test, editing, account }: { test: TestView; editing: Editing; account: AccountView }) {
  const before = test.status === 'draft' || test.status === 'paused'
  return (
    <>
      {test.drawsNobody === null ? null : (
        <Note title="Draws nobody" tone="blocks">
          {test.drawsNobody} Put it back and publish, or end the test.
        </Note>
      )}
      <AsBefore test={test} account={account} />
      {test.status === 'settled' ? null : <RulesFirst test={test} />}
      {before ? <ReadinessNotes test={test} editing={editing} account={account} /> : null}
      {test.status === 'running' || test.status === 'draft' || test.status === 'scheduled' ? (
        <Note title="Rehearse it" action={<Link href={`/rehearse?test=${test.id}`}>Rehearse this test</Link>}>
          Send simulated visitors through it, with true effects that you set, to see what such a test would find.
        </Note>
      ) : null}
      {test.status === 'draft' || test.status === 'scheduled' ? <ForecastNote test={test} editing={editing} /> : null}
      {test.status === 'running' || test.status === 'paused' ? <StillToCome test={test} /> : null}
      {test.status === 'settled' ? null : <SeeIt test={test} />}
      {test.rounds.length === 0 ? null : (
        <Note title="Rounds">
          <ul>
            {test.rounds.map(({ id, number, startedAt, endedAt }) => (
              <li key={id}>
                Round {number}, {dayWords(startedAt)}
                {endedAt === null ? ', going on' : ` to ${dayWords(endedAt)}`}
              </li>
            ))}
          </ul>
        </Note>
      )}
      {test.rounds.length === 0 ? null : (
        <Note title="How it is computed">
          Unit: visitors who really saw the part. The interval that decides is an asymptotic confidence sequence (a mixture of
          four), valid at every moment at once, at 95% shared between the variants; shown is what all looks of the round agree on.
          The split is checked by a sequential test. The chance of being the best goes by Beta posteriors, any rate alike before.
          Once the planned end is reached, the table also has Katz’s interval and the pooled z test for one look.
        </Note>
      )}
    </>
  )
}

/** In which order a rule and the test come at one place. */
function RulesFirst({ test }: { test: TestView }) {
  return test.ruled.map(({ document, node, rules }) => (
    <Note
      key={`${document} ${node}`}
      title="Rules come first"
      action={
        <Link href={`/site/${document}?part=${node}`} prefetch={false}>
          Open the part
        </Link>
      }
    >
      This part is shown by rule as well: whoever {rules.map((name) => `‘${name}’`).join(' or ')} fits is shown that, and what the
      test changes comes on top of it. For them the original is what the rule shows.
    </Note>
  ))
}

/** The goals that a running test counts as they were, with the way to the next round. */
function AsBefore({ test, account }: { test: TestView; account: AccountView }) {
  const message = useMessages()
  const next = useTell('test.nextRound', () => void message.success('The next round counts by the goals as they are now.'))
  if (test.asBefore.length === 0) return null
  return (
    <Note
      title="Goals as they were"
      tone="asks"
      action={
        <Button
          size="small"
          disabled={!mayAs(account.role, 'publisher')}
          busy={next.isPending}
          onClick={() => next.mutate({ test: test.id }, { onError: (reason) => void message.error(reason.message, 8) })}
        >
          Open the next round
        </Button>
      }
    >
      {test.asBefore.map((name) => `“${name}”`).join(' and ')} {test.asBefore.length === 1 ? 'was' : 'were'} changed since this
      round began. The round goes on counting as it was then, and that is what this sheet shows. A next round counts as it is now,
      from nothing.
    </Note>
  )
}

function ReadinessNotes({ test, editing, account }: { test: TestView; editing: Editing; account: AccountView }) {
  const notes = (findings: readonly FindingView[], tone: 'blocks' | 'asks') =>
    findings.map((finding) => <FindingNote key={finding.code + finding.words} {...{ finding, tone, test, editing, account }} />)
  return (
    <DrawnCheck test={test}>
      {(drawn, line) => (
        <>
          {notes(test.blocks, 'blocks')}
          {notes(test.advises, 'asks')}
          {drawn}
          {test.looking ? <Note title="Looking at the pages">What visitors would get is looked at in every version.</Note> : null}
          <Note title={test.blocks.length === 0 && !test.looking ? 'Ready to start' : 'In order'}>
            <ul className="passed">
              {test.passed.map((words) => (
                <li key={words}>{words}</li>
              ))}
              {line}
            </ul>
          </Note>
        </>
      )}
    </DrawnCheck>
  )
}

function FindingNote({
  finding,
  tone,
  test,
  editing,
  account,
}: {
  finding: FindingView
  tone: 'blocks' | 'asks'
  test: TestView
  editing: Editing
  account: AccountView
}) {
  const settle = useSettle(test, editing)
  const step = finding.settle
  const forbidden = step?.step === 'publishPage' && !mayAs(account.role, 'publisher')
  const action =
    step === null ? undefined : (
      <Button
        size="small"
        disabled={forbidden}
        title={forbidden ? 'Only a publisher can publish.' : undefined}
        onClick={() => settle(step.step, step.subject)}
      >
        {step.label}
      </Button>
    )
  return (
    <Note title={tone === 'blocks' ? 'In the way' : 'Advised'} tone={tone} action={action}>
      {finding.words}
    </Note>
  )
}

/** Every finding that names a step can be settled from its note. */
function useSettle(test: TestView, editing: Editing) {
  const client = useQueryClient()
  const router = useRouter()
  const message = useMessages()
  const publish = useTell('document.publish', () => void message.success('Published.'))
  const { design, change } = editing
  return (step: string, subject: string | null) => {
    switch (step) {
      case 'leaveOut': {
        // Of a combination, every one that shows the version goes.
        const arms = design.arms.filter(
          ({ version, levels }) => version !== subject && !levels.some((level) => level === subject),
        )
        const weights = evenWeights(arms.length)
        return change({ arms: arms.map((arm, index) => ({ ...arm, weight: weights[index] ?? 0 })) })
      }
      case 'evenSplit': {
        const weights = evenWeights(design.arms.length)
        return change({ arms: design.arms.map((arm, index) => ({ ...arm, weight: weights[index] ?? 0 })) })
      }
      case 'everybody':
        return editing.change({ audience: EVERYBODY })
      case 'wholeShare':
        return change({ share: WHOLE })
      case 'freeShare':
      case 'fairShare':
        return change({ share: Number(subject ?? WHOLE) })
      case 'publishPage': {
        const failed = (reason: Refused) => void message.error(reason.message, 8)
        const document = subject as DocumentId
        return void talk('document.open', { document }).then(
          ({ lock }) => publish.mutate({ document, lock, note: `Published for the test “${design.name}”` }, { onError: failed }),
          failed,
        )
      }
      case 'writeQuestion':
        return document.getElementById('question-problem')?.focus()
      case 'chooseGoal':
        return document.querySelector<HTMLElement>('#goals input')?.focus()
      case 'allowScripts':
        return router.push('/settings')
      case 'putMarker': {
        const [marker = '', version = ''] = (subject ?? '').split(' ')
        return void putMarker(test, marker, version).then(
          (put) => {
            if (!put) return router.push(`/site/${design.document}?part=${design.node}`)
            void message.success('The variant carries the marker too now.')
            void client.invalidateQueries()
          },
          (reason: Refused) => void message.error(reason.message, 8),
        )
      }
      case 'openGoal':
        return router.push(`/goals/${subject ?? ''}`)
      case 'pauseOther':
        return router.push(`/tests/${subject ?? ''}`)
      default:
        return router.push(`/site/${design.document}?part=${design.node}`)
    }
  }
}

/** @returns whether there was something to put it on */
async function putMarker(test: TestView, marker: string, wanted: string): Promise<boolean> {
  const level = levelsIn(test, wanted)
  // What components are is known to desks; here it is needed for this press alone.
  const { withMarker } = await import('@/components/markers')
  for (const { document } of partsOf(test.design)) {
    const opened = await talk('document.open', { document })
    const version = opened.versions.find(({ id }) => level.includes(id))
    const edits = version === undefined ? null : withMarker(opened.document, version.edits, marker)
    if (version === undefined || edits === null) continue
    await talk('version.save', { id: version.id, lock: version.lock, edits })
    return true
  }
  return false
}

function levelsIn(test: TestView, arm: string): string[] {
  return test.design.arms.filter(({ version }) => version === arm).flatMap(({ version, levels }) => [version, ...levels])
}

/** What would make an answer possible, and after how long it would come then. */
function helpWords({ kind, value, days }: Help): string {
  const then = `about ${plural(days, 'day', 'days')}`
  switch (kind) {
    case 'largerDifference':
      return `A larger difference worth having: ${percent(value)} takes ${then}.`
    case 'fewerVariants':
      return `Fewer variants: with one, ${then}.`
    case 'nearerGoal':
      return `A goal nearer to the part: one that ${percent(value)} reach takes ${then}.`
    case 'moreVisitors':
      return `More pages: with ${plural(value, 'visitor', 'visitors')} a day it takes ${then}.`
    default:
      return kind satisfies never
  }
}

/** The live site with the test's versions in it, for oneself and for others. */
function SeeIt({ test }: { test: TestView }) {
  const message = useMessages()
  const look = useTell('test.look')
  const failed = { onError: (reason: Refused) => void message.error(reason.message, 8) }
  const ask = { test: test.id }
  const open = () => {
    // Opened by the press itself: a browser takes a window that comes later for one that nobody asked for.
    const window = globalThis.open('', '_blank')
    look.mutate(ask, {
      onSuccess: ({ address }) => (window === null ? globalThis.location.assign(address) : window.location.assign(address)),
      onError: (reason: Refused) => {
        window?.close()
        failed.onError(reason)
      },
    })
  }
  const copy = () =>
    look.mutate(ask, {
      onSuccess: ({ address }) =>
        void globalThis.navigator.clipboard.writeText(address).then(
          () => message.success('The link is copied. It holds for a week.'),
          () => message.error(`The link could not be copied. It is ${address}`, 20),
        ),
      ...failed,
    })
  return (
    <Note title="See it live">
      <p>The real site with a strip at its foot, in which each version can be chosen, before the start as well. Never counted.</p>
      <div className="row-tools">
        <Button size="small" onClick={open}>
          Open the site
        </Button>
        <Button size="small" look="quiet" onClick={copy}>
          Copy a link
        </Button>
      </div>
      <Links test={test} />
    </Note>
  )
}

/** The links that were made and hold, to be taken back. */
function Links({ test }: { test: TestView }) {
  const message = useMessages()
  const { data } = useAsk('test.looks', { test: test.id }, { every: 15_000 })
  const back = useTell('test.takeLooksBack', ({ taken }) =>
    message.success(`${plural(taken, 'link opens', 'links open')} nothing any more.`),
  )
  const take = (number: number | null) =>
    back.mutate({ test: test.id, number }, { onError: (reason) => void message.error(reason.message, 8) })
  if (data === undefined || data.looks.length === 0) return null
  return (
    <details>
      <summary>{plural(data.looks.length, 'link holds', 'links hold')}</summary>
      <ul className="where-used">
        {data.looks.map(({ number, by, until }) => (
          <li key={number}>
            by {by}, until {momentWords(until)}{' '}
            <Button size="small" look="quiet" busy={back.isPending} onClick={() => take(number)}>
              Take back
            </Button>
          </li>
        ))}
      </ul>
      {data.looks.length < 2 ? null : (
        <Button size="small" look="quiet" busy={back.isPending} onClick={() => take(null)}>
          Take all back
        </Button>
      )}
    </details>
  )
}

/** What past tests of this kind say of the next, where somebody asks for it. */
function ByPastTests({ test, editing, traffic }: { test: TestView; editing: Editing; traffic: Traffic }) {
  const [asked, ask] = useState(false)
  const { past } = test
  if (past === null) return null
  const { kind, tests, paid, prior } = past
  const [low, high] = likelyGain(prior)
  const chances = [2, 4, 8].flatMap((weeks) => {
    const chance = chanceToSee(editing.design, traffic, prior, weeks)
    return chance === null ? [] : [`${roughPercent(chance)} within ${weeks} weeks`]
  })
  return (
    <>
      <Check checked={asked} change={ask}>
        Go by past tests of a {kind}
      </Check>
      {asked ? (
        <p>
          {count(paid)} of {plural(tests, 'test', 'tests')} paid. By them a variant changes the rate by between {limitWords(low)}{' '}
          and {limitWords(high)}, nine times of ten.{' '}
          {chances.length === 0 ? '' : `The chance that it is seen to be better: ${chances.join(', ')}.`}
        </p>
      ) : null}
    </>
  )
}

/** Of a test that runs, the same number as everywhere. */
function StillToCome({ test }: { test: TestView }) {
  const { data: result } = useAsk('result.read', { test: test.id, round: null, crowd: 0, goal: null })
  if (result === undefined || result === null) return null
  // What is clear is not waited for.
  if (result.variants.every(({ reading }) => reading !== 'tooEarly')) return null
  const words = waitingSentence(result.waiting, percent(test.design.smallestEffect))
  return (
    <Note title="Still to come">
      {words === '' ? 'How long it takes can be said once ten visitors have reached the goal.' : words}
    </Note>
  )
}

/** Worked out again with every change of the sheet. */
function ForecastNote({ test, editing }: { test: TestView; editing: Editing }) {
  const { data: size } = useAudience(editing.design.audience)
  const share = size === undefined ? 1 : shareOf(size)
  const ahead = forecast(editing.design, trafficAmong(test.traffic, share))
  const { smallestEffect } = editing.design
  return (
    <Note title="Forecast">
      <p>
        About {plural(Math.round(ahead.perDay), 'visitor', 'visitors')} a day take part;{' '}
        {ahead.measured
          ? `${percent(ahead.baseRate)} of the page’s visitors reached the goal in the last 28 days`
          : `the base rate is not known yet, so ${percent(ahead.baseRate)} is assumed`}
        .
      </p>
      <p>
        {ahead.waiting.kind === 'unknown'
          ? 'Without visitors no answer comes.'
          : ahead.waiting.kind === 'tooFew'
            ? `There are too few visitors here to see a difference of ${percent(smallestEffect)}. What would help:`
            : `A difference of ${percent(smallestEffect)} is seen with 80% chance after about ${plural(ahead.waiting.days, 'day', 'days')}, looking whenever you like; with a single look at the end after ${count(ahead.daysForOneLook ?? 0)}.`}
      </p>
      {ahead.helps.length === 0 ? null : (
        <ul className="helps">
          {ahead.helps.map((help) => (
            <li key={help.kind}>{helpWords(help)}</li>
          ))}
        </ul>
      )}
      <table className="forecast">
        <tbody>
          {ahead.seen.map(({ weeks, gain }) => (
            <tr key={weeks}>
              <td>after {plural(weeks, 'week', 'weeks')}</td>
              <td>{gain === null ? 'nothing can be seen by then' : `${signed(gain)} or more`}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <ByPastTests test={test} editing={editing} traffic={trafficAmong(test.traffic, share)} />
    </Note>
  )
}
