'use client'

import { useId, useLayoutEffect, useRef, type ReactNode } from 'react'

/**
 * A small sheet over the screen, closed by Escape or by pressing beside it; what was in hand before is in hand again. What
 * is marked with `data-begin` is in hand at first.
 */
export function SheetOver({
  title,
  className = '',
  close,
  children,
}: {
  title: string
  className?: string
  close: () => void
  children: ReactNode
}) {
  const sheet = useRef<HTMLDialogElement>(null)
  const heading = useId()
  useLayoutEffect(() => {
    const dialog = sheet.current
    dialog?.showModal()
    dialog?.querySelector<HTMLElement>('[data-begin]')?.focus()
    return () => dialog?.close()
  }, [])
  return (
    <dialog
      ref={sheet}
      className={`sheet-over ${className}`}
      aria-labelledby={heading}
      onCancel={(event) => {
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
        {children}
      </div>
    </dialog>
  )
}
