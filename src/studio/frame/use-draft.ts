'use client'

import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import type { Refused } from '../talk'

const SAVE_AFTER = 500

/** What the server has, with the lock it has it under. */
interface Kept<Value> {
  readonly value: Value
  readonly lock: number
}

/** Something as it is being edited here: saved a moment after the last change, kept when saving fails. */
export function useDraft<Value extends object>(
  { value, lock: seen }: Kept<Value>,
  save: (value: Value, lock: number) => Promise<{ lock: number }>,
  /** The action whose answers are out of date after a save. */
  reads: string,
) {
  const client = useQueryClient()
  const [edited, setEdited] = useState<Value | null>(null)
  const [state, setState] = useState<'saved' | 'saving' | 'refused'>('saved')
  const [fault, setFault] = useState<Refused | null>(null)
  const lock = useRef(seen)
  const timer = useRef<number | undefined>(undefined)
  const latest = useRef<Value | null>(null)
  /** As the server has it: what was saved last from here is newer than what was read before. */
  const known = useRef(value)
  const going = useRef<Promise<void>>(Promise.resolve())
  useEffect(() => {
    if (latest.current !== null || seen < lock.current) return
    lock.current = seen
    known.current = value
  }, [seen, value])

  const flush = () => {
    going.current = going.current.then(async () => {
      const draft = latest.current
      if (draft === null) return
      setState('saving')
      try {
        const saved = await save(draft, lock.current)
        lock.current = saved.lock
        known.current = draft
        setFault(null)
        if (latest.current === draft) {
          latest.current = null
          await client.invalidateQueries({ queryKey: [reads] })
          if (latest.current === null) setEdited(null)
          setState('saved')
        }
      } catch (reason) {
        setFault(reason as Refused)
        setState('refused')
      }
    })
    return going.current
  }
  const change = (part: Partial<Value>) => {
    const draft = { ...(latest.current ?? known.current), ...part }
    latest.current = draft
    setEdited(draft)
    setState('saving')
    window.clearTimeout(timer.current)
    timer.current = window.setTimeout(() => void flush(), SAVE_AFTER)
  }
  const settled = async () => {
    window.clearTimeout(timer.current)
    await flush()
    return lock.current
  }
  const giveUp = () => {
    latest.current = null
    setEdited(null)
    setFault(null)
    setState('saved')
    void client.invalidateQueries({ queryKey: [reads] })
  }
  return { value: edited ?? value, state, fault, change, settled, giveUp }
}
