'use client'

import Link from 'next/link'
import type { AccountView, Output } from '@/contract/contract'
import { MadeUp } from '../frame/made-up'
import { Note, Screen, Waiting } from '../frame/screen'
import { useSiteIdentity } from '../frame/studio'
import { Serving, Unserved } from '../frame/serving'
import { agoWords, count, plural } from '../frame/wording'
import { useAsk } from '../talk'
import { TestRow } from '../tests/test-row'
import { WholeSite } from '../site/site-figures'
import { WhereNext } from '../site/where-next'

type Today = Output<'today.read'>

/** What needs a person now, in order of urgency; then each running test in a line; drafts last, and folded. */
export function TodayScreen({ account }: { account: AccountView }) {
  const asked = useAsk('today.read', {}, { every: 5000 })
  const today = asked.data
  return (
    <Screen
      account={account}
      sheet={
        today === undefined ? <Waiting error={asked.error} again={() => void asked.refetch()} /> : <TodaySheet today={today} />
      }
      margin={today === undefined ? null : <TodayMargin today={today} />}
    />
  )
}

function TodaySheet({ today }: { today: Today }) {
  const decide = today.tests.filter(
    ({ status, reading, drawsNobody, news }) =>
      status === 'ended' ||
      (status === 'draft' && news?.kind === 'notStarted') ||
      status === 'paused' ||
      drawsNobody !== null ||
      (status === 'running' && reading !== null && reading !== 'tooEarly'),
  )
  const start = today.tests.filter((line) => line.status === 'draft' && !decide.includes(line))
  const scheduled = today.tests.filter(({ status }) => status === 'scheduled')
  const settledNow = today.tests.filter(
    ({ status, news }) => status === 'settled' && news?.kind === 'settled' && isRecent(news.at),
  )
  const gathering = today.tests.filter((line) => line.status === 'running' && !decide.includes(line))
  return (
    <>
      <header className="sheet-head">
        <h1>Today</h1>
        <p className="figures">
          <strong>{count(today.visitorsNow)}</strong> on the site now · <strong>{count(today.visitorsToday)}</strong> visitors and{' '}
          <strong>{count(today.viewsToday)}</strong> views since midnight <MadeUp touched={({ any }) => any} />
        </p>
      </header>
      <NeedsYou today={today} tests={[...decide, ...settledNow]} />
      {gathering.length === 0 ? null : (
        <section className="test-group">
          <h2>gathering</h2>
          {gathering.map((line) => (
            <TestRow key={line.id} line={line} />
          ))}
        </section>
      )}
      {scheduled.length === 0 ? null : (
        <section className="test-group">
          <h2>waiting for their start</h2>
          {scheduled.map((line) => (
            <TestRow key={line.id} line={line} />
          ))}
        </section>
      )}
      {start.length === 0 ? null : (
        <details className="test-group drafts">
          <summary>{plural(start.length, 'draft', 'drafts')}</summary>
          {start.map((line) => (
            <TestRow key={line.id} line={line} />
          ))}
        </details>
      )}
      <WhereNext />
      <WholeSite />
    </>
  )
}

/** What waits for a person: a site without a name, tests to decide, rules that cost, pages that are not published. */
function NeedsYou({ today, tests }: { today: Today; tests: Today['tests'] }) {
  const identity = useSiteIdentity()
  const nothing = identity.name !== '' && tests.length + today.changedPages.length + today.worseRules.length === 0
  return (
    <section className="test-group">
      <h2>needs you</h2>
      {nothing ? (
        <p className="empty">Nothing waits for you. To try something new, open a page and select the part you doubt most.</p>
      ) : null}
      {identity.name === '' ? (
        <article className="test-row">
          <div>
            <h3>
              <Link href="/settings">The site has no name yet</Link>
            </h3>
            <p>Say in the settings what it calls itself, its language, its time zone, and the currency of its goals.</p>
          </div>
        </article>
      ) : null}
      {tests.map((line) => (
        <TestRow key={line.id} line={line} />
      ))}
      {today.worseRules.map(({ round, document, node, title, part, sentence }) => (
        <article key={round} className="test-row">
          <div>
            <h3>
              <Link href={`/personalize/${document}/${node}`}>A rule on “{title}” costs more than it brings</Link>
            </h3>
            <p>
              {part}: {sentence}
            </p>
          </div>
        </article>
      ))}
      {today.changedPages.map(({ id, title, by, at }) => (
        <article key={id} className="test-row">
          <div>
            <h3>
              <Link href={`/site/${id}`}>{title}</Link>
            </h3>
            <p>
              Changes by {by} are not published yet ({agoWords(at)}).
            </p>
          </div>
        </article>
      ))}
    </section>
  )
}

/** Settled by itself: worth a look for a week. */
const isRecent = (at: string) => Date.now() - new Date(at).getTime() < 7 * 86_400_000

function TodayMargin({ today }: { today: Today }) {
  const { counting } = today
  const settled = today.tests.filter(({ status }) => status === 'settled').slice(0, 3)
  return (
    <>
      <Note title="Counting" tone={counting.jobsWell ? undefined : 'blocks'}>
        {counting.jobsWell
          ? counting.waiting === 0
            ? 'Every event that was taken in has been counted.'
            : `${plural(counting.waiting, 'event waits', 'events wait')} to be counted.`
          : 'Nobody is counting: the jobs process has not been heard of. Events are kept and counted when it is back.'}
        {counting.lastEventAt === null ? '' : ` The last event came ${agoWords(counting.lastEventAt)}.`}
      </Note>
      {counting.setAside === 0 ? null : (
        <Note title="Set aside" tone="asks">
          {`${plural(counting.setAside, 'event', 'events')} could not be read, and ${counting.setAside === 1 ? 'is' : 'are'} kept apart and not counted. All others are counted.`}
        </Note>
      )}
      <Unserved />
      <Serving />
      {settled.length === 0 ? null : (
        <Note title="Settled lately" action={<Link href="/notebook">Open the notebook</Link>}>
          <ul>
            {settled.map(({ id, name }) => (
              <li key={id}>{name}</li>
            ))}
          </ul>
        </Note>
      )}
    </>
  )
}
