'use client'

import { useCallback, useState, type ReactNode } from 'react'
import { SheetOver } from './sheet-over'

export interface Question {
  readonly title: string
  readonly content: ReactNode
  readonly act: string
  readonly otherwise?: string
  readonly wide?: number
  readonly go: () => void
}

export type AskFirst = (question: Question) => void

/** Asks before something is done. @returns how to ask, and where what is asked stands on the screen */
export function useQuestions(): readonly [AskFirst, ReactNode] {
  const [asked, setAsked] = useState<Question | null>(null)
  const ask = useCallback<AskFirst>((question) => setAsked(question), [])
  const close = () => setAsked(null)
  const sheet =
    asked === null ? null : (
      <SheetOver
        title={asked.title}
        close={close}
        {...(asked.wide === undefined ? {} : { wide: asked.wide })}
        act={{
          words: asked.act,
          otherwise: asked.otherwise ?? 'Not now',
          go: () => {
            close()
            asked.go()
          },
        }}
      >
        {typeof asked.content === 'string' ? <p>{asked.content}</p> : asked.content}
      </SheetOver>
    )
  return [ask, sheet]
}
