'use client'

import { Choice } from '../controls/choices'
import { Button } from '../controls/button'
import { FindChoice } from '../controls/find-choice'
import { TextField } from '../controls/fields'
import { comparisonNamed, comparisonNames, conditionWords, type Comparison, type Condition, type SitePages } from '@/core/decide'
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
  if (group === null) return <p>{conditionWords(condition, pagesOf(surroundings))}</p>
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
  const site = pagesOf(surroundings)
  return (
    <span className="comparison">
      <Choice
        aria-label="What is compared"
        size="small"
        value={comparison.kind}
        disabled={disabled}
        options={comparisonNames.map((value) => ({ value, label: comparisonNamed(value).label }))}
        change={(kind) => {
          const begun = comparisonNamed(kind).begins(site)
          if (begun !== null) change(begun)
        }}
      />
      {comparison.kind === 'pageTypeSeen' ? (
        <Choice
          aria-label="Page type"
          size="small"
          value={comparison.pageType}
          disabled={disabled}
          options={site.pageTypes.map((type) => ({ value: type, label: type }))}
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
      {comparisonNamed(comparison.kind).after}
    </span>
  )
}

/** The site as far as rules speak of it. */
export function pagesOf(surroundings: readonly ContentDocument[]): SitePages {
  const pages = surroundings.filter(({ kind }) => kind === 'page')
  const titles = new Map(surroundings.map((document) => [document.id, document]))
  return {
    pages: pages.map(({ id }) => id),
    pageTypes: pageTypes(surroundings),
    titleOf: (id) => {
      const found = titles.get(id)
      return found === undefined ? 'a page' : titleOf(found)
    },
  }
}

function pageTypes(surroundings: readonly ContentDocument[]): string[] {
  const types = surroundings
    .filter(({ kind }) => kind === 'page')
    .map((page) => String(nodeAt(page, page.root).props.pageType ?? 'Page'))
  return [...new Set(types)].sort()
}
