'use client'

import { Button } from '../controls/button'
import { SheetOver } from '../controls/sheet-over'
import { FindChoice } from '../controls/find-choice'
import { useRouter } from 'next/navigation'
import { useState } from 'react'
import { mayAs, type AccountView, type PlaceLine } from '@/contract/contract'
import { nodeAt } from '@/core/document'
import type { DocumentId } from '@/core/ids'
import { titleOf } from '@/components/references'
import { useMessages } from '../frame/messages'
import { plural } from '../frame/wording'
import { useTell, type Refused } from '../talk'
import type { Desk } from './desk'

type Way = 'off' | 'bin'

/** Off the site, or into the bin: what would show nothing or lead nowhere is named first, and another page is offered. */
export function PutAway({ account, desk }: { account: AccountView; desk: Desk }) {
  const [way, setWay] = useState<Way | null>(null)
  const { view } = desk
  const live = view.publishedRevision !== null
  const may = mayAs(account.role, 'publisher')
  return (
    <>
      {live ? (
        <Button
          size="small"
          disabled={!may}
          title={may ? undefined : 'Only a publisher can do this.'}
          onClick={() => setWay('off')}
        >
          Take it off the site
        </Button>
      ) : null}
      <Button
        size="small"
        disabled={live && !may}
        title={live && !may ? 'It is published, so only a publisher can do this.' : undefined}
        onClick={() => setWay('bin')}
      >
        Move to the bin
      </Button>
      {way === null ? null : <PutAwayDialog desk={desk} way={way} close={() => setWay(null)} />}
    </>
  )
}

function PutAwayDialog({ desk, way, close }: { desk: Desk; way: Way; close: () => void }) {
  const message = useMessages()
  const router = useRouter()
  const { view, state } = desk
  const { document } = state
  const [to, setTo] = useState<DocumentId | null>(null)
  const title = titleOf(document)
  const failed = { onError: (reason: Refused) => void message.error(reason.message, 8) }
  const off = useTell('bin.takeOff', () => {
    void message.success('Off the site. It is a draft now.')
    close()
  })
  const put = useTell('bin.put', () => {
    void message.success('In the bin. It can be brought back for 30 days.')
    router.push('/site')
  })
  const go = () =>
    way === 'off' ? off.mutate({ document: document.id, to }, failed) : put.mutate({ document: document.id, to }, failed)
  const pages = view.surroundings
    .filter(({ id, kind }) => kind === 'page' && id !== document.id)
    .map((page) => ({ value: page.id, label: `${titleOf(page)} (${String(nodeAt(page, page.root).props.path ?? '')})` }))
  return (
    <SheetOver
      title={way === 'off' ? `Take “${title}” off the site?` : `Move “${title}” to the bin?`}
      act={{ words: way === 'off' ? 'Take it off' : 'Move it to the bin', go: go, busy: off.isPending || put.isPending }}
      close={close}
    >
      <p>
        {way === 'off'
          ? 'Visitors no longer get it. It stays here as a draft, and can be published again.'
          : 'It leaves every list. It can be brought back for 30 days, and longer where a result needs it.'}
      </p>
      <Places title="It is shown on" then="shows nothing there any more" places={view.places} />
      <Places title="It is linked from" then="leads to another page, or nowhere" places={view.linkedFrom} />
      {document.kind === 'page' && view.publishedRevision !== null ? (
        <label className="lead-on">
          <span>Whoever asks for its address is led to</span>
          <FindChoice<DocumentId | null>
            aria-label="Whoever asks for its address is led to"
            value={to}
            options={[{ value: null, label: 'nowhere: the page that says that nothing is here' }, ...pages]}
            change={setTo}
          />
        </label>
      ) : null}
    </SheetOver>
  )
}

function Places({ title, then, places }: { title: string; then: string; places: readonly PlaceLine[] }) {
  if (places.length === 0) return null
  const names = places.slice(0, 6).map((place) => `“${place.title}”`)
  return (
    <p className="asks">
      {title} {names.join(', ')}
      {places.length > 6 ? ` and ${plural(places.length - 6, 'other', 'others')}` : ''}, and {then}.
    </p>
  )
}
