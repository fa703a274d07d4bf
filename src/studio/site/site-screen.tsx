'use client'

import { OneOf } from '../controls/choices'
import { Button } from '../controls/button'
import dynamic from 'next/dynamic'
import Link from 'next/link'
import { useState } from 'react'
import type { AccountView, CallLine, MediaLine, Output, PageLine } from '@/contract/contract'
import { CampaignChoice } from '../frame/campaign-choice'
import { Paging, usePage } from '../frame/paging'
import { Note, Screen, Waiting } from '../frame/screen'
import { SearchHead } from '../frame/search-head'
import { TestNotes } from '../frame/test-notes'
import { WhereUsed } from '../frame/where-used'
import { agoWords, count, plural, stateWords, statusWords } from '../frame/wording'
import { useAsk } from '../talk'
import { PageFigures } from './site-figures'
import { Campaigns } from './campaigns'
import { Exchange } from './exchange'
import type { NewKind } from './new-document'
import { NextHere } from './where-next'

/* What the list of pages does not show comes with the press that asks for it. */
const CallList = dynamic(() => import('../call/call-list').then((room) => room.CallList))
const LetterList = dynamic(() => import('../letter/letter-list').then((room) => room.LetterList))
const MediaLibrary = dynamic(() => import('../media/media-library').then((room) => room.MediaLibrary))
const MediaDetails = dynamic(() => import('../media/media-library').then((room) => room.MediaDetails))
const NewDocument = dynamic(() => import('./new-document').then((room) => room.NewDocument), { ssr: false })

const shelves = [
  { value: 'page', label: 'Pages' },
  { value: 'menu', label: 'Menus' },
  { value: 'callToAction', label: 'Calls to action' },
  { value: 'letter', label: 'Newsletters' },
  { value: 'shared', label: 'Shared' },
  { value: 'style', label: 'Styles' },
  { value: 'template', label: 'Templates' },
  { value: 'media', label: 'Media' },
  { value: 'campaign', label: 'Campaigns' },
] as const
type ShelfName = (typeof shelves)[number]['value']

/** All that the site is made of, each kind on its own shelf. */
export function SiteScreen({ account }: { account: AccountView }) {
  const [kind, setKind] = useState<ShelfName>('page')
  const [search, setSearch] = useState('')
  const [campaign, setCampaign] = useState('')
  const [chosen, setChosen] = useState<string | null>(null)
  const [making, setMaking] = useState<NewKind | null>(null)
  const [call, setCall] = useState<CallLine | null>(null)
  const [media, setMedia] = useState<MediaLine | null>(null)
  const [page, turn] = usePage(`${search} ${campaign}`)
  const asked = useAsk('site.read', { page, search, campaign })
  const lines = asked.data?.lines ?? []
  const others = asked.data?.others ?? []
  const selected = lines.find(({ id }) => id === chosen) ?? null
  const makes = kind === 'media' || kind === 'campaign' || kind === 'template' ? null : kind
  return (
    <Screen
      account={account}
      sheet={
        <>
          {kind === 'page' ? (
            <SearchHead title="Site" placeholder="Find a page by title or address" label="Find a page" search={setSearch} />
          ) : (
            <header className="sheet-head">
              <h1>Site</h1>
            </header>
          )}
          <div className="filters">
            <OneOf<ShelfName> aria-label="Kind" value={kind} options={[...shelves]} change={setKind} />
            {makes === null ? null : (
              <Button look="primary" className="end" onClick={() => setMaking(makes)}>
                {newWords[makes]}
              </Button>
            )}
          </div>
          {kind === 'page' ? (
            asked.data === undefined ? (
              <Waiting error={asked.error} again={() => void asked.refetch()} />
            ) : (
              <>
                <div className="filters narrow-filter">
                  <CampaignChoice value={campaign} none="Every campaign" change={setCampaign} />
                </div>
                <PageTree lines={lines} chosen={chosen} choose={setChosen} />
                <Paging page={page} total={asked.data.total} turn={turn} />
              </>
            )
          ) : null}
          {kind === 'callToAction' ? <CallList chosen={call?.id ?? null} choose={setCall} /> : null}
          {kind === 'letter' ? <LetterList /> : null}
          {kind === 'menu' || kind === 'shared' || kind === 'style' || kind === 'template' ? (
            <OtherDocuments lines={others.filter((one) => one.kind === kind)} kind={kind} />
          ) : null}
          {kind === 'media' ? (
            <>
              <MediaLibrary kind="image" choose={(_, line) => setMedia(line)} />
              <h2 className="shelf-head">Films</h2>
              <MediaLibrary kind="video" choose={(_, line) => setMedia(line)} />
            </>
          ) : null}
          {kind === 'campaign' ? <Campaigns /> : null}
          {making === null ? null : <NewDocument kind={making} close={() => setMaking(null)} />}
        </>
      }
      margin={
        <>
          {kind === 'page' && selected !== null ? <PageNotes line={selected} /> : null}
          {kind === 'callToAction' && call !== null ? (
            <>
              <Note title={call.title} action={<Link href={`/site/${call.id}`}>Open it</Link>}>
                {call.places.length === 0
                  ? 'It stands nowhere yet: put it on a page with “Add”.'
                  : `It stands in ${plural(call.places.length, 'place', 'places')}.`}
              </Note>
              <WhereUsed title="Stands on" places={call.places} />
              <TestNotes title="Under test" tests={call.tests} />
            </>
          ) : null}
          {kind === 'media' && media !== null ? (
            <>
              <Note title={media.title}>
                <MediaDetails key={media.name} line={media} binned={() => setMedia(null)} />
              </Note>
              <WhereUsed title="Shown on" places={media.places} />
            </>
          ) : null}
          {kind === 'page' && selected === null ? (
            <Note>Select a page to see what varies on it and who comes. Open it to edit it in place.</Note>
          ) : null}
          <Exchange account={account} />
          <Note title="The bin" action={<Link href="/site/bin">Open the bin</Link>}>
            What is thrown away stays there for 30 days.
          </Note>
        </>
      }
    />
  )
}

