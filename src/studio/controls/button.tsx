import type { ButtonHTMLAttributes, Ref } from 'react'

export interface ButtonProps extends Omit<ButtonHTMLAttributes<HTMLButtonElement>, 'type'> {
  /** `primary`: what the screen is for; `quiet`: without a border, beside others. */
  readonly look?: 'plain' | 'primary' | 'quiet'
  readonly size?: 'small' | 'usual' | 'large'
  /** What it began is not done yet: pressed again, it does nothing. */
  readonly busy?: boolean
  /** What it does cannot be brought back. */
  readonly danger?: boolean
  readonly submits?: boolean
  readonly ref?: Ref<HTMLButtonElement>
}

export function Button({
  look = 'plain',
  size = 'usual',
  busy = false,
  danger = false,
  submits = false,
  className = '',
  onClick,
  ...rest
}: ButtonProps) {
  return (
    <button
      type={submits ? 'submit' : 'button'}
      className={buttonClass({ look, size, danger, className })}
      aria-busy={busy || undefined}
      // What is busy stays in hand: a disabled button would lose the keyboard.
      onClick={(event) => {
        if (busy) event.preventDefault()
        else onClick?.(event)
      }}
      {...rest}
    />
  )
}

/** A link that looks like a button, since what it leads to is fetched and not shown. */
export function ButtonLink({ href, look, children }: Pick<ButtonProps, 'look'> & { href: string; children: string }) {
  return (
    <a className={buttonClass(look === undefined ? {} : { look })} href={href}>
      {children}
    </a>
  )
}

function buttonClass({
  look = 'plain',
  size = 'usual',
  danger = false,
  className = '',
}: Pick<ButtonProps, 'look' | 'size' | 'danger' | 'className'>): string {
  return ['button', look === 'plain' ? '' : look, size === 'usual' ? '' : size, danger ? 'danger' : '', className]
    .filter((name) => name !== '')
    .join(' ')
}
