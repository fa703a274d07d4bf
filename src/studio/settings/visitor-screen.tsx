'use client'

import { useQuestions } from '../controls/questions'
import { Button } from '../controls/button'
import { useState } from 'react'
import type { AccountView, VisitorView } from '@/contract/contract'
import { useMessages } from '../frame/messages'
import { Note, Screen, Waiting } from '../frame/screen'
import { SearchHead } from '../frame/search-head'
import { count, momentWords, plural } from '../frame/wording'
import { useAsk, useTell } from '../talk'
import { SettingsPlaces } from './settings-places'

/** All that is kept of one visitor, for whoever asks by right; and away with it. */
export function VisitorScreen({ account }: { account: AccountView }) {
  const [who, setWho] = useState('')
  const asked = useAsk('visitor.show', { who: who || '-' }, { enabled: who !== '' })
  const settings = useAsk('setting.read', {})
  return (
    <Screen
      account={account}
      sheet={
        <>
          <SearchHead
            title="A visitor"
            placeholder="Their 32 digits, or an order’s number"
            label="The visitor’s digits, or the number of an order"
            search={(words) => setWho(words.trim())}
          />
          <SettingsPlaces account={account} />
          {who === '' ? (
            <p className="empty">
              Whoever asks what is kept of them gives you the digits that the cookie “visitor” has in their browser, or the number
              of an order. Look for one of these here.
            </p>
          ) : asked.data === undefined ? (
            <Waiting error={asked.error} again={() => void asked.refetch()} />
          ) : asked.data === null ? (
            <p className="empty">Nothing is kept of anybody by this.</p>
          ) : (
            <Kept visitor={asked.data} />
          )}
        </>
      }
      margin={
        <Note title="How long">
          {settings.data === undefined
            ? ''
            : `What visitors do is kept one by one for ${count(settings.data.eventDays)} days at most; ${count(settings.data.visitorDays)} days after a visitor came last, all of it goes. Change that under “The site”. Numbers stay: nobody can be found in a sum.`}
        </Note>
      }
    />
  )
}

function Kept({ visitor }: { visitor: VisitorView }) {
  const message = useMessages()
  const [askFirst, questions] = useQuestions()
  const erase = useTell('visitor.erase', ({ events, entries }) =>
    message.success(`Taken away: ${plural(events, 'event', 'events')} and ${plural(entries, 'form entry', 'form entries')}.`, 6),
  )
  const ask = () =>
    void askFirst({
      title: 'Take away all that is kept of this visitor?',
      content:
        'What they did, what is remembered of them, and what they sent with forms. It cannot be brought back. No number changes.',
      act: 'Take it away',

      go: () => erase.mutate({ visitor: visitor.visitor }, { onError: (reason) => message.error(reason.message, 8) }),
    })
  return (
    <>
      {questions}
      <section className="band" aria-label="In short">
        <h2>In short</h2>
        <p>
          {plural(visitor.visits, 'visit', 'visits')}, {plural(visitor.events, 'event', 'events')}
          {visitor.firstAt === null ? '' : ` since ${momentWords(visitor.firstAt)}`}
          {visitor.lastAt === null ? '' : `, the last on ${momentWords(visitor.lastAt)}`}.
        </p>
        <p className="quiet">
          <code>{visitor.visitor}</code>
        </p>
        <div className="place-tools">
          <Button danger busy={erase.isPending} onClick={ask}>
            Take it all away
          </Button>
        </div>
      </section>
      <Lines name="Kept" lines={visitor.kept.map(({ words, rows }) => `${count(rows)} ${words}`)} />
      <Lines
        name="Tests"
        lines={visitor.tests.map(({ name, version, exposed }) => `${name}: ${version}${exposed ? '' : ', not seen'}`)}
      />
      <Lines
        name="Goals"
        lines={visitor.goals.map(
          ({ name, times, worth }) => `${name}: ${plural(times, 'time', 'times')}, worth ${count(Math.round(worth * 100) / 100)}`,
        )}
      />
      <Lines
        name="Orders"
        lines={visitor.orders.map(
          ({ number, value, refunded }) => `${number}: ${value}${refunded > 0 ? `, ${refunded} paid back` : ''}`,
        )}
      />
      <Lines
        name="Sent with forms"
        lines={visitor.entries.map(
          ({ at, fields }) =>
            `${momentWords(at)}: ${Object.entries(fields)
              .map(([name, value]) => `${name} ${value}`)
              .join(', ')}`,
        )}
      />
      <Lines name="What they did" lines={visitor.did.map(({ at, words }) => `${momentWords(at)}: ${words}`)} />
    </>
  )
}

function Lines({ name, lines }: { name: string; lines: readonly string[] }) {
  if (lines.length === 0) return null
  return (
    <section className="band" aria-label={name}>
      <h2>{name}</h2>
      <ul className="where-used">
        {lines.map((line, index) => (
          <li key={index}>{line}</li>
        ))}
      </ul>
    </section>
  )
}
