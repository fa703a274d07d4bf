'use client'

import Link from 'next/link'
import { useState } from 'react'
import type { AccountView, PageLine } from '@/contract/contract'
import { Note, Screen, Waiting } from '../frame/screen'
import { SearchHead } from '../frame/search-head'
import { agoWords, count, plural, stateWords, statusWords } from '../frame/wording'
import { useAsk } from '../talk'

/** The tree of pages with their state, and what is used on many of them. */
export function SiteScreen({ account }: { account: AccountView }) {
  const [search, setSearch] = useState('')
  const [chosen, setChosen] = useState<string | null>(null)
  const asked = useAsk('site.read', { search })
  const lines = asked.data?.lines ?? []
  const selected = lines.find(({ id }) => id === chosen) ?? null
  return (
    <Screen
      account={account}
      sheet={
        <>
          <SearchHead title="Site" placeholder="Find a page by title or address" label="Find a page" search={setSearch} />
          {asked.data === undefined ? (
            <Waiting error={asked.error} again={() => void asked.refetch()} />
          ) : (
            <PageTree lines={lines} total={asked.data.total} chosen={chosen} choose={setChosen} />
          )}
          {asked.data === undefined || search !== '' || asked.data.others.length === 0 ? null : (
            <section className="others">
              <h2>Used on many pages</h2>
              <ul>
                {asked.data.others.map(({ id, kind, title, usedOn }) => (
                  <li key={id}>
                    <strong>{title}</strong> <span className="quiet">{kind === 'menu' ? 'menu' : 'call to action'}</span>
                    <span className="quiet end">{usedOn.length === 0 ? 'not used' : plural(usedOn.length, 'page', 'pages')}</span>
                  </li>
                ))}
              </ul>
            </section>
          )}
        </>
      }
      margin={
        selected === null ? (
          <Note>Select a page to see what varies on it and who comes. Open it to edit it in place.</Note>
        ) : (
          <PageNotes line={selected} />
        )
      }
    />
  )
}

function PageTree({
  lines,
  total,
  chosen,
  choose,
}: {
  lines: readonly PageLine[]
  total: number
  chosen: string | null
  choose: (id: string) => void
}) {
  if (lines.length === 0) return <p className="empty">No page is called that. Search for part of its title or of its address.</p>
  return (
    <>
      <table className="rows">
        <thead>
          <tr>
            <th>Page</th>
            <th>Type</th>
            <th>State</th>
            <th>Varies</th>
            <th className="number">Visitors, 28 days</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((line) => (
            <tr key={line.id} className={line.id === chosen ? 'chosen' : ''} onClick={() => choose(line.id)}>
              <td style={{ paddingInlineStart: `${depthOf(line.path) * 1.4}rem` }}>
                <Link href={`/site/${line.id}`} onFocus={() => choose(line.id)}>
                  {line.title}
                </Link>
                <span className="address">{line.path}</span>
              </td>
              <td>{line.pageType}</td>
              <td className={`state ${line.state}`}>{stateWords[line.state]}</td>
              <td>
                {[...new Set(line.tests.map(({ status }) => status))].map((status) => (
                  <span key={status} className={status === 'running' ? 'living' : 'quiet'}>
                    test {statusWords[status]}{' '}
                  </span>
                ))}
                {line.personalized > 0 ? <span className="living">by rule</span> : null}
              </td>
              <td className="number">{count(line.visitors)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {total > lines.length ? (
        <p className="quiet">
          The first {lines.length} of {count(total)} pages. Search to find the others.
        </p>
      ) : null}
    </>
  )
}

const depthOf = (path: string) => Math.max(0, path.split('/').filter(Boolean).length - 1)

function PageNotes({ line }: { line: PageLine }) {
  return (
    <>
      <Note title={line.title} action={<Link href={`/site/${line.id}`}>Open the page</Link>}>
        {plural(line.views, 'view', 'views')} by {plural(line.visitors, 'new visitor', 'new visitors')} in the last 28 days. Last
        changed by {line.updatedBy}, {agoWords(line.updatedAt)}.
      </Note>
      {line.tests.map(({ id, name, status }) => (
        <Note
          key={id}
          title="Test on this page"
          tone={status === 'running' ? 'live' : undefined}
          action={<Link href={`/tests/${id}`}>Open the test</Link>}
        >
          “{name}” is {statusWords[status]}.
        </Note>
      ))}
      {line.personalized > 0 ? (
        <Note tone="live">{plural(line.personalized, 'part is', 'parts are')} shown in different versions, by rule.</Note>
      ) : null}
    </>
  )
}
