'use client'

import { useSyncExternalStore } from 'react'

/** A moment in words of this browser’s clock and zone, which the server that draws the screen first does not know. */
export function When({ at, words }: { at: string; words: (iso: string) => string }) {
  const isBrowser = useSyncExternalStore(never, yes, no)
  return isBrowser ? words(at) : null
}

const never = () => () => undefined
const yes = () => true
const no = () => false
