'use client'

import { useQuestions } from '../controls/questions'
import { Button } from '../controls/button'
import { SheetOver } from '../controls/sheet-over'
import { useState } from 'react'
import type { DocumentView } from '@/contract/contract'
import { useMessages } from '../frame/messages'
import { Note } from '../frame/screen'
import { When } from '../frame/when'
import { agoWords, momentWords } from '../frame/wording'
import { useAsk, useTell } from '../talk'
import type { Desk } from './desk'
import { PageFrame } from './page-frame'

/** What was published when and by whom, what has changed since, and the way back. */
export function Revisions({ desk }: { desk: Desk }) {
  const { view, editing, failed } = desk
  const message = useMessages()
  const [askFirst, questions] = useQuestions()
  const [compared, setCompared] = useState<number | null>(null)
  const restore = useTell('document.restore', () => {
    void message.success('The draft is as that revision was. Publish it to show it.')
  })
  const ask = (revision: number) =>
    void askFirst({
      title: `Bring revision ${revision} back into the draft?`,
      content: 'The draft as it is now is replaced; visitors see no change until it is published.',
      act: 'Bring it back',

      go: () =>
        editing
          .flush()
          .then(() =>
            restore.mutate({ document: view.document.id, revision, lock: editing.store.getState().lock }, { onError: failed }),
          ),
    })
  return (
    <Note title="Revisions">
      {questions}
      <p className="quiet">
        Last changed by {view.editedBy}, <When at={view.editedAt} words={agoWords} />.
      </p>
      <ol className="revisions">
        {view.revisions.map(({ number, note, author, at }) => (
          <li key={number}>
            <span>
              {number}. {note || 'Published'} — {author}, <When at={at} words={momentWords} />
              {number === view.publishedRevision ? <span className="living"> live</span> : null}
            </span>
            <span className="row-tools">
              <Button size="small" look="quiet" onClick={() => void editing.flush().then(() => setCompared(number))}>
                Compare
              </Button>
              <Button size="small" look="quiet" onClick={() => ask(number)}>
                Bring back
              </Button>
            </span>
          </li>
        ))}
      </ol>
      {compared === null ? null : <Comparison view={view} revision={compared} close={() => setCompared(null)} />}
    </Note>
  )
}

function Comparison({ view, revision, close }: { view: DocumentView; revision: number; close: () => void }) {
  const asked = useAsk('document.compare', { document: view.document.id, from: revision, to: null })
  const { words, before, after } = asked.data ?? { words: [], before: null, after: null }
  return (
    <SheetOver wide={1080} title={`Revision ${revision} and the draft`} close={close}>
      {asked.error === null ? null : <p role="alert">{asked.error.message}</p>}
      {before === null || after === null ? null : (
        <>
          {words.length === 0 ? <p>They are the same.</p> : null}
          <ul className="edit-words">
            {words.map((line, index) => (
              <li key={index}>The draft {line}.</li>
            ))}
          </ul>
          {before.kind === 'page' ? (
            <div className="compared">
              {[['Revision', before] as const, ['Draft', after] as const].map(([label, document]) => (
                <figure key={label}>
                  <figcaption>{label === 'Revision' ? `Revision ${revision}` : label}</figcaption>
                  <PageFrame document={document} surroundings={view.surroundings} width={1280} label={`${label}, compared`} />
                </figure>
              ))}
            </div>
          ) : null}
        </>
      )}
    </SheetOver>
  )
}
