'use client'

import { useId, type ReactNode } from 'react'

export interface Option<Value> {
  readonly value: Value
  readonly label: string
}

export interface OptionGroup<Value> {
  readonly label: string
  readonly options: readonly Option<Value>[]
}

interface ChoiceProps<Value> {
  readonly value: Value
  readonly change: (value: Value) => void
  readonly disabled?: boolean
  readonly id?: string
  readonly 'aria-label'?: string
  readonly className?: string
}

/** One of a few, in a list that opens. */
export function Choice<const Value>({
  value,
  options,
  change,
  placeholder,
  size = 'usual',
  className = '',
  invalid,
  ...rest
}: ChoiceProps<Value> & {
  readonly options: readonly (Option<Value> | OptionGroup<Value>)[]
  /** What stands there while nothing of the list is chosen. */
  readonly placeholder?: string
  readonly size?: 'small' | 'usual'
  readonly invalid?: boolean
}) {
  const flat = options.flatMap((one) => ('options' in one ? one.options : [one]))
  const at = flat.findIndex((one) => one.value === value)
  const line = (one: Option<Value>) => (
    <option key={flat.indexOf(one)} value={flat.indexOf(one)}>
      {one.label}
    </option>
  )
  return (
    <select
      className={`control ${size} ${className}`}
      value={at}
      aria-invalid={invalid || undefined}
      onChange={({ target }) => {
        const chosen = flat[Number(target.value)]
        if (chosen !== undefined) change(chosen.value)
      }}
      {...rest}
    >
      {at === -1 ? (
        <option value={-1} disabled hidden>
          {placeholder ?? ''}
        </option>
      ) : null}
      {options.map((one) =>
        'options' in one ? (
          <optgroup key={one.label} label={one.label}>
            {one.options.map(line)}
          </optgroup>
        ) : (
          line(one)
        ),
      )}
    </select>
  )
}

/** One of very few, all of them in sight, side by side. */
export function OneOf<const Value extends string | number>(
  props: ChoiceProps<Value> & { readonly options: readonly Option<Value>[]; readonly size?: 'small' | 'usual' },
) {
  const { size = 'usual', className = '' } = props
  return <Marks {...props} className={`one-of ${size} ${className}`} />
}

/** One of a few sentences, one under the other. */
export function OneUnder<const Value extends string | number>(
  props: ChoiceProps<Value> & { readonly options: readonly { readonly value: Value; readonly label: ReactNode }[] },
) {
  return <Marks {...props} className={`one-under ${props.className ?? ''}`} />
}

function Marks<Value extends string | number>({
  value,
  options,
  change,
  disabled,
  id,
  className,
  'aria-label': label,
}: ChoiceProps<Value> & { readonly options: readonly { readonly value: Value; readonly label: ReactNode }[] }) {
  const name = useId()
  return (
    <div role="radiogroup" id={id} aria-label={label} className={className}>
      {options.map((one) => (
        <label key={one.value}>
          <input type="radio" name={name} checked={one.value === value} disabled={disabled} onChange={() => change(one.value)} />
          <span>{one.label}</span>
        </label>
      ))}
    </div>
  )
}

/** On or off, at once. */
export function Switch({
  checked,
  change,
  ...rest
}: {
  readonly checked: boolean
  readonly change: (checked: boolean) => void
  readonly disabled?: boolean
  readonly id?: string
  readonly 'aria-label'?: string
}) {
  return (
    <input
      type="checkbox"
      role="switch"
      className="switch"
      checked={checked}
      onChange={({ target }) => change(target.checked)}
      {...rest}
    />
  )
}

export function Check({
  checked,
  change,
  disabled,
  children,
}: {
  readonly checked: boolean
  readonly change: (checked: boolean) => void
  readonly disabled?: boolean
  readonly children: ReactNode
}) {
  return (
    <label className="check">
      <input type="checkbox" checked={checked} disabled={disabled} onChange={({ target }) => change(target.checked)} />
      <span>{children}</span>
    </label>
  )
}
