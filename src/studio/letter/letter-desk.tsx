'use client'

import { Button } from '../controls/button'
import { FindChoice } from '../controls/find-choice'
import { useMemo, useState } from 'react'
import type { AccountView, DocumentView, LetterView } from '@/contract/contract'
import { apply, nodeAt, type ContentDocument } from '@/core/document'
import { ORIGINAL } from '@/core/decide'
import type { DocumentId, VersionId } from '@/core/ids'
import type { Desk } from '../desk/desk'
import { Note } from '../frame/screen'
import { PageDesk } from '../page/page-desk'
import { Files } from '../page/page-notes'
import { useAsk } from '../talk'
import { SendLetter } from './send-letter'
import { Sendings } from './sendings'

/** A newsletter on the sheet, written in place, with its calls to action as any of their versions has them. */
export function LetterDesk({ account, view, refetch }: { account: AccountView; view: DocumentView; refetch: () => void }) {
  const asked = useAsk('letter.open', { document: view.document.id }, { every: 2000 })
  const [looking, setLooking] = useState<Readonly<Record<string, VersionId>>>({})
  const calls = asked.data?.calls
  const surroundings = useMemo(() => asLookedAt(view.surroundings, calls ?? [], looking), [view.surroundings, calls, looking])
  return (
    <PageDesk
      account={account}
      view={view}
      refetch={refetch}
      parts={{
        surroundings,
        above: (desk) => <InMailbox desk={desk} />,
        notes: (desk) => (
          <>
            {asked.data === undefined ? null : (
              <>
                <LookAs
                  calls={asked.data.calls}
                  looking={looking}
                  look={(call, version) => setLooking({ ...looking, [call]: version })}
                />
                <SendLetter account={account} desk={desk} letter={asked.data} />
                <Sendings account={account} letter={asked.data} />
              </>
            )}
            <Files account={account} desk={desk} />
          </>
        ),
      }}
    />
  )
}

/** How it stands among others before it is opened. */
function InMailbox({ desk }: { desk: Desk }) {
  const opening = String(nodeAt(desk.shown, desk.shown.root).props.opening ?? '')
  return (
    <p className="in-mailbox">
      <span>
        {opening === ''
          ? 'A mailbox shows the subject alone: write what stands after it.'
          : `In a mailbox, after the subject: “${opening}”`}
      </span>
      <Button size="small" look="quiet" onClick={() => desk.editing.select(desk.shown.root)}>
        Subject and campaign
      </Button>
    </p>
  )
}

function LookAs({
  calls,
  looking,
  look,
}: {
  calls: LetterView['calls']
  looking: Readonly<Record<string, VersionId>>
  look: (call: DocumentId, version: VersionId) => void
}) {
  const tested = calls.filter(({ test }) => test !== null)
  if (tested.length === 0)
    return (
      <Note title="Its calls to action">
        {calls.length === 0
          ? 'There is none in it yet: add one, so that what readers do can be counted.'
          : 'No test runs on them, so every reader gets the same letter.'}
      </Note>
    )
  return (
    <Note title="Look at it as its readers will">
      <p>
        Each reader is drawn for the test like a visitor, and the links carry what they were drawn: the site shows them the same.
      </p>
      {tested.map(({ call, title, test, versions }) => (
        <label key={call} className="stacked">
          <span>
            {title} <span className="quiet">· “{test?.name}”</span>
          </span>
          <FindChoice
            aria-label={`${title} as`}
            className="broad"
            value={looking[call] ?? ORIGINAL}
            options={versions.map(({ version, name }) => ({ value: version, label: name }))}
            change={(version: VersionId) => look(call, version)}
          />
        </label>
      ))}
    </Note>
  )
}

/** What surrounds the letter, with each call to action as the version that is looked at has it. */
function asLookedAt(
  surroundings: readonly ContentDocument[],
  calls: LetterView['calls'],
  looking: Readonly<Record<string, VersionId>>,
): readonly ContentDocument[] {
  return surroundings.map((document) => {
    const versions = calls.find(({ call }) => call === document.id)?.versions
    const edits = versions?.find(({ version }) => version === looking[document.id])?.edits ?? []
    return edits.length === 0 ? document : apply(document, edits).document
  })
}
