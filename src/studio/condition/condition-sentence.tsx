'use client'

import { useState } from 'react'
import { Choice } from '../controls/choices'
import { Button } from '../controls/button'
import { FindChoice } from '../controls/find-choice'
import { NumberField, TextField } from '../controls/fields'
import { Several } from '../controls/several'
import {
  comparisonNamed,
  comparisonNames,
  comparisonSchema,
  type Comparison,
  type ComparisonName,
  type Condition,
  type Surroundings,
  type Word,
} from '@/core/decide'

interface Group {
  readonly kind: 'all' | 'any' | 'none'
  readonly of: readonly Condition[]
}

const joins = { all: 'all of these hold', any: 'any of these holds', none: 'none of these holds' } as const
/** Deeper than this nobody can read it; what is deeper in a file is kept and shown. */
const DEEPEST = 3

const asGroup = (condition: Condition | null): Group =>
  condition === null ? { kind: 'all', of: [] } : 'of' in condition ? condition : { kind: 'all', of: [condition] }

interface Props {
  readonly condition: Condition | null
  readonly site: Surroundings
  readonly disabled: boolean
  readonly change: (condition: Condition) => void
}

/** “Shown when any of these holds: saw a page of type Instrument in this visit”, with every word in it to be changed. */
export function ConditionSentence({ lead, ...props }: Props & { readonly lead: string }) {
  return <Joined {...props} lead={lead} depth={1} />
}

function Joined({ condition, site, disabled, change, lead, depth }: Props & { readonly lead: string; readonly depth: number }) {
  const group = asGroup(condition)
  const put = (next: Partial<Group>) => change({ ...group, ...next })
  const at = (index: number, part: Condition | null) =>
    put({ of: group.of.flatMap((one, place) => (place !== index ? [one] : part === null ? [] : [part])) })
  const fresh = comparisonNames.map((name) => comparisonNamed(name).begins(site)).find((begun) => begun !== null)
  return (
    <div className="rule">
      <p>
        {lead === '' ? null : `${lead} `}
        <Choice
          aria-label="How the conditions are joined"
          size="small"
          value={group.kind}
          disabled={disabled}
          options={Object.entries(joins).map(([value, label]) => ({ value: value as Group['kind'], label }))}
          change={(kind) => put({ kind })}
        />
      </p>
      <ul>
        {group.of.map((part, index) => (
          <li key={index} className={'of' in part ? 'together' : ''}>
            {'of' in part ? (
              <Joined
                condition={part}
                site={site}
                disabled={disabled}
                change={(next) => at(index, next)}
                lead=""
                depth={depth + 1}
              />
            ) : (
              <Compared comparison={part} site={site} disabled={disabled} change={(next) => at(index, next)} />
            )}
            {disabled ? null : (
              <Button size="small" look="quiet" aria-label="Remove this condition" onClick={() => at(index, null)}>
                ×
              </Button>
            )}
          </li>
        ))}
      </ul>
      {group.of.length === 0 ? (
        <p className="quiet">
          {group.kind === 'any' ? 'Nobody yet: add a condition.' : 'Everybody: add a condition to narrow it.'}
        </p>
      ) : null}
      {disabled || group.of.length >= 20 ? null : (
        <p className="rule-more">
          <Button size="small" onClick={() => fresh && put({ of: [...group.of, fresh] })}>
            Add a condition
          </Button>
          {depth < DEEPEST && group.of.length > 0 ? (
            <Button
              size="small"
              look="quiet"
              onClick={() => fresh && put({ of: [...group.of, { kind: group.kind === 'any' ? 'all' : 'any', of: [fresh] }] })}
            >
              Add several that belong together
            </Button>
          ) : null}
        </p>
      )}
    </div>
  )
}

function Compared({
  comparison,
  site,
  disabled,
  change,
}: {
  comparison: Comparison
  site: Surroundings
  disabled: boolean
  change: (comparison: Comparison) => void
}) {
  const { sentence } = comparisonNamed(comparison.kind)
  return (
    <span className="comparison">
      <Choice<ComparisonName>
        aria-label="What is compared"
        size="small"
        value={comparison.kind}
        disabled={disabled}
        options={comparisonNames
          .filter((name) => name === comparison.kind || comparisonNamed(name).begins(site) !== null)
          .map((value) => ({ value, label: comparisonNamed(value).label }))}
        change={(kind) => {
          const begun = comparisonNamed(kind).begins(site)
          if (begun !== null) change(begun)
        }}
      />
      {sentence(comparison, site).map((word, index) =>
        typeof word === 'string' ? (
          <span key={index}>{word}</span>
        ) : (
          <Changeable key={`${comparison.kind} ${index}`} word={word} disabled={disabled} change={change} />
        ),
      )}
    </span>
  )
}

/** So many can be taken in at a glance; more are searched. */
const FEW = 12

function Changeable({
  word,
  disabled,
  change,
}: {
  word: Word<Comparison>
  disabled: boolean
  change: (comparison: Comparison) => void
}) {
  const [fault, setFault] = useState('')
  const shared = { 'aria-label': word.label, disabled }
  const to = (next: Comparison | null) => {
    if (next === null) return
    const read = comparisonSchema.safeParse(next)
    setFault(read.success ? '' : (read.error.issues[0]?.message ?? 'this cannot be kept'))
    if (read.success) change(read.data)
  }
  switch (word.control) {
    case 'choice': {
      const choice = { ...shared, size: 'small', value: word.value, options: word.options } as const
      return word.options.length > FEW ? (
        <FindChoice {...choice} change={(value) => to(word.put(value))} />
      ) : (
        <Choice {...choice} change={(value) => to(word.put(value))} />
      )
    }
    case 'several':
      return <Several {...shared} values={word.values} options={word.options} change={(values) => to(word.put(values))} />
    case 'number':
      return (
        <NumberField
          {...shared}
          className="few"
          value={word.value}
          min={word.least}
          max={word.most}
          digits={0}
          change={(value) => to(word.put(value))}
        />
      )
    case 'day':
      return (
        <>
          <TextField
            {...shared}
            key={word.value}
            type="date"
            size="small"
            defaultValue={word.value ?? ''}
            aria-invalid={fault !== ''}
            onBlur={({ target }) => to(word.put(target.value === '' ? null : target.value))}
          />
          {fault === '' ? null : (
            <span role="alert" className="fault">
              {fault}
            </span>
          )}
        </>
      )
    case 'text':
      return (
        <>
          <TextField
            {...shared}
            key={word.value}
            size="small"
            defaultValue={word.value}
            maxLength={word.most}
            aria-invalid={fault !== ''}
            onBlur={({ target }) => to(word.put(target.value))}
          />
          {fault === '' ? null : (
            <span role="alert" className="fault">
              {fault}
            </span>
          )}
        </>
      )
    default:
      return word satisfies never
  }
}
