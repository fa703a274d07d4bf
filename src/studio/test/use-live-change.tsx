'use client'

import { useState, type ReactNode } from 'react'
import type { TestView } from '@/contract/contract'
import { changeWords, whatAffects, whatBegins, type Design } from '@/core/experiment'
import { SheetOver } from '../controls/sheet-over'
import { useMessages } from '../frame/messages'
import { useTell, type Refused } from '../talk'

interface Asked {
  readonly change: Partial<Pick<Design, 'arms' | 'share'>>
  readonly title: string
}

/** What a change to a running test does is said before it is done; then it is live in one step. */
export function useLiveChange(test: TestView): { readonly ask: (asked: Asked) => void; readonly question: ReactNode } {
  const message = useMessages()
  const [asked, setAsked] = useState<Asked | null>(null)
  const live = useTell('test.change', ({ begins, number }) => {
    setAsked(null)
    void message.success(
      begins === 'epoch'
        ? 'Live: new visitors are divided like this from now on.'
        : `Round ${number} is open: what was counted before stays with the round before.`,
    )
  })
  if (asked === null) return { ask: setAsked, question: null }
  const design = { ...test.design, ...asked.change }
  const changes = whatAffects(test.design, design)
  const go = () =>
    live.mutate(
      { test: test.id, share: design.share, arms: design.arms.map((arm) => ({ ...arm, levels: [...arm.levels] })) },
      { onError: (reason: Refused) => void message.error(reason.message, 8) },
    )
  return {
    ask: setAsked,
    question: (
      <SheetOver title={asked.title} act={{ words: 'Do it now', go, busy: live.isPending }} close={() => setAsked(null)}>
        The test is running: {changeWords(changes)}. Who has a version that stays keeps it; who had one that is switched off is
        drawn again.{' '}
        {whatBegins(changes) === 'round'
          ? 'A new round begins with empty counts; the round until now stays readable.'
          : 'What was counted until now still counts: each stretch with its own split is compared by itself.'}
      </SheetOver>
    ),
  }
}
