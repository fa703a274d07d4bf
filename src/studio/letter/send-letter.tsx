'use client'

import { useQuestions } from '../controls/questions'
import { NumberField } from '../controls/fields'
import { Button } from '../controls/button'
import { useState } from 'react'
import { mayAs, type AccountView, type LetterView, type SendingPlan } from '@/contract/contract'
import { useMessages } from '../frame/messages'
import type { Desk } from '../desk/desk'
import { Note } from '../frame/screen'
import { count } from '../frame/wording'
import { useTell } from '../talk'

const usual: SendingPlan = { readers: 1800, opens: 0.42, follows: { original: 0.12, variant: 0.12 }, buys: 0.2, value: 24 }

/** Sends the newsletter to a made-up list whose readers do what they are told here. */
export function SendLetter({ account, desk, letter }: { account: AccountView; desk: Desk; letter: LetterView }) {
  const message = useMessages()
  const [askFirst, questions] = useQuestions()
  const [plan, setPlan] = useState<SendingPlan>(letter.sendings[0]?.plan ?? usual)
  const send = useTell(
    'letter.send',
    () => void message.success('It is on its way. What readers do shows below within a minute.'),
  )
  const may = mayAs(account.role, 'publisher')
  const going = letter.sendings.some(({ status }) => status === 'waiting' || status === 'sending')
  const isTested = letter.calls.some(({ test }) => test !== null)
  const [block] = letter.blocks
  const ask = async () => {
    await desk.editing.flush()
    if (desk.editing.hasUnsent()) return
    const { state } = desk
    askFirst({
      title: `Send “${String(state.document.nodes[state.document.root]?.props.title ?? '')}” to ${count(plan.readers)} made-up readers?`,
      content: 'What is sent cannot be taken back. What they do counts for the calls to action and for the tests on them.',
      act: 'Send it',

      go: () =>
        send.mutate(
          { document: state.document.id, lock: desk.editing.store.getState().lock, plan },
          { onError: (reason) => void message.error(reason.message, 8) },
        ),
    })
  }
  const share = (label: string, value: number, change: (value: number) => void) => (
    <label>
      <span>{label}</span>
      <NumberField
        aria-label={label}
        size="small"
        value={Math.round(value * 1000) / 10}
        min={0}
        max={100}
        unit="%"
        change={(percents) => change(percents / 100)}
      />
    </label>
  )
  return (
    <Note title="Send it" tone={block === undefined ? undefined : 'asks'}>
      {questions}
      <p>
        By a stand-in: nobody gets a letter. Its readers are made up and do what is set here; an hour of theirs takes a second.
      </p>
      <div className="margin-fields">
        <label>
          <span>Readers</span>
          <NumberField
            aria-label="Readers"
            size="small"
            value={plan.readers}
            min={10}
            max={50_000}
            step={100}
            digits={0}
            change={(readers) => setPlan({ ...plan, readers: readers ?? 10 })}
          />
        </label>
        {share('Open it', plan.opens, (opens) => setPlan({ ...plan, opens }))}
        {share('Of these, follow the original', plan.follows.original, (original) =>
          setPlan({ ...plan, follows: { ...plan.follows, original } }),
        )}
        {isTested
          ? share('Of these, follow a variant', plan.follows.variant, (variant) =>
              setPlan({ ...plan, follows: { ...plan.follows, variant } }),
            )
          : null}
        {share('Of those, order', plan.buys, (buys) => setPlan({ ...plan, buys }))}
        <label>
          <span>An order is worth, {letter.currency}</span>
          <NumberField
            aria-label="An order is worth"
            size="small"
            value={plan.value}
            min={0}
            max={100_000}
            change={(value) => setPlan({ ...plan, value })}
          />
        </label>
      </div>
      {block === undefined ? null : <p role="status">{block}</p>}
      <Button
        look="primary"
        disabled={!may || block !== undefined || going}
        title={may ? undefined : 'Only a publisher can send.'}
        busy={send.isPending || going}
        onClick={() => void ask()}
      >
        {going ? 'Being sent' : 'Send it'}
      </Button>
    </Note>
  )
}
