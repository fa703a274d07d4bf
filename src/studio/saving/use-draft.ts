'use client'

import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useEffectEvent, useRef, useState } from 'react'
import * as z from 'zod'
import type { Refused } from '../talk'
import { keepInBrowser, keptInBrowser } from './kept-in-browser'
import { createSender, type SavingState } from './sender'
import { ValueOutbox, type Kept } from './value-outbox'

const SAVE_AFTER = 500

interface Drafted<Value> {
  /** What is edited, by a name that nothing else has. */
  readonly name: string
  readonly schema: z.ZodType<Value>
  save(value: Value, lock: number): Promise<{ lock: number }>
  /** As the server has it now. */
  again(): Promise<Kept<Value>>
  /** The action whose answers are out of date after a save. */
  readonly reads: string
}

/**
 * Something as it is being edited here: saved a moment after the last change, kept in the browser until then, sent again
 * by itself where no answer came. Where somebody else saved other fields meanwhile, both changes meet.
 */
export function useDraft<Value extends object>(seen: Kept<Value>, drafted: Drafted<Value>) {
  const { name, schema } = drafted
  const client = useQueryClient()
  const [edited, setEdited] = useState<Value | null>(null)
  const [state, setState] = useState<SavingState>('saved')
  const [fault, setFault] = useState<Refused | null>(null)
  const box = useRef(new ValueOutbox(seen))
  useEffect(() => box.current.seen(seen), [seen])

  const said = (now: SavingState, reason: Refused | null) => {
    setState(now)
    setFault(reason)
  }
  const remember = () => keepInBrowser(name, box.current.kept)
  const send = () =>
    sendValue(box.current, {
      ...drafted,
      met: () => setEdited(box.current.isEmpty ? null : box.current.value),
      saved: async () => {
        await client.invalidateQueries({ queryKey: [drafted.reads] })
        if (box.current.isEmpty) setEdited(null)
      },
    })
  // The sender lives as long as the sheet; what it does is what was seen last.
  const now = useRef({ send, said, remember })
  useEffect(() => {
    now.current = { send, said, remember }
  })
  const made = useRef<ReturnType<typeof createSender> | null>(null)
  const sender = () =>
    (made.current ??= createSender(
      {
        hasUnsent: () => !box.current.isEmpty,
        send: () => now.current.send(),
        remember: () => now.current.remember(),
        said: (...words) => now.current.said(...words),
      },
      SAVE_AFTER,
    ))
  const begin = (value: Value) => {
    box.current.put(value)
    setEdited(value)
    sender().soon()
  }
  const change = (part: Partial<Value>) => begin({ ...box.current.value, ...part })
  const takeUp = (of: string) => {
    const unsaved = keptInBrowser(
      of,
      z.object({ value: schema, before: schema, lock: z.number(), sent: z.array(schema).default([]) }),
    )
    if (unsaved === null || !box.current.isEmpty) return
    box.current = ValueOutbox.takenUp(unsaved)
    begin(unsaved.value)
  }
  const settled = async () => {
    await sender().flush()
    return box.current.lock
  }
  const sendNow = () => void settled()
  useComingAndGoing(name, { takeUp, sendNow, isUnsaved: () => !box.current.isEmpty })
  const giveUp = () => {
    box.current.giveUp()
    remember()
    setEdited(null)
    said('saved', null)
    void client.invalidateQueries({ queryKey: [drafted.reads] })
  }
  return { value: edited ?? seen.value, state, fault, change, settled, giveUp }
}

interface SendingValue<Value> extends Pick<Drafted<Value>, 'save' | 'again'> {
  /** What is edited has become another by what somebody else did. */
  met(): void
  saved(): Promise<void>
}

/** @throws {Refused} */
async function sendValue<Value extends object>(
  box: ValueOutbox<Value>,
  { save, again, met, saved }: SendingValue<Value>,
): Promise<void> {
  const sendOnce = async () => {
    const next = box.next()
    if (next === null) return
    box.answered(next.value, (await save(next.value, next.lock)).lock)
  }
  try {
    await sendOnce()
  } catch (reason) {
    if ((reason as Refused).code !== 'conflict' || !box.meets(await again())) throw reason
    met()
    await sendOnce()
  }
  if (box.isEmpty) await saved()
}

/** What was typed here before is taken up, what is typed is sent when the line is back or the page is left. */
function useComingAndGoing(
  name: string,
  of: {
    readonly takeUp: (name: string) => void
    readonly sendNow: () => void
    readonly isUnsaved: () => boolean
  },
): void {
  const takeUp = useEffectEvent(of.takeUp)
  const sendNow = useEffectEvent(of.sendNow)
  const isUnsaved = useEffectEvent(of.isUnsaved)
  useEffect(() => {
    // After the first look, which is the server's: what was typed here before is taken up on top of it.
    const taking = window.setTimeout(() => takeUp(name))
    const leaving = (event: BeforeUnloadEvent) => {
      if (isUnsaved()) event.preventDefault()
    }
    const back = () => sendNow()
    window.addEventListener('beforeunload', leaving)
    window.addEventListener('online', back)
    return () => {
      window.removeEventListener('beforeunload', leaving)
      window.removeEventListener('online', back)
      window.clearTimeout(taking)
      sendNow()
    }
  }, [name])
}
