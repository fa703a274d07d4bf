'use client'

import { useState } from 'react'
import { Button } from '../controls/button'
import { useMessages } from '../frame/messages'

/** What was learned, to be written at any time. */
export function LessonField({
  lesson,
  busy,
  write,
}: {
  lesson: string
  busy: boolean
  write: (lesson: string) => Promise<unknown>
}) {
  const message = useMessages()
  const [words, setWords] = useState<string | null>(null)
  return (
    <label className="question lesson">
      <span>What was learned</span>
      <textarea
        className="control"
        value={words ?? lesson}
        placeholder="In a sentence somebody else can use"
        rows={1}
        maxLength={4000}
        onChange={({ target }) => setWords(target.value)}
      />
      {words === null ? null : (
        <Button
          size="small"
          busy={busy}
          onClick={() =>
            void write(words).then(
              () => setWords(null),
              (reason: unknown) => message.error(reason instanceof Error ? reason.message : String(reason)),
            )
          }
        >
          Write it down
        </Button>
      )}
    </label>
  )
}
