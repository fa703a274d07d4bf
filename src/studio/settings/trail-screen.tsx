'use client'

import { Button } from '../controls/button'
import { Choice } from '../controls/choices'
import { SearchField } from '../controls/fields'
import { useState } from 'react'
import type { AccountView, Output, TrailFilter } from '@/contract/contract'
import type { AccountId } from '@/core/ids'
import { useMessages } from '../frame/messages'
import { Paging, usePage } from '../frame/paging'
import { Note, Screen, Waiting } from '../frame/screen'
import { momentWords } from '../frame/wording'
import { download } from '../media/upload'
import { talk, useAsk, type Refused } from '../talk'
import { SettingsPlaces } from './settings-places'

const nothing: TrailFilter = { person: null, search: '', from: null, to: null }

/** Who did what to what, when and from where. */
export function TrailScreen({ account }: { account: AccountView }) {
  const message = useMessages()
  const [filter, setFilter] = useState(nothing)
  const [page, turn] = usePage(JSON.stringify(filter))
  const asked = useAsk('trail.list', { ...filter, page })
  const settings = useAsk('setting.read', {})
  const save = () =>
    void talk('trail.table', filter).then(
      ({ csv }) => download({ name: 'who-did-what.csv', type: 'text/csv', text: csv }),
      (reason: Refused) => message.error(reason.message, 8),
    )
  return (
    <Screen
      account={account}
      sheet={
        <>
          <header className="sheet-head">
            <h1>Who did what</h1>
            <Button onClick={save}>Save as CSV</Button>
          </header>
          <SettingsPlaces account={account} />
          <TrailFilters filter={filter} change={(part) => setFilter({ ...filter, ...part })} />
          {asked.data === undefined ? (
            <Waiting error={asked.error} again={() => void asked.refetch()} />
          ) : (
            <>
              <TrailTable lines={asked.data.lines} />
              <Paging page={page} total={asked.data.total} turn={turn} />
            </>
          )}
        </>
      }
      margin={
        <>
          <Note title="What is written down">
            Everything that changes something, every sign-in, and what was refused for want of a role. Nothing in it can be
            changed or taken out.
          </Note>
          <Note title="How long">
            {settings.data === undefined ? '' : `It is kept for ${settings.data.auditDays} days. Change that under “The site”.`}{' '}
            Times are in UTC.
          </Note>
        </>
      }
    />
  )
}

function TrailFilters({ filter, change }: { filter: TrailFilter; change: (part: Partial<TrailFilter>) => void }) {
  const people = useAsk('person.list', {})
  return (
    <div className="trail-filters" role="search">
      <Choice
        aria-label="Person"
        value={filter.person}
        options={[
          { value: null, label: 'anybody' },
          ...(people.data?.people ?? []).map(({ id, name }) => ({ value: id as AccountId, label: name })),
        ]}
        change={(person: AccountId | null) => change({ person })}
      />
      <SearchField
        aria-label="Search in who did what"
        placeholder="words, a page, an address"
        maxLength={120}
        onSearch={(search) => change({ search: search.trim() })}
      />
      <label>
        from{' '}
        <input
          type="date"
          aria-label="From day"
          value={filter.from ?? ''}
          onChange={({ target }) => change({ from: target.value || null })}
        />
      </label>
      <label>
        to{' '}
        <input
          type="date"
          aria-label="To day"
          value={filter.to ?? ''}
          onChange={({ target }) => change({ to: target.value || null })}
        />
      </label>
    </div>
  )
}

function TrailTable({ lines }: { lines: Output<'trail.list'>['lines'] }) {
  if (lines.length === 0) return <p className="empty">Nothing was written down that fits this.</p>
  return (
    <table className="rows trail">
      <thead>
        <tr>
          <th>When</th>
          <th>Who</th>
          <th>What</th>
          <th>From</th>
        </tr>
      </thead>
      <tbody>
        {lines.map(({ seq, at, person, words, refused, thing, thingName, detail, address }) => (
          <tr key={seq}>
            <td className="quiet">{momentWords(at)}</td>
            <td>{person === '' ? 'somebody' : person}</td>
            <td>
              {refused ? <strong>refused: </strong> : null}
              {words} {thingName === '' ? <span className="address">{thing}</span> : `“${thingName}”`}
              {detail === '' ? null : <div className="quiet">{detail}</div>}
            </td>
            <td className="quiet address">{address}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
