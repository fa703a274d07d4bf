'use client'

import { Choice, OneOf } from '../controls/choices'
import Link from 'next/link'
import { useState } from 'react'
import type { AccountView, NotebookLine, Output } from '@/contract/contract'
import { readingWords } from '@/core/experiment'
import { percent } from '@/core/numbers'
import { Paging, usePage } from '../frame/paging'
import { Snapshot } from '../frame/snapshot'
import { Note, Screen, Waiting } from '../frame/screen'
import { SearchHead } from '../frame/search-head'
import { useAddress } from '../frame/use-address'
import { count, dayWords, plural } from '../frame/wording'
import { useAsk, useTell } from '../talk'
import { NoteList } from '../test/notes'
import { AboutKinds, KindsCompared } from './kinds-compared'
import { LessonField } from './lesson-field'
import { Tags } from './tags'
import { AboutRules, RuleEntries } from './rule-entries'

/** What was asked, shown, measured, decided and learned: of tests, and of what was shown by rule. */
export function NotebookScreen({ account }: { account: AccountView }) {
  const [by, narrow] = useAddress(['of', 'tag'])
  const [search, setSearch] = useState('')
  const of = shelves.find(({ value }) => value === by.of)?.value ?? 'tests'
  return (
    <Screen
      account={account}
      sheet={
        <>
          <SearchHead title="Notebook" placeholder="Find a word in any entry" label="Find in the notebook" search={setSearch} />
          <div className="filters">
            <OneOf
              aria-label="Entries of"
              value={of}
              options={shelves}
              change={(next) => narrow({ of: next === 'tests' ? '' : next, tag: '' })}
            />
            {of === 'tests' ? <TagChoice tag={by.tag} choose={(tag) => narrow({ tag })} /> : null}
          </div>
          {of === 'rules' ? (
            <RuleEntries search={search} />
          ) : of === 'kinds' ? (
            <KindsCompared />
          ) : (
            <TestEntries search={search} tag={by.tag} />
          )}
        </>
      }
      margin={of === 'rules' ? <AboutRules /> : of === 'kinds' ? <AboutKinds /> : <SoFar search={search} />}
    />
  )
}

const shelves = [
  { value: 'tests', label: 'Tests' },
  { value: 'rules', label: 'Rules' },
  { value: 'kinds', label: 'Kinds compared' },
] as const

/** Those with one tag alone. */
function TagChoice({ tag, choose }: { tag: string; choose: (tag: string) => void }) {
  const known = useAsk('tag.list', {})
  const tags = [...new Set([...(known.data?.tags ?? []), ...(tag === '' ? [] : [tag])])]
  if (tags.length === 0) return null
  return (
    <Choice
      aria-label="Tag"
      value={tag}
      change={choose}
      options={[{ value: '', label: 'All tags' }, ...tags.map((value) => ({ value, label: value }))]}
    />
  )
}

/** A test that was settled just now has its pictures drawn meanwhile. */
const untilDrawn = (last: Output<'notebook.list'> | undefined) =>
  last?.lines.some(({ hasPictures }) => !hasPictures) === true ? 2000 : 10_000

function TestEntries({ search, tag }: { search: string; tag: string }) {
  const [page, turn] = usePage(`${search} ${tag}`)
  const asked = useAsk('notebook.list', { search, page, tag }, { every: untilDrawn })
  const lines = asked.data?.lines ?? []
  return (
    <>
      {asked.data === undefined ? <Waiting error={asked.error} again={() => void asked.refetch()} /> : null}
      {asked.data !== undefined && lines.length === 0 ? (
        <p className="empty">
          {search === '' && tag === ''
            ? 'Nothing is written here yet. Every test that is settled leaves an entry.'
            : 'No entry has this.'}
        </p>
      ) : null}
      {lines.map((line) => (
        <Entry key={line.test + String(line.decision.undone)} line={line} />
      ))}
      <Paging page={page} total={asked.data?.total ?? 0} turn={turn} />
    </>
  )
}

function SoFar({ search }: { search: string }) {
  const [page] = usePage(search)
  const { data } = useAsk('notebook.list', { search, page })
  const standing = (data?.lines ?? []).filter(({ decision }) => !decision.undone)
  const taken = standing.filter(({ decision }) => decision.kind === 'take')
  if (standing.length === 0) return null
  return (
    <Note title="So far">
      {plural(standing.length, 'test is', 'tests are')} settled;{' '}
      {taken.length === 0 ? 'none changed the site.' : `${count(taken.length)} of them changed the site.`} What did not work is
      worth as much: it need not be tried again.
    </Note>
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
          ...line.changed.map(({ name, words }) => [`‘${name}’`, words.join('; ')] as const),
          ['Campaign', line.campaign],
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
      <NoteList notes={line.notes} />
      <Lesson line={line} />
      <div className="question">
        <span>Tags</span>
        <Tags test={line.test} tags={line.tags} />
      </div>
    </article>
  )
}

function Lesson({ line }: { line: NotebookLine }) {
  const write = useTell('notebook.write')
  return (
    <LessonField
      lesson={line.decision.lesson}
      busy={write.isPending}
      write={(lesson) => write.mutateAsync({ test: line.test, lesson })}
    />
  )
}
