'use client'

import { createStore, useStore } from 'zustand'

/** What lies over a screen, whichever it is: the finder, or the list of its keys. */
export type Overlay = 'finder' | 'keys' | null

const overlay = createStore<{ readonly open: Overlay }>(() => ({ open: null }))

export const openOverlay = (open: Overlay) => overlay.setState({ open })

export function useOverlay(): Overlay {
  return useStore(overlay, ({ open }) => open)
}
