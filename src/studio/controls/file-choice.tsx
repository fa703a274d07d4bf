'use client'

import { Button, type ButtonProps } from './button'
import { useRef } from 'react'

/** A button that asks for a file; the same one can be chosen again. */
export function FileChoice({
  label,
  accept,
  take,
  children,
  ...button
}: {
  /** What the file is for, for those who do not see where the button stands. */
  label: string
  accept: string
  take: (file: File) => void
} & Pick<ButtonProps, 'children' | 'busy' | 'size'>) {
  const input = useRef<HTMLInputElement>(null)
  return (
    <>
      <input
        ref={input}
        type="file"
        className="off-screen"
        aria-label={label}
        tabIndex={-1}
        accept={accept}
        onChange={({ target }) => {
          const file = target.files?.[0]
          target.value = ''
          if (file !== undefined) take(file)
        }}
      />
      <Button {...button} onClick={() => input.current?.click()}>
        {children}
      </Button>
    </>
  )
}
