'use client'

import { useId, useLayoutEffect, useRef, type ReactNode } from 'react'
import { createPortal } from 'react-dom'
import { Button } from './button'

/** What the sheet is there for; beside it stands a way out that does nothing. */
export interface SheetAct {
  readonly words: string
  readonly go: () => void
  readonly busy?: boolean
  readonly disabled?: boolean
  readonly otherwise?: string
}

/**
 * A small sheet over the screen, closed by Escape or by pressing beside it; what was in hand before is in hand again. What
 * is marked with `data-begin` is in hand at first, else the first field, else what the sheet is there for.
 */
export function SheetOver({
  title,
  className = '',
  wide,
  act,
  close,
  children,
}: {
  title: string
  className?: string
  /** In pixels, where there is room. */
  wide?: number
  act?: SheetAct
  close: () => void
  children: ReactNode
}) {
  const sheet = useRef<HTMLDialogElement>(null)
  const heading = useId()
  useLayoutEffect(() => {
    const dialog = sheet.current
    dialog?.showModal()
    const first = ['[data-begin]', '.body :is(input, textarea, select):not(:disabled, .off-screen)', 'footer .primary']
    for (const which of first) {
      const begin = dialog?.querySelector<HTMLElement>(which)
      if (begin === null || begin === undefined) continue
      begin.focus()
      break
    }
    return () => dialog?.close()
  }, [])
  // What it is asked from has a look of its own, which is not that of the sheet: it stands by itself.
  return createPortal(
    <dialog
      ref={sheet}
      className={`sheet-over ${wide === undefined ? '' : 'wide'} ${className}`}
      style={wide === undefined ? undefined : { width: `min(${wide}px, calc(100vw - 32px))` }}
      aria-labelledby={heading}
      onCancel={(event) => {
        if (event.target !== event.currentTarget) return
        event.preventDefault()
        close()
      }}
      onClick={({ target, currentTarget }) => target === currentTarget && close()}
    >
      <div>
        <header>
          <h2 id={heading}>{title}</h2>
          <button type="button" aria-label="Close" onClick={close}>
            ×
          </button>
        </header>
        <div className="body">{children}</div>
        {act === undefined ? null : (
          <footer>
            <Button onClick={close}>{act.otherwise ?? 'Not now'}</Button>
            <Button look="primary" busy={act.busy} disabled={act.disabled} onClick={act.go}>
              {act.words}
            </Button>
          </footer>
        )}
      </div>
    </dialog>,
    document.body,
  )
}
