'use client'

import Link from 'next/link'
import type { AccountView, TestView } from '@/contract/contract'
import { designSchema, isOpenToChange, type Design } from '@/core/experiment'
import type { TestId } from '@/core/ids'
import { Screen, Waiting } from '../frame/screen'
import { TitleInput } from '../frame/title-input'
import { useDraft } from '../saving/use-draft'
import { momentWords, savingWords, statusWords } from '../frame/wording'
import { Results } from '../results/results'
import { TakeAway } from '../results/take-away'
import { talk, useAsk } from '../talk'
import { Decision } from './decision'
import { QuestionBand, VisitorsBand } from './bands'
import { GoalsBand } from './goals-band'
import { Notes } from './notes'
import { TestMargin } from './test-margin'
import { VersionsBand } from './versions-band'
import { Steps } from './steps'
import { WhenBand } from './when-band'

/** A test on one sheet, read from top to bottom, filled in in any order, saving itself as it is typed. */
export function TestScreen({ account, test: id }: { account: AccountView; test: TestId }) {
  const asked = useAsk('test.open', { test: id }, { every: (last) => (last?.looking === true ? 700 : 5000) })
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
          {hasRun ? <TakeAway test={test.id} account={account} /> : null}
          {hasRun ? <Decision test={test} account={account} /> : null}
          {hasRun ? <Notes test={test} /> : null}
          <QuestionBand editing={editing} test={test} />
          <VersionsBand account={account} test={test} editing={editing} open={open} />
          <GoalsBand test={test} editing={editing} open={open} />
          <VisitorsBand account={account} test={test} editing={editing} open={open} />
          <WhenBand account={account} test={test} editing={editing} />
          {hasRun ? null : <Notes test={test} />}
        </article>
      }
      margin={<TestMargin test={test} editing={editing} account={account} />}
    />
  )
}
