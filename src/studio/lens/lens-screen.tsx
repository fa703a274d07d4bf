'use client'

import { useMemo, useState } from 'react'
import type { AccountView, Output, SavedVisitor } from '@/contract/contract'
import { documentIdSchema, type DocumentId } from '@/core/ids'
import { agreeing, asVisitor, madeUpSchema, type MadeUp } from '@/core/lens'
import { readAddress } from '@/core/page-address'
import { Button } from '../controls/button'
import { OneOf } from '../controls/choices'
import { TextField } from '../controls/fields'
import { FindChoice } from '../controls/find-choice'
import { useMessages } from '../frame/messages'
import { Note, Screen, Waiting } from '../frame/screen'
import { useAddress } from '../frame/use-address'
import { useSite } from '../personalize/use-site'
import { useAsk, useTell } from '../talk'
import { fromAddress, inAddress } from './in-address'
import { LensFrame } from './lens-frame'
import { LensMatrix } from './lens-matrix'
import { LensWhy } from './lens-why'
import { VisitorSentence } from './visitor-sentence'

/** The site as somebody made up would get it, with the reason for everything that varies. Nothing of it is counted. */
export function LensScreen({ account }: { account: AccountView }) {
  const around = useAsk('lens.around', {})
  if (around.data === undefined)
    return <Screen account={account} sheet={<Waiting error={around.error} again={() => void around.refetch()} />} margin={null} />
  return <Lens account={account} around={around.data} />
}

function Lens({ account, around }: { account: AccountView; around: Output<'lens.around'> }) {
  const [by, narrow] = useAddress(['page', 'as', 'view'])
  const [lit, setLit] = useState<string | null>(null)
  const site = useSite()
  const usual = useMemo(() => madeUpSchema.parse({ day: around.today, hour: around.hour }), [around])
  const visitor = useMemo(() => fromAddress(by.as, usual), [by.as, usual])
  const page = documentIdSchema.safeParse(by.page)
  const wanted = page.success ? page.data : null
  const looked = useAsk('lens.look', { page: wanted, visitor }, { keepLast: true, enabled: by.view !== 'all' })
  const saved = useAsk('lens.saved', {}).data?.visitors ?? []
  const put = (next: MadeUp, on: { page?: DocumentId; view?: string } = {}) => narrow({ as: inAddress(next, usual), ...on })
  const change = (part: Partial<MadeUp>) => put(agreeing({ ...visitor, ...part }))
  const shown = looked.data?.page.id ?? null
  const follow = followed({ visitor, shown, around, put })
  const shownPage = looked.data?.page
  const known = useMemo(
    () => ({
      ...asVisitor(visitor, (id) => around.pages.find((one) => one.id === id)?.pageType ?? ''),
      at: shownPage === undefined ? null : { page: shownPage.id, pageType: shownPage.pageType },
    }),
    [visitor, around, shownPage],
  )
  return (
    <Screen
      account={account}
      sheet={
        <>
          <header className="sheet-head">
            <h1>Lens</h1>
            <OneOf
              size="small"
              aria-label="What is looked at"
              value={by.view === 'all' ? 'all' : 'page'}
              options={[
                { value: 'page', label: 'One page' },
                { value: 'all', label: 'All that varies' },
              ]}
              change={(view) => narrow({ view: view === 'all' ? view : '' })}
            />
            {by.view === 'all' ? null : (
              <FindChoice
                size="small"
                aria-label="Page"
                value={shown}
                options={around.pages.map(({ id, title }) => ({ value: id, label: title }))}
                change={(id) => id !== null && narrow({ page: id })}
              />
            )}
          </header>
          <VisitorSentence {...{ visitor, around, site, change }} />
          {by.view === 'all' ? (
            <LensMatrix visitor={visitor} saved={saved} choose={(next, document) => put(next, { page: document, view: '' })} />
          ) : looked.data === undefined ? (
            <Waiting error={looked.error} again={() => void looked.refetch()} />
          ) : (
            <>
              {looked.error === null ? null : (
                <p role="alert" className="fault">
                  {looked.error.message}
                </p>
              )}
              {looked.data.isSentOn ? <p className="asks">They are sent on to “{looked.data.page.title}”.</p> : null}
              <LensFrame
                html={looked.data.html}
                title={`${looked.data.page.title}, as this visitor gets it`}
                device={visitor.device}
                lit={lit}
                follow={follow}
              />
            </>
          )}
        </>
      }
      margin={
        <>
          {by.view === 'all' || looked.data === undefined ? null : (
            <Note title="What varies here, and why">
              <LensWhy parts={looked.data.parts} visitor={known} site={site} light={setLit} />
            </Note>
          )}
          <Saved visitor={visitor} usual={usual} saved={saved} choose={(next) => put(next)} />
          <Note title="Looking changes nothing">
            The page is made by the same deciding as for visitors, from what is published. It is not counted. A link in the page
            is followed here, and the page that was left counts as seen.
          </Note>
        </>
      }
    />
  )
}

/** A link that is pressed: the visitor has seen the page that they leave. */
function followed({
  visitor,
  shown,
  around,
  put,
}: {
  visitor: MadeUp
  shown: DocumentId | null
  around: Output<'lens.around'>
  put: (next: MadeUp, on: { page?: DocumentId }) => void
}) {
  return (path: string) => {
    const address = readAddress(path)
    const to = around.pages.find((one) => one.path === address)
    if (to === undefined || shown === null) return
    const pagesSeen = [...new Set([...visitor.pagesSeen, shown])].slice(-30)
    put({ ...visitor, pagesSeen }, { page: to.id })
  }
}

/** Visitors that were saved, and this one to be saved and shared. */
function Saved({
  visitor,
  usual,
  saved,
  choose,
}: {
  visitor: MadeUp
  usual: MadeUp
  saved: readonly SavedVisitor[]
  choose: (visitor: MadeUp) => void
}) {
  const [name, setName] = useState('')
  const message = useMessages()
  const failed = { onError: (reason: Error) => void message.error(reason.message, 8) }
  const save = useTell('lens.save', () => setName(''))
  const remove = useTell('lens.remove')
  const share = async () => {
    await navigator.clipboard.writeText(window.location.href)
    message.success('The link is copied: whoever may sign in here sees the same.')
  }
  return (
    <Note title="Saved visitors">
      <ul className="saved-visitors">
        {saved.map((one) => (
          <li key={one.id}>
            <button
              type="button"
              className="plain"
              aria-pressed={inAddress(one.visitor, usual) === inAddress(visitor, usual)}
              onClick={() => choose(one.visitor)}
            >
              {one.name}
            </button>
            <Button
              size="small"
              look="quiet"
              aria-label={`Remove ${one.name}`}
              onClick={() => remove.mutate({ id: one.id }, failed)}
            >
              ×
            </Button>
          </li>
        ))}
      </ul>
      <form
        className="save-visitor"
        onSubmit={(event) => {
          event.preventDefault()
          if (name.trim() !== '') save.mutate({ name, visitor }, failed)
        }}
      >
        <TextField
          size="small"
          aria-label="Name for this visitor"
          placeholder="a name for this one"
          value={name}
          maxLength={80}
          onChange={({ target }) => setName(target.value)}
        />
        <Button size="small" submits busy={save.isPending} disabled={name.trim() === ''}>
          Save
        </Button>
      </form>
      <p>
        <Button size="small" onClick={() => void share()}>
          Copy a link to this look
        </Button>
      </p>
    </Note>
  )
}
