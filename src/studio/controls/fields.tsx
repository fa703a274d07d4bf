'use client'

import { useState, type InputHTMLAttributes, type TextareaHTMLAttributes } from 'react'

export interface FieldProps extends Omit<InputHTMLAttributes<HTMLInputElement>, 'size'> {
  readonly size?: 'small' | 'usual' | 'large'
  readonly onEnter?: (text: string) => void
}

/** One line of words. */
export function TextField({ size = 'usual', className = '', onEnter, ...rest }: FieldProps) {
  return (
    <input
      className={`control ${size} ${className}`}
      onKeyDown={onEnter && ((event) => event.key === 'Enter' && onEnter(event.currentTarget.value))}
      {...rest}
    />
  )
}

/** Words over several lines: as high as what stands in it, where the browser can. */
export function TextArea({ className = '', rows = 2, ...rest }: TextareaHTMLAttributes<HTMLTextAreaElement>) {
  return <textarea className={`control ${className}`} rows={rows} {...rest} />
}

/** Words that nobody beside one should read, until one wants to read them oneself. */
export function PasswordField({ size = 'usual', className = '', ...rest }: FieldProps) {
  const [readable, setReadable] = useState(false)
  return (
    <span className={`password ${className}`}>
      <input className={`control ${size}`} type={readable ? 'text' : 'password'} {...rest} />
      <button type="button" aria-pressed={readable} onClick={() => setReadable(!readable)}>
        {readable ? 'hide' : 'show'}
      </button>
    </span>
  )
}

/** Words that are looked for when Enter is pressed, or when the field is emptied by its own cross. */
export function SearchField({ onSearch, ...rest }: FieldProps & { readonly onSearch: (words: string) => void }) {
  return (
    <TextField
      type="search"
      onEnter={onSearch}
      onInput={({ currentTarget }) => currentTarget.value === '' && onSearch('')}
      {...rest}
    />
  )
}

export interface NumberFieldProps extends Omit<FieldProps, 'value' | 'onChange' | 'min' | 'max' | 'type'> {
  readonly value: number
  readonly min: number
  readonly max?: number
  /** How many digits may stand behind the sign; all, if not said. */
  readonly digits?: number
  /** What is counted, said behind the number. */
  readonly unit?: string
  readonly change: (value: number) => void
}

/** A number within bounds. What is outside of them stays in the field until it is left, and is then the nearest that fits. */
export function NumberField({ value, min, max = Infinity, digits, unit, change, className = '', ...rest }: NumberFieldProps) {
  const [typed, setTyped] = useState<string | null>(null)
  const said = (text: string): number | null => {
    const number = text.trim() === '' ? NaN : Number(text)
    if (Number.isNaN(number)) return null
    return Math.min(max, Math.max(min, digits === undefined ? number : Number(number.toFixed(digits))))
  }
  return (
    <span className={`number-field ${className}`}>
      <TextField
        type="number"
        inputMode="decimal"
        min={min}
        max={max === Infinity ? undefined : max}
        step="any"
        value={typed ?? value}
        onChange={({ target }) => {
          setTyped(target.value)
          const next = said(target.value)
          if (next !== null && next === Number(target.value)) change(next)
        }}
        onBlur={() => {
          const next = typed === null ? null : said(typed)
          setTyped(null)
          if (next !== null && next !== value) change(next)
        }}
        // A page that is scrolled changes no number that happens to lie under the pointer.
        onWheel={({ currentTarget }) => currentTarget.blur()}
        {...rest}
      />
      {unit === undefined ? null : <span className="unit">{unit}</span>}
    </span>
  )
}
