'use client'

import { createElement, type ComponentType } from 'react'
import type { GoalView } from '@/contract/contract'
import type { Goal, Wiring, WiringKind } from '@/core/goals'
import type { DocumentId, GoalId } from '@/core/ids'
import { Choice } from '../controls/choices'
import { NumberField, TextField } from '../controls/fields'
import { FindChoice } from '../controls/find-choice'
import { PartsOfGoal } from './parts-of-goal'

export interface FieldsProps {
  readonly view: GoalView
  readonly goal: Goal
  readonly disabled: boolean
  readonly change: (wiring: Wiring) => void
}

type Of<Kind extends WiringKind> = FieldsProps & { readonly wiring: Extract<Wiring, { kind: Kind }> }

/** What a goal’s kind asks for beside what is pointed at. */
export function KindFields(props: FieldsProps) {
  // A kind’s fields are only ever given a goal of that kind.
  const Fields = kindFields[props.goal.wiring.kind] as ComponentType<FieldsProps & { wiring: Wiring }> | null
  return Fields === null ? null : createElement(Fields, { ...props, wiring: props.goal.wiring })
}

function PageField({ wiring, view, disabled, change }: Of<'page'>) {
  return (
    <label>
      <span>Page</span>
      <FindChoice
        aria-label="Page that is shown"
        value={wiring.document as string}
        disabled={disabled}
        options={view.pages.map(({ id, title, path }) => ({ value: id as string, label: `${title} (${path})` }))}
        change={(document) => change({ kind: 'page', document: document as DocumentId })}
      />
    </label>
  )
}

function MarkerField({ wiring, disabled, change }: Of<'marker'>) {
  return (
    <label>
      <span>Marker</span>
      <TextField
        aria-label="Marker"
        value={wiring.marker}
        disabled={disabled}
        maxLength={40}
        onChange={({ target }) => change({ kind: 'marker', marker: nameOf(target.value) })}
      />
    </label>
  )
}

function PageTypeField({ wiring, view, disabled, change }: Of<'pageType'>) {
  return (
    <label>
      <span>Type</span>
      <TextField
        aria-label="Type of page"
        list="page-types"
        value={wiring.pageType}
        disabled={disabled}
        onChange={({ target }) => change({ kind: 'pageType', pageType: target.value })}
      />
      <datalist id="page-types">
        {[...new Set(view.pages.map(({ pageType }) => pageType))].map((type) => (
          <option key={type}>{type}</option>
        ))}
      </datalist>
    </label>
  )
}

function AddressFields({ wiring, disabled, change }: Of<'address'>) {
  return (
    <label>
      <span>Its address</span>
      <Choice
        aria-label="How the address is compared"
        value={wiring.by}
        disabled={disabled}
        options={[
          { value: 'is', label: 'is' },
          { value: 'startsWith', label: 'starts with' },
          { value: 'contains', label: 'contains' },
        ]}
        change={(by) => change({ ...wiring, by })}
      />
      <TextField
        aria-label="Address"
        value={wiring.text}
        disabled={disabled}
        maxLength={300}
        onChange={({ target }) => change({ ...wiring, text: target.value })}
      />
    </label>
  )
}

function OutboundFields({ wiring, disabled, change }: Of<'outbound'>) {
  return (
    <label>
      <span>The link</span>
      <Choice
        aria-label="How the link is compared"
        value={wiring.by}
        disabled={disabled}
        options={[
          { value: 'host', label: 'leads to the site' },
          { value: 'is', label: 'is exactly' },
          { value: 'startsWith', label: 'starts with' },
        ]}
        change={(by) => change({ ...wiring, by })}
      />
      <TextField
        aria-label="Where the link leads"
        value={wiring.text}
        disabled={disabled}
        maxLength={300}
        onChange={({ target }) => change({ ...wiring, text: target.value })}
      />
    </label>
  )
}

function SecondsField({ wiring, disabled, change }: Of<'stay' | 'noBounce'>) {
  return (
    <label>
      <span>{wiring.kind === 'stay' ? 'For at least' : 'Or stays for at least'}</span>
      <NumberField
        aria-label="Seconds"
        value={wiring.seconds}
        min={1}
        max={600}
        digits={0}
        unit="seconds"
        disabled={disabled}
        change={(seconds) => change({ ...wiring, seconds })}
      />
    </label>
  )
}

function EventField({ wiring, disabled, change }: Of<'event'>) {
  return (
    <label>
      <span>Name of the event</span>
      <TextField
        aria-label="Name of the event"
        value={wiring.event}
        disabled={disabled}
        maxLength={60}
        onChange={({ target }) => change({ kind: 'event', event: nameOf(target.value) })}
      />
    </label>
  )
}

function GoalsField({ wiring, view, goal, disabled, change }: Of<'anyOf' | 'steps'>) {
  return (
    <PartsOfGoal
      ordered={wiring.kind === 'steps'}
      goals={wiring.goals}
      library={view.library.filter(({ id, wiring: of }) => id !== goal.id && of.kind !== 'steps')}
      disabled={disabled}
      change={(goals: GoalId[]) => change({ kind: wiring.kind, goals })}
    />
  )
}

function nameOf(text: string): string {
  return text.toLowerCase().replace(/[^a-z0-9._-]+/g, '-')
}

const kindFields: { readonly [Kind in WiringKind]: ComponentType<Of<Kind>> | null } = {
  click: null,
  read: null,
  form: null,
  order: null,
  page: PageField,
  marker: MarkerField,
  pageType: PageTypeField,
  address: AddressFields,
  outbound: OutboundFields,
  stay: SecondsField,
  noBounce: SecondsField,
  event: EventField,
  anyOf: GoalsField,
  steps: GoalsField,
}
