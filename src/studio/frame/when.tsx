'use client'

import { useSyncExternalStore } from 'react'

/** A moment in words of this browser’s clock and zone, which the server that draws the screen first does not know. */
export function When({ at, words }: { at: string; words: (iso: string) => string }) {
  return useInBrowser() ? words(at) : null
}

/** False while the server draws and while the browser takes over what it drew. */
export function useInBrowser(): boolean {
  return useSyncExternalStore(never, yes, no)
}

const never = () => () => undefined
const yes = () => true
const no = () => false