const newWords: Readonly<Record<NewKind, string>> = {
  page: 'New page',
  menu: 'New menu',
  callToAction: 'New call to action',
  shared: 'New shared component',
  style: 'New style',
  letter: 'New newsletter',
}

const emptyWords = {
  menu: 'No menu yet. A menu is made once and shown on every page that has a place for it.',
  shared: 'Nothing is shared yet. Select a part of a page and choose “Share it”, or make a new one here.',
  style: 'No style yet. A style changes one kind of part on many pages, and can be tested like any other part.',
  template: 'No template yet. Open a page and choose “Save as a template”.',
} as const

function OtherDocuments({ lines, kind }: { lines: Output<'site.read'>['others']; kind: keyof typeof emptyWords }) {
  if (lines.length === 0) return <p className="empty">{emptyWords[kind]}</p>
  return (
    <table className="rows">
      <thead>
        <tr>
          <th>Title</th>
          <th>State</th>
          <th>Varies</th>
          <th>Used on</th>
        </tr>
      </thead>
      <tbody>
        {lines.map(({ id, title, state, tests, usedOn }) => (
          <tr key={id}>
            <td>
              <Link href={`/site/${id}`}>{title}</Link>
            </td>
            <td className={`state ${state}`}>{kind === 'template' ? 'ready' : stateWords[state]}</td>
            <td>{tests > 0 ? plural(tests, 'test', 'tests') : ''}</td>
            <td className="quiet">
              {usedOn.length === 0
                ? ''
                : `${plural(usedOn.length, 'page', 'pages')}: ${usedOn.slice(0, 3).join(', ')}${usedOn.length > 3 ? ' …' : ''}`}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function PageTree({
  lines,
  chosen,
  choose,
}: {
  lines: readonly PageLine[]
  chosen: string | null
  choose: (id: string) => void
}) {
  if (lines.length === 0) return <p className="empty">No page is called that. Search for part of its title or of its address.</p>
  return (
    <>
      <div className="table-scroll">
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
      </div>
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
      <PageFigures page={line.id} />
      <NextHere page={line.id} />
      <TestNotes title="Test on this page" tests={line.tests} />
      {line.personalized > 0 ? (
        <Note tone="live">{plural(line.personalized, 'part is', 'parts are')} shown in different versions, by rule.</Note>
      ) : null}
    </>
  )
}
