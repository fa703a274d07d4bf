'use client'

import { useEffect, useId, useState, type ReactNode } from 'react'
import { Button, type ButtonProps } from './button'
import { placedBy } from './placed'

/** A button, and what opens under it; closed by Escape or by pressing elsewhere. */
export function OpensUnder({
  button,
  label,
  wide = 320,
  content,
}: {
  button: ButtonProps
  label: string
  wide?: number
  content: (close: () => void) => ReactNode
}) {
  const id = useId()
  const [isOpen, setOpen] = useState(false)
  const close = () => document.getElementById(id)?.hidePopover()
  useEffect(() => {
    if (!isOpen) return
    // A press into a page that lies in a frame is seen here only as leaving.
    const left = () => document.activeElement instanceof HTMLIFrameElement && document.getElementById(id)?.hidePopover()
    window.addEventListener('blur', left)
    return () => window.removeEventListener('blur', left)
  }, [id, isOpen])
  return (
    <>
      <Button {...button} id={`${id}-opener`} popoverTarget={id} aria-expanded={isOpen} />
      <div
        id={id}
        popover="auto"
        role="dialog"
        aria-label={label}
        className="opened"
        onBeforeToggle={({ newState, currentTarget }) => {
          setOpen(newState === 'open')
          const at = document.getElementById(`${id}-opener`)?.getBoundingClientRect()
          if (newState === 'open' && at !== undefined)
            Object.assign(currentTarget.style, placedBy(at, { widest: wide, highest: 520 }))
        }}
      >
        {isOpen ? content(close) : null}
      </div>
    </>
  )
}
