'use client'

import { Choice } from '../controls/choices'
import { Button } from '../controls/button'
import { FindChoice } from '../controls/find-choice'
import { TextField } from '../controls/fields'
import type { Comparison, Condition } from '@/core/decide'
import type { ContentDocument } from '@/core/document'
import { nodeAt } from '@/core/document'
import { titleOf } from '@/components/references'

interface Group {
  readonly join: 'all' | 'any' | 'none'
  readonly of: readonly Comparison[]
}

/** A condition as the sentence edits it: one join over comparisons. Deeper trees are kept and only shown in words. */
export function asGroup(condition: Condition | null): Group | null {
  if (condition === null) return { join: 'all', of: [] }
  if (!('of' in condition)) return { join: 'all', of: [condition] }
  const comparisons = condition.of.flatMap((part) => ('of' in part ? [] : [part]))
  return comparisons.length === condition.of.length ? { join: condition.kind, of: comparisons } : null
}

const joinLabels = { all: 'all of these hold', any: 'any of these holds', none: 'none of these holds' } as const

/** “Shown when any of these holds: saw a page of type Instrument in this visit”, with every word in it to be changed. */
export function RuleSentence({
  condition,
  surroundings,
  disabled,
  change,
}: {
  condition: Condition | null
  surroundings: readonly ContentDocument[]
  disabled: boolean
  change: (condition: Condition) => void
}) {
  const group = asGroup(condition)
  if (group === null) return <p>{conditionWords(condition, surroundings)}</p>
  const put = (next: Partial<Group>) => {
    const { join, of } = { ...group, ...next }
    change({ kind: join, of })
  }
  const replace = (index: number, comparison: Comparison) =>
    put({ of: group.of.map((one, at) => (at === index ? comparison : one)) })
  return (
    <div className="rule">
      <p>
        Shown when{' '}
        <Choice
          aria-label="How the conditions are joined"
          size="small"
          value={group.join}
          disabled={disabled}
          options={Object.entries(joinLabels).map(([value, label]) => ({ value: value as Group['join'], label }))}
          change={(join) => put({ join })}
        />
      </p>
      <ul>
        {group.of.map((comparison, index) => (
          <li key={index}>
            <ComparisonWords
              comparison={comparison}
              surroundings={surroundings}
              disabled={disabled}
              change={(next) => replace(index, next)}
            />
            <Button
              size="small"
              look="quiet"
              disabled={disabled}
              aria-label="Remove this condition"
              onClick={() => put({ of: group.of.filter((_, at) => at !== index) })}
            >
              ×
            </Button>
          </li>
        ))}
      </ul>
      {group.of.length === 0 ? (
        <p className="quiet">
          {group.join === 'any' ? 'Nobody yet: add a condition.' : 'Everybody: add a condition to narrow it.'}
        </p>
      ) : null}
      <Button
        size="small"
        disabled={disabled}
        onClick={() => put({ of: [...group.of, { kind: 'pageTypeSeen', pageType: pageTypes(surroundings)[0] ?? 'Page' }] })}
      >
        Add a condition
      </Button>
    </div>
  )
}

const kindLabels = {
  pageTypeSeen: 'saw a page of type',
  pageSeen: 'saw the page',
  device: 'comes on a',
  campaign: 'came by the campaign',
} as const

function ComparisonWords({
  comparison,
  surroundings,
  disabled,
  change,
}: {
  comparison: Comparison
  surroundings: readonly ContentDocument[]
  disabled: boolean
  change: (comparison: Comparison) => void
}) {
  const pages = surroundings.filter(({ kind }) => kind === 'page')
  const types = pageTypes(surroundings)
  const fresh = (kind: Comparison['kind']): Comparison => {
    const firstPage = pages[0]
    if (kind === 'pageSeen' && firstPage !== undefined) return { kind, page: firstPage.id }
    if (kind === 'device') return { kind, device: 'phone' }
    if (kind === 'campaign') return { kind, campaign: 'name' }
    return { kind: 'pageTypeSeen', pageType: types[0] ?? 'Page' }
  }
  return (
    <span className="comparison">
      <Choice
        aria-label="What is compared"
        size="small"
        value={comparison.kind}
        disabled={disabled}
        options={Object.entries(kindLabels).map(([value, label]) => ({ value: value as Comparison['kind'], label }))}
        change={(kind) => change(fresh(kind))}
      />
      {comparison.kind === 'pageTypeSeen' ? (
        <Choice
          aria-label="Page type"
          size="small"
          value={comparison.pageType}
          disabled={disabled}
          options={types.map((type) => ({ value: type, label: type }))}
          change={(pageType) => change({ kind: 'pageTypeSeen', pageType })}
        />
      ) : null}
      {comparison.kind === 'pageSeen' ? (
        <FindChoice
          aria-label="Page"
          size="small"
          value={comparison.page as string}
          disabled={disabled}
          options={pages.map((page) => ({ value: page.id as string, label: titleOf(page) }))}
          change={(id) => change({ kind: 'pageSeen', page: pages.find((page) => page.id === id)?.id ?? comparison.page })}
        />
      ) : null}
      {comparison.kind === 'device' ? (
        <Choice
          aria-label="Device"
          size="small"
          value={comparison.device}
          disabled={disabled}
          options={(['phone', 'tablet', 'computer'] as const).map((value) => ({ value, label: value }))}
          change={(device) => change({ kind: 'device', device })}
        />
      ) : null}
      {comparison.kind === 'campaign' ? (
        <TextField
          aria-label="Campaign"
          size="small"
          defaultValue={comparison.campaign}
          disabled={disabled}
          maxLength={80}
          onBlur={({ target }) => target.value.trim() !== '' && change({ kind: 'campaign', campaign: target.value.trim() })}
        />
      ) : null}
      {comparison.kind === 'pageSeen' || comparison.kind === 'pageTypeSeen' ? ' in this visit' : ''}
    </span>
  )
}

/** The whole rule in words, for a place where it is only read. */
export function conditionWords(condition: Condition | null, surroundings: readonly ContentDocument[]): string {
  if (condition === null) return 'everybody'
  switch (condition.kind) {
    case 'pageSeen':
      return `saw “${titleOfId(condition.page, surroundings)}” in this visit`
    case 'pageTypeSeen':
      return `saw a page of type ${condition.pageType} in this visit`
    case 'device':
      return `comes on a ${condition.device}`
    case 'campaign':
      return `came by the campaign ${condition.campaign}`
    default: {
      const parts = condition.of.map((part) => conditionWords(part, surroundings))
      if (parts.length === 0) return condition.kind === 'any' ? 'nobody yet' : 'everybody'
      if (condition.kind === 'none') return `not: ${parts.join(', nor ')}`
      return parts.join(condition.kind === 'all' ? ' and ' : ' or ')
    }
  }
}

function titleOfId(id: string, surroundings: readonly ContentDocument[]): string {
  const found = surroundings.find((page) => page.id === id)
  return found === undefined ? 'a page' : titleOf(found)
}

function pageTypes(surroundings: readonly ContentDocument[]): string[] {
  const types = surroundings
    .filter(({ kind }) => kind === 'page')
    .map((page) => String(nodeAt(page, page.root).props.pageType ?? 'Page'))
  return [...new Set(types)].sort()
}
