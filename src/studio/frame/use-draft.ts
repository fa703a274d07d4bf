'use client'

import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useEffectEvent, useRef, useState } from 'react'
import * as z from 'zod'
import { pauseBefore } from '../desk/outbox'
import { isWaitedFor, type Refused } from '../talk'
import { keepInBrowser, keptInBrowser } from './kept-in-browser'
import { threeWay } from './three-way'

const SAVE_AFTER = 500

/** What the server has, with the lock it has it under. */
interface Kept<Value> {
  readonly value: Value
  readonly lock: number
}

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
export function useDraft<Value extends object>(seen: Kept<Value>, { name, schema, save, again, reads }: Drafted<Value>) {
  const client = useQueryClient()
  const [edited, setEdited] = useState<Value | null>(null)
  const [state, setState] = useState<'saved' | 'saving' | 'waiting' | 'refused'>('saved')
  const [fault, setFault] = useState<Refused | null>(null)
  const lock = useRef(seen.lock)
  const timer = useRef<number | undefined>(undefined)
  const tries = useRef(0)
  const latest = useRef<Value | null>(null)
  /** As the server has it: what was saved last from here is newer than what was read before. */
  const known = useRef(seen.value)
  const going = useRef<Promise<void>>(Promise.resolve())
  useEffect(() => {
    if (latest.current !== null || seen.lock < lock.current) return
    lock.current = seen.lock
    known.current = seen.value
  }, [seen.lock, seen.value])

  const keep = () =>
    keepInBrowser(name, latest.current === null ? null : { value: latest.current, before: known.current, lock: lock.current })
  /** @returns whether what others did meanwhile could be joined with what was done here */
  const join = async (): Promise<boolean> => {
    const now = await again()
    const merged = latest.current === null ? null : threeWay(known.current, latest.current, now.value)
    if (merged === null) return false
    known.current = now.value
    lock.current = now.lock
    latest.current = merged
    setEdited(merged)
    return true
  }
  const saveOnce = async (draft: Value) => {
    const saved = await save(draft, lock.current)
    lock.current = saved.lock
    known.current = draft
    tries.current = 0
    setFault(null)
    if (latest.current !== draft) return
    latest.current = null
    await client.invalidateQueries({ queryKey: [reads] })
    if (latest.current === null) setEdited(null)
    setState('saved')
  }
  const failed = async (reason: Refused) => {
    if (reason.code === 'conflict' && (await join().catch(() => false)) && latest.current !== null)
      return saveOnce(latest.current)
    throw reason
  }
  const flush = () => {
    going.current = going.current.then(async () => {
      const draft = latest.current
      if (draft === null) return
      setState('saving')
      try {
        await saveOnce(draft).catch(failed)
      } catch (reason) {
        const refused = reason as Refused
        const waits = isWaitedFor(refused)
        setFault(refused)
        setState(waits ? 'waiting' : 'refused')
        if (waits) timer.current = window.setTimeout(() => void flush(), pauseBefore(tries.current++) * 1000)
      }
      keep()
    })
    return going.current
  }
  const begin = (draft: Value) => {
    latest.current = draft
    setEdited(draft)
    setState('saving')
    keep()
    window.clearTimeout(timer.current)
    timer.current = window.setTimeout(() => void flush(), SAVE_AFTER)
  }
  const change = (part: Partial<Value>) => begin({ ...(latest.current ?? known.current), ...part })
  const takeUp = (of: string) => {
    const unsaved = keptInBrowser(of, z.object({ value: schema, before: schema, lock: z.number() }))
    if (unsaved === null || latest.current !== null) return
    known.current = unsaved.before
    lock.current = unsaved.lock
    begin(unsaved.value)
  }
  const settled = async () => {
    window.clearTimeout(timer.current)
    await flush()
    return lock.current
  }
  const sendNow = () => void settled()
  useComingAndGoing(name, { takeUp, sendNow, isUnsaved: () => latest.current !== null })
  const giveUp = () => {
    latest.current = null
    keep()
    setEdited(null)
    setFault(null)
    setState('saved')
    void client.invalidateQueries({ queryKey: [reads] })
  }
  return { value: edited ?? seen.value, state, fault, change, settled, giveUp }
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
