'use client'

import { useQuestions } from '../controls/questions'
import { Button } from '../controls/button'
import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { mayAs, type AccountView, type TestView } from '@/contract/contract'
import { designSchema, isOpenToChange, type Design } from '@/core/experiment'
import type { TestId } from '@/core/ids'
import { useMessages } from '../frame/messages'
import { Screen, Waiting } from '../frame/screen'
import { TitleInput } from '../frame/title-input'
import { useDraft } from '../frame/use-draft'
import { momentWords, savingWords, statusWords } from '../frame/wording'
import { download } from '../media/upload'
import { Results } from '../results/results'
import { talk, useAsk, useTell, type Refused } from '../talk'
import { Decision } from './decision'
import { QuestionBand, VisitorsBand } from './bands'
import { GoalsBand } from './goals-band'
import { TestMargin } from './test-margin'
import { VersionsBand } from './versions-band'
import { WhenBand } from './when-band'

/** A test on one sheet, read from top to bottom, filled in in any order, saving itself as it is typed. */
export function TestScreen({ account, test: id }: { account: AccountView; test: TestId }) {
  const asked = useAsk('test.open', { test: id }, { every: 5000 })
  if (asked.data === undefined)
    return <Screen account={account} sheet={<Waiting error={asked.error} again={() => void asked.refetch()} />} margin={null} />
  return <TestSheet key={id} account={account} test={asked.data} />
}

/** The design as it is being edited here. */
function useDesign(account: AccountView, test: TestView) {
  const { value: design, ...rest } = useDraft<Design>(
    { value: test.design, lock: test.lock },
    {
      name: `test ${test.id} ${account.id}`,
      schema: designSchema,
      save: (changed, lock) => talk('test.save', { test: test.id, lock, design: changed }),
      again: async () => {
        const { design: value, lock } = await talk('test.open', { test: test.id })
        return { value, lock }
      },
      reads: 'test.open',
    },
  )
  return { design, ...rest }
}

export type Editing = ReturnType<typeof useDesign>

function TestSheet({ account, test }: { account: AccountView; test: TestView }) {
  const editing = useDesign(account, test)
  const { design, state, fault } = editing
  const hasRun = test.rounds.length > 0
  const open = isOpenToChange(test.status)
  return (
    <Screen
      account={account}
      title={design.name}
      sheet={
        <article className="test-sheet">
          <header className="sheet-head">
            <div className="grow">
              <TitleInput label="Name of the test" value={design.name} change={(name) => editing.change({ name })} />
              <p className="quiet">
                <span className={test.status === 'running' ? 'living' : ''}>{statusWords[test.status]}</span> · on{' '}
                <Link href={`/site/${design.document}`}>{test.page.title}</Link> · {savingWords[state]}
              </p>
            </div>
            <Steps test={test} editing={editing} account={account} />
          </header>
          {fault === null ? null : (
            <div role="alert" className="trouble">
              <p>{fault.message}</p>
              {fault.code === 'conflict' || fault.code === 'blocked' ? (
                <button onClick={editing.giveUp}>Show it as it is saved</button>
              ) : (
                <button onClick={() => editing.change({})}>Save again</button>
              )}
            </div>
          )}
          {test.news === null ? null : (
            <p className="news" role="status">
              {test.news.words} <span className="quiet">{momentWords(test.news.at)}</span>
            </p>
          )}
          {hasRun ? <Results test={test} /> : null}
          {hasRun ? <Decision test={test} account={account} /> : null}
          <QuestionBand editing={editing} />
          <VersionsBand account={account} test={test} editing={editing} open={open} />
          <GoalsBand test={test} editing={editing} open={open} />
          <VisitorsBand account={account} test={test} editing={editing} open={open} />
          <WhenBand account={account} test={test} editing={editing} />
        </article>
      }
      margin={<TestMargin test={test} editing={editing} account={account} />}
    />
  )
}

