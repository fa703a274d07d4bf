'use client'

import { useQuestions } from '../controls/questions'
import { Button } from '../controls/button'
import { SheetOver } from '../controls/sheet-over'
import { TextArea } from '../controls/fields'
import { useState } from 'react'
import { mayAs, type AccountView, type TestView, type DecisionView } from '@/contract/contract'
import { ORIGINAL } from '@/core/decide'
import { readingWords } from '@/core/experiment'
import type { VersionId } from '@/core/ids'
import { useMessages } from '../frame/messages'
import { VersionMark } from '../frame/marks'
import { momentWords } from '../frame/wording'
import { nameOfArm } from './versions-band'
import { Waiting } from '../frame/screen'
import { useAsk, useTell, type Refused } from '../talk'
import { TakenOver, type Place } from './taken-over'

/** Keep the original or take a variant over; once settled, what was decided and the way back. */
export function Decision({ test, account }: { test: TestView; account: AccountView }) {
  const message = useMessages()
  const [askFirst, questions] = useQuestions()
  const [choice, setChoice] = useState<VersionId | null>(null)
  const undo = useTell(
    'test.undo',
    ({ unfit }) =>
      void message.success(
        unfit.length === 0 ? 'Taken back. The page is as it was.' : `Taken back, but these no longer fit: ${unfit.join('; ')}`,
        6,
      ),
  )
  const { decision } = test
  const may = mayAs(account.role, 'publisher')
  if (test.status === 'draft' || test.status === 'scheduled')
    return <DecidedBefore decisions={decision === null ? test.earlier : [decision, ...test.earlier]} />
  if (test.status === 'settled' && decision !== null) {
    const confirmUndo = () =>
      askFirst({
        title: 'Take this decision back?',
        content:
          decision.kind === 'take'
            ? `The page loses ‘${decision.versionName}’ again for everybody, at once. The test waits for another decision.`
            : 'The test waits for another decision.',
        act: 'Take it back',
        otherwise: 'Leave it',

        go: () => undo.mutate({ test: test.id }, { onError: (reason) => void message.error(reason.message, 8) }),
      })
    return (
      <section className="band decision" aria-label="Decision">
        <h2>Decision</h2>
        <p>
          {decision.by} {decision.kind === 'take' ? `took ‘${decision.versionName}’ over` : 'kept the original'} on{' '}
          {momentWords(decision.at)}, when the reading was <em>{readingWords[decision.reading]}</em>.
          {decision.reason === '' ? '' : ` Reason: ${decision.reason}`}
        </p>
        <Button disabled={!may} onClick={() => void confirmUndo()}>
          Take the decision back
        </Button>
        {questions}
        <DecidedBefore decisions={test.earlier} />
      </section>
    )
  }
  return (
    <section className="not-printed band decision" aria-label="Decision">
      <h2>Decide</h2>
      <div className="choices">
        {test.design.arms.map(({ version }, index) => (
          <Button
            key={version}
            disabled={!may}
            title={may ? undefined : 'Only a publisher can decide.'}
            onClick={() => setChoice(version)}
          >
            <VersionMark index={index} />
            {version === ORIGINAL ? 'Keep the original' : `Take ‘${nameOfArm(test, version)}’ over`}
          </Button>
        ))}
      </div>
      {choice === null ? null : <DecideDialog test={test} version={choice} close={() => setChoice(null)} />}
    </section>
  )
}

/** What was decided in earlier runs of the test. */
function DecidedBefore({ decisions }: { decisions: readonly DecisionView[] }) {
  if (decisions.length === 0) return null
  return (
    <section className="band" aria-label="Decided before">
      <h2>Decided before</h2>
      <ul>
        {decisions.map(({ by, at, kind, versionName, undone, sentence, reason }) => (
          <li key={at}>
            {momentWords(at)}: {by} {kind === 'take' ? `took ‘${versionName}’ over` : 'kept the original'}
            {undone ? ', and it was taken back' : ''}. <span className="quiet">{sentence}</span> {reason}
          </li>
        ))}
      </ul>
    </section>
  )
}

function DecideDialog({ test, version, close }: { test: TestView; version: VersionId; close: () => void }) {
  const message = useMessages()
  const [reason, setReason] = useState('')
  const [lesson, setLesson] = useState('')
  const [fault, setFault] = useState<string | null>(null)
  const [without, setWithout] = useState<readonly Place[]>([])
  const preview = useAsk('test.preview', { test: test.id, version })
  const result = useAsk('result.read', { test: test.id, round: null, crowd: 0, goal: null })
  const decide = useTell('test.decide', () => {
    void message.success('Settled. The entry is in the notebook.')
    close()
  })
  const keeps = version === ORIGINAL
  const name = keeps ? 'the original' : `‘${nameOfArm(test, version)}’`
  const reading =
    result.data?.variants.find((one) => one.version === version)?.reading ?? result.data?.variants[0]?.reading ?? 'tooEarly'
  const backed = reading === 'noDifference' || (keeps ? reading === 'worse' : reading === 'better')
  const settle = () =>
    decide.mutate(
      { test: test.id, version, reason, lesson, without: [...without] },
      { onError: (refused: Refused) => setFault(refused.message) },
    )
  return (
    <SheetOver
      title={keeps ? 'Keep the original?' : `Take ${name} over?`}
      close={close}
      act={{
        words: keeps ? 'Keep the original' : 'Take it over',
        go: settle,
        busy: decide.isPending,
        disabled: !backed && reason.trim() === '',
      }}
    >
      {keeps ? (
        <p>Everybody sees the original, as before. Nothing is published anew.</p>
      ) : preview.data === undefined ? (
        <Waiting error={preview.error} again={() => void preview.refetch()} />
      ) : (
        <TakenOver name={name} view={preview.data} {...{ without, setWithout }} />
      )}
      {preview.data === undefined || preview.data.leaving.length === 0 ? null : (
        <p className="quiet">
          {preview.data.leaving.map((one) => `‘${one}’`).join(', ')} {preview.data.leaving.length === 1 ? 'leaves' : 'leave'} the
          page and {preview.data.leaving.length === 1 ? 'stays' : 'stay'} in the test, for another run.
        </p>
      )}
      <label className="question">
        <span>
          {backed
            ? 'Reason, if you like'
            : `The reading is “${readingWords[reading]}”, so write down why you decide all the same`}
        </span>
        <TextArea aria-label="Reason" value={reason} onChange={({ target }) => setReason(target.value)} maxLength={2000} />
      </label>
      <label className="question">
        <span>What was learned (you can add to it later)</span>
        <TextArea
          aria-label="What was learned"
          value={lesson}
          onChange={({ target }) => setLesson(target.value)}
          maxLength={4000}
        />
      </label>
      {fault === null ? null : (
        <p role="alert" className="fault">
          {fault}
        </p>
      )}
      <p className="quiet">It makes a new revision and release, and can be taken back.</p>
    </SheetOver>
  )
}
