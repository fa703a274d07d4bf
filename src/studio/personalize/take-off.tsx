'use client'

import { useState } from 'react'
import { TextArea } from '../controls/fields'
import { SheetOver } from '../controls/sheet-over'
import { useMessages } from '../frame/messages'
import { useTell } from '../talk'
import type { TestedPart } from '@/core/experiment'

/** Takes the rules of a part off the site, with what was learned. */
export function TakeOff({ part, close }: { part: TestedPart; close: () => void }) {
  const [lesson, setLesson] = useState('')
  const { success } = useMessages()
  const withdraw = useTell('personalization.withdraw', () => {
    success('Taken off the site. Everybody sees the original.')
    close()
  })
  return (
    <SheetOver
      title="Take the rules off the site"
      act={{
        words: 'Take them off',
        busy: withdraw.isPending,
        go: () => withdraw.mutate({ document: part.document, node: part.node, lesson }),
      }}
      close={close}
    >
      <p>
        Everybody sees the original from then on. The versions stay on the shelf. What they gained is kept in the notebook, where
        anything was counted.
      </p>
      <label className="question">
        <span>What was learned</span>
        <TextArea
          value={lesson}
          maxLength={4000}
          placeholder="In a sentence somebody else can use"
          onChange={({ target }) => setLesson(target.value)}
        />
      </label>
      {withdraw.error === null ? null : (
        <p role="alert" className="fault">
          {withdraw.error.message}
        </p>
      )}
    </SheetOver>
  )
}
