'use client'

import { useEffect, useRef } from 'react'
import { openOverlay } from './overlay'

export interface Keys {
  /** By the name of the key. */
  readonly plain: Readonly<Record<string, () => void>>
  /** With Ctrl, or Command. Shift is told. */
  readonly withControl: Readonly<Record<string, (shift: boolean) => void>>
  /** With Alt. */
  readonly withAlt?: Readonly<Record<string, () => void>>
}

/** What every screen answers to. */
const everywhere: Keys['plain'] = { '/': () => openOverlay('finder'), '?': () => openOverlay('keys') }

const noKeys: Keys = { plain: {}, withControl: {} }

/** What lies open above a screen and takes Escape for itself. */
const ABOVE = 'dialog[open], .opened:popover-open, .found-choices:popover-open'

function isSomethingAbove(): boolean {
  return [...document.querySelectorAll(ABOVE)].some((element) => element.checkVisibility())
}

/** Keys of a screen, wherever nobody is typing. @returns a handler for frames, whose keys do not come up by themselves */
export function useKeys(keys: Keys = noKeys): (event: KeyboardEvent) => void {
  const handle = (event: KeyboardEvent) => {
    const target = event.target as Element | null
    if (event.defaultPrevented) return
    if (target?.closest?.('input, textarea, select, [contenteditable], dialog, [popover], .cm-editor')) return
    const control = event.ctrlKey || event.metaKey
    const key = control ? event.key.toLowerCase() : event.key
    const table = control ? keys.withControl : event.altKey ? (keys.withAlt ?? {}) : { ...everywhere, ...keys.plain }
    const action = table[key]
    if (action === undefined || (key === 'Enter' && target?.closest?.('button, a, summary'))) return
    // One thing at a time: what lies above closes first, by its own hand.
    if (key === 'Escape' && isSomethingAbove()) return
    // Words that are selected are copied as words.
    if (control && key === 'c' && window.getSelection()?.isCollapsed === false) return
    event.preventDefault()
    action(event.shiftKey)
  }
  const latest = useRef(handle)
  useEffect(() => {
    latest.current = handle
  })
  useEffect(() => {
    const listen = (event: KeyboardEvent) => latest.current(event)
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  }, [])
  return handle
}
