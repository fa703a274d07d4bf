'use client'

import { useState } from 'react'
import type { Option } from './choices'
import { TextField } from './fields'
import { FindChoice } from './find-choice'

/** Some of many, each taken out by its own cross, and more put in behind them. */
export function Several<Value extends string>({
  values,
  options,
  change,
  disabled = false,
  own = false,
  id,
  'aria-label': label,
  placeholder = 'Add one …',
}: {
  readonly values: readonly Value[]
  readonly options: readonly Option<Value>[]
  readonly change: (values: readonly Value[]) => void
  readonly disabled?: boolean
  /** Words of one's own may be put in as well as what is offered. */
  readonly own?: boolean
  readonly id?: string
  readonly 'aria-label': string
  readonly placeholder?: string
}) {
  const nameOf = (value: Value) => options.find((one) => one.value === value)?.label ?? value
  const left = options.filter(({ value }) => !values.includes(value))
  const add = (value: Value) => value !== '' && !values.includes(value) && change([...values, value])
  return (
    <div role="group" aria-label={label} className="several">
      {values.map((value) => (
        <span key={value} className="taken">
          {nameOf(value)}
          {disabled ? null : (
            <button
              type="button"
              aria-label={`Take ${nameOf(value)} out`}
              onClick={() => change(values.filter((one) => one !== value))}
            >
              ×
            </button>
          )}
        </span>
      ))}
      {disabled ? null : own ? (
        <OwnWords id={id} label={label} placeholder={placeholder} offered={left} add={(words) => add(words as Value)} />
      ) : left.length === 0 ? null : (
        <FindChoice id={id} aria-label={`${label}: add one`} placeholder={placeholder} value={null} options={left} change={add} />
      )}
    </div>
  )
}

function OwnWords({
  id,
  label,
  placeholder,
  offered,
  add,
}: {
  id: string | undefined
  label: string
  placeholder: string
  offered: readonly Option<string>[]
  add: (words: string) => void
}) {
  const [words, setWords] = useState('')
  const put = () => {
    add(words.trim())
    setWords('')
  }
  return (
    <>
      <TextField
        id={id}
        aria-label={`${label}: add one`}
        list={`${label} offered`}
        placeholder={placeholder}
        value={words}
        onChange={({ target }) => setWords(target.value)}
        onEnter={put}
        onBlur={put}
      />
      <datalist id={`${label} offered`}>
        {offered.map(({ value, label: name }) => (
          <option key={value} value={value}>
            {name}
          </option>
        ))}
      </datalist>
    </>
  )
}
