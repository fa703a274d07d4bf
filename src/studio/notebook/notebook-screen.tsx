'use client'

import { Button } from '../controls/button'
import Link from 'next/link'
import { useState } from 'react'
import type { AccountView, NotebookLine } from '@/contract/contract'
import { readingWords } from '@/core/experiment'
import { percent } from '@/core/numbers'
import { useMessages } from '../frame/messages'
import { Paging, usePage } from '../frame/paging'
import { Snapshot } from '../frame/snapshot'
import { Note, Screen, Waiting } from '../frame/screen'
import { SearchHead } from '../frame/search-head'
import { count, dayWords, plural } from '../frame/wording'
import { useAsk, useTell } from '../talk'

/** What was asked, shown, measured, decided and learned. */
export function NotebookScreen({ account }: { account: AccountView }) {
  const [search, setSearch] = useState('')
  const [page, turn] = usePage(search)
  const asked = useAsk('notebook.list', { search, page }, { every: 10_000 })
  const lines = asked.data?.lines ?? []
  const standing = lines.filter(({ decision }) => !decision.undone)
  const taken = standing.filter(({ decision }) => decision.kind === 'take')
  return (
    <Screen
      account={account}
      sheet={
        <>
          <SearchHead title="Notebook" placeholder="Find a word in any entry" label="Find in the notebook" search={setSearch} />
          {asked.data === undefined ? <Waiting error={asked.error} again={() => void asked.refetch()} /> : null}
          {asked.data !== undefined && lines.length === 0 ? (
            <p className="empty">Nothing is written here yet. Every test that is settled leaves an entry.</p>
          ) : null}
          {lines.map((line) => (
            <Entry key={line.test + String(line.decision.undone)} line={line} />
          ))}
          <Paging page={page} total={asked.data?.total ?? 0} turn={turn} />
        </>
      }
      margin={
        lines.length === 0 ? null : (
          <Note title="So far">
            {plural(standing.length, 'test is', 'tests are')} settled;{' '}
            {taken.length === 0 ? 'none changed the site.' : `${count(taken.length)} of them changed the site.`} What did not work
            is worth as much: it need not be tried again.
          </Note>
        )
      }
    />
  )
}

function Entry({ line }: { line: NotebookLine }) {
  const { decision } = line
  return (
    <article className="entry">
      <header>
        <h2>
          <Link href={`/tests/${line.test}`}>{line.name}</Link>
        </h2>
        <p className="quiet">
          {line.page} · {dayWords(line.startedAt)} to {dayWords(decision.at)} · {decision.by}{' '}
          {decision.kind === 'take' ? `took ‘${decision.versionName}’ over` : 'kept the original'}
          {decision.undone ? ' · taken back since' : ''}
        </p>
      </header>
      <p className="sentence small">{decision.sentence}</p>
      {line.hasPictures ? (
        <div className="pictures">
          <Snapshot test={line.test} which="original" caption="Original" />
          <Snapshot
            test={line.test}
            which="chosen"
            caption={decision.kind === 'take' ? decision.versionName : (line.arms[1]?.name ?? 'Variant')}
          />
        </div>
      ) : null}
      <dl className="entry-words">
        {[
          ['The problem', line.problem],
          ['The change', line.change],
          ['Expected', line.expected],
          ['Reason', decision.reason],
        ]
          .filter(([, words]) => words !== '')
          .map(([term, words]) => (
            <div key={term}>
              <dt>{term}</dt>
              <dd>{words}</dd>
            </div>
          ))}
        <div>
          <dt>Measured</dt>
          <dd>
            “{line.goal}”:{' '}
            {line.arms
              .map(({ name, rate, exposed }) => `${name} ${rate === null ? '–' : percent(rate)} of ${count(exposed)}`)
              .join(', ')}
            . Reading: {readingWords[decision.reading]}.
          </dd>
        </div>
      </dl>
      <Lesson line={line} />
    </article>
  )
}

function Lesson({ line }: { line: NotebookLine }) {
  const message = useMessages()
  const [words, setWords] = useState<string | null>(null)
  const write = useTell('notebook.write', () => setWords(null))
  return (
    <label className="question lesson">
      <span>What was learned</span>
      <textarea
        className="control"
        value={words ?? line.decision.lesson}
        placeholder="In a sentence somebody else can use"
        rows={1}
        maxLength={4000}
        onChange={({ target }) => setWords(target.value)}
      />
      {words === null ? null : (
        <Button
          size="small"
          busy={write.isPending}
          onClick={() =>
            write.mutate({ test: line.test, lesson: words }, { onError: (reason) => void message.error(reason.message) })
          }
        >
          Write it down
        </Button>
      )}
    </label>
  )
}
