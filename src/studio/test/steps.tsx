'use client'

import { useRouter } from 'next/navigation'
import type { ReactNode } from 'react'
import { mayAs, type AccountView, type TestView } from '@/contract/contract'
import type { Status } from '@/core/experiment'
import { Button } from '../controls/button'
import { useQuestions } from '../controls/questions'
import { useMessages } from '../frame/messages'
import { download } from '../media/upload'
import { talk, useTell, type Refused } from '../talk'
import type { Editing } from './test-screen'

interface StepsProps {
  readonly test: TestView
  readonly editing: Editing
  readonly account: AccountView
}

/** The commands that each state of a test allows. */
const stepsOf: { readonly [Of in Status]: (props: StepsProps) => ReactNode } = {
  draft: DraftSteps,
  scheduled: ScheduledSteps,
  running: RunningSteps,
  paused: PausedSteps,
  ended: EndedSteps,
  settled: EndedSteps,
}

/** The commands that the test's state allows, and nothing else. */
export function Steps(props: StepsProps) {
  const Own = stepsOf[props.test.status]
  return <Own {...props} />
}

/** What all steps need: whether they may be taken, and where to say what was refused. */
function useSteps(account: AccountView) {
  const message = useMessages()
  const [askFirst, questions] = useQuestions()
  const may = mayAs(account.role, 'publisher')
  return {
    message,
    questions,
    may,
    why: may ? undefined : 'Only a publisher can do this.',
    failed: { onError: (reason: Refused) => void message.error(reason.message, 8) },
    ask: (title: string, content: string, act: string, go: () => void) => void askFirst({ title, content, act, go }),
  }
}

function useStart() {
  const message = useMessages()
  return useTell('test.start', () => void message.success('The test is running. The next visitor may see a variant.'))
}

function DraftSteps({ test, editing, account }: StepsProps) {
  const { questions, may, why, failed, ask, message } = useSteps(account)
  const router = useRouter()
  const start = useStart()
  const schedule = useTell('test.schedule', () => void message.success('It starts by itself at its time.'))
  const remove = useTell('test.remove', () => router.push('/tests'))
  const byItself = editing.design.schedule.start !== null
  const mayStart = {
    disabled: test.blocks.length > 0 || !may,
    title: why ?? (test.blocks.length > 0 ? 'The margin says what is in the way.' : undefined),
  }
  const removeIt = () =>
    ask('Remove this draft?', 'Its question and settings go; its variants stay on the page’s shelf.', 'Remove the draft', () =>
      remove.mutate({ test: test.id }, failed),
    )
  return (
    <div className="steps">
      {questions}
      <TakeAway test={test} />
      {test.rounds.length > 0 ? null : (
        <Button look="quiet" onClick={removeIt}>
          Remove
        </Button>
      )}
      {byItself ? (
        <Button
          look="primary"
          {...mayStart}
          busy={schedule.isPending}
          onClick={() => void editing.settled().then((lock) => schedule.mutate({ test: test.id, lock }, failed))}
        >
          Let it start by itself
        </Button>
      ) : null}
      <Button
        look={byItself ? 'plain' : 'primary'}
        {...mayStart}
        busy={start.isPending}
        onClick={() => void editing.settled().then((lock) => start.mutate({ test: test.id, lock }, failed))}
      >
        {byItself ? 'Start it now' : 'Start the test'}
      </Button>
    </div>
  )
}

function ScheduledSteps({ test, editing, account }: StepsProps) {
  const { may, why, failed } = useSteps(account)
  const start = useStart()
  const unschedule = useTell('test.unschedule')
  return (
    <div className="steps">
      <Button disabled={!may} title={why} onClick={() => unschedule.mutate({ test: test.id }, failed)}>
        Make it a draft again
      </Button>
      <Button
        disabled={!may}
        title={why}
        busy={start.isPending}
        onClick={() => void editing.settled().then((lock) => start.mutate({ test: test.id, lock }, failed))}
      >
        Start it now
      </Button>
    </div>
  )
}

function RunningSteps({ test, account }: StepsProps) {
  const { questions, may, why, failed, ask, message } = useSteps(account)
  const pause = useTell('test.pause')
  const end = useTell('test.end')
  const anew = useTell(
    'test.nextRound',
    () => void message.success('Counting has begun anew; what was counted before stays readable.'),
  )
  const beginAnew = () =>
    ask(
      'Begin counting anew?',
      'The next round begins with empty counts; the round until now stays readable. Who has a version keeps it, unless the split was changed meanwhile: then everybody is drawn again.',
      'Begin anew',
      () => anew.mutate({ test: test.id, because: 'anew' }, failed),
    )
  const endIt = () =>
    ask(
      'End this test?',
      'Everybody sees the original again, and nothing more is counted. You then decide what stays.',
      'End the test',
      () => end.mutate({ test: test.id }, failed),
    )
  return (
    <div className="steps">
      {questions}
      <Button look="quiet" disabled={!may} title={why} onClick={beginAnew}>
        Begin anew
      </Button>
      <Button disabled={!may} title={why} onClick={() => pause.mutate({ test: test.id }, failed)}>
        Pause
      </Button>
      <Button disabled={!may} title={why} onClick={endIt}>
        End
      </Button>
    </div>
  )
}

function PausedSteps({ test, editing, account }: StepsProps) {
  const { may, why, failed, message } = useSteps(account)
  const end = useTell('test.end')
  const goOn = useTell(
    'test.goOn',
    ({ begins }) =>
      void message.info(
        begins === 'round'
          ? 'Going on in a new round: what is compared was changed.'
          : begins === 'epoch'
            ? 'Going on with the new split; what was counted before still counts.'
            : 'Going on.',
      ),
  )
  return (
    <div className="steps">
      <Button disabled={!may} title={why} onClick={() => end.mutate({ test: test.id }, failed)}>
        End
      </Button>
      <Button
        look="primary"
        disabled={test.blocks.length > 0 || !may}
        title={why}
        onClick={() => void editing.settled().then((lock) => goOn.mutate({ test: test.id, lock }, failed))}
      >
        Go on
      </Button>
    </div>
  )
}

function EndedSteps({ test, account }: StepsProps) {
  const { questions, failed, ask, message } = useSteps(account)
  const again = useTell('test.again', () => void message.success('A draft again: change what you like, then start it.'))
  const runAgain = () =>
    ask(
      'Run this test again?',
      'It becomes a draft again. A start then opens its next round with empty counts; what was counted and decided before stays readable.',
      'Make it a draft again',
      () => again.mutate({ test: test.id }, failed),
    )
  return (
    <div className="steps">
      {questions}
      <Button onClick={runAgain}>Run it again</Button>
    </div>
  )
}

/** The test as a file: its design, its variants and its goals. */
function TakeAway({ test }: { test: TestView }) {
  const message = useMessages()
  return (
    <Button
      look="quiet"
      onClick={() =>
        void talk('format.test', { test: test.id }).then(download, (reason: Refused) => void message.error(reason.message, 8))
      }
    >
      As a file
    </Button>
  )
}