/** The commands that the test's state allows, and nothing else. */
function Steps({ test, editing, account }: { test: TestView; editing: Editing; account: AccountView }) {
  const router = useRouter()
  const message = useMessages()
  const [askFirst, questions] = useQuestions()
  const failed = { onError: (reason: Refused) => void message.error(reason.message, 8) }
  const start = useTell('test.start', () => void message.success('The test is running. The next visitor may see a variant.'))
  const pause = useTell('test.pause')
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
  const end = useTell('test.end')
  const schedule = useTell('test.schedule', () => void message.success('It starts by itself at its time.'))
  const unschedule = useTell('test.unschedule')
  const anew = useTell(
    'test.nextRound',
    () => void message.success('Counting has begun anew; what was counted before stays readable.'),
  )
  const again = useTell('test.again', () => void message.success('A draft again: change what you like, then start it.'))
  const remove = useTell('test.remove', () => router.push('/tests'))
  const may = mayAs(account.role, 'publisher')
  const why = may ? undefined : 'Only a publisher can do this.'
  const ask = (title: string, content: string, okText: string, go: () => void) =>
    void askFirst({ title, content, act: okText, go: go })
  switch (test.status) {
    case 'draft':
      return (
        <div className="steps">
          {questions}
          <TakeAway test={test} />
          {test.rounds.length > 0 ? null : (
            <Button
              look="quiet"
              onClick={() =>
                ask(
                  'Remove this draft?',
                  'Its question and settings go; its variants stay on the page’s shelf.',
                  'Remove the draft',
                  () => remove.mutate({ test: test.id }, failed),
                )
              }
            >
              Remove
            </Button>
          )}
          {editing.design.schedule.start === null ? null : (
            <Button
              look="primary"
              disabled={test.blocks.length > 0 || !may}
              title={why ?? (test.blocks.length > 0 ? 'The margin says what is in the way.' : undefined)}
              busy={schedule.isPending}
              onClick={() => void editing.settled().then((lock) => schedule.mutate({ test: test.id, lock }, failed))}
            >
              Let it start by itself
            </Button>
          )}
          <Button
            look={editing.design.schedule.start === null ? 'primary' : 'plain'}
            disabled={test.blocks.length > 0 || !may}
            title={why ?? (test.blocks.length > 0 ? 'The margin says what is in the way.' : undefined)}
            busy={start.isPending}
            onClick={() => void editing.settled().then((lock) => start.mutate({ test: test.id, lock }, failed))}
          >
            {editing.design.schedule.start === null ? 'Start the test' : 'Start it now'}
          </Button>
        </div>
      )
    case 'scheduled':
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
    case 'ended':
    case 'settled':
      return (
        <div className="steps">
          {questions}
          <Button
            onClick={() =>
              ask(
                'Run this test again?',
                'It becomes a draft again. A start then opens its next round with empty counts; what was counted and decided before stays readable.',
                'Make it a draft again',
                () => again.mutate({ test: test.id }, failed),
              )
            }
          >
            Run it again
          </Button>
        </div>
      )
    case 'running':
      return (
        <div className="steps">
          {questions}
          <Button
            look="quiet"
            disabled={!may}
            title={why}
            onClick={() =>
              ask(
                'Begin counting anew?',
                'The next round begins with empty counts; the round until now stays readable. Who has a version keeps it.',
                'Begin anew',
                () => anew.mutate({ test: test.id, because: 'anew' }, failed),
              )
            }
          >
            Begin anew
          </Button>
          <Button disabled={!may} title={why} onClick={() => pause.mutate({ test: test.id }, failed)}>
            Pause
          </Button>
          <Button
            disabled={!may}
            title={why}
            onClick={() =>
              ask(
                'End this test?',
                'Everybody sees the original again, and nothing more is counted. You then decide what stays.',
                'End the test',
                () => end.mutate({ test: test.id }, failed),
              )
            }
          >
            End
          </Button>
        </div>
      )
    case 'paused':
      return (
        <div className="steps">
          {questions}
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
    default:
      return null
  }
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
