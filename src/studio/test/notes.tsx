'use client'

import { useState } from 'react'
import type { NoteView, TestView } from '@/contract/contract'
import { Button } from '../controls/button'
import { TextArea } from '../controls/fields'
import { useMessages } from '../frame/messages'
import { momentWords } from '../frame/wording'
import { useTell } from '../talk'

/** What happened around the test while it ran, for whoever reads its result later. */
export function Notes({ test }: { test: TestView }) {
  const message = useMessages()
  const [words, setWords] = useState('')
  const write = useTell('test.note', () => setWords(''))
  return (
    <section className="band" aria-label="Notes">
      <h2>Notes</h2>
      <NoteList notes={test.notes} />
      <label className="question">
        <span>New note</span>
        <TextArea
          value={words}
          rows={1}
          maxLength={2000}
          placeholder="What a reader of this result should know: a newsletter went out, the shop was away for an hour"
          onChange={({ target }) => setWords(target.value)}
        />
      </label>
      {words.trim() === '' ? null : (
        <Button
          size="small"
          busy={write.isPending}
          onClick={() =>
            write.mutate({ test: test.id, words: words.trim() }, { onError: (refused) => void message.error(refused.message, 8) })
          }
        >
          Write the note
        </Button>
      )}
    </section>
  )
}

export function NoteList({ notes }: { notes: readonly NoteView[] }) {
  if (notes.length === 0) return null
  return (
    <ul className="notes-written">
      {notes.map(({ at, by, words }) => (
        <li key={at}>
          <span className="quiet">
            {momentWords(at)}, {by}:
          </span>{' '}
          {words}
        </li>
      ))}
    </ul>
  )
}
