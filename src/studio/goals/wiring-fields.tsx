'use client'

import dynamic from 'next/dynamic'
import { FindChoice } from '../controls/find-choice'
import { Button } from '../controls/button'
import { NumberField, TextField } from '../controls/fields'
import { Choice } from '../controls/choices'
import { useState } from 'react'
import type { GoalView } from '@/contract/contract'
import { kindNamed, needOf, wiringKinds, type Goal, type Wiring, type WiringKind } from '@/core/goals'
import type { DocumentId, GoalId } from '@/core/ids'
import { PartsOfGoal } from './parts-of-goal'

const Pointing = dynamic(() => import('./pointing').then((room) => room.Pointing), { ssr: false })

interface FieldsProps {
  readonly view: GoalView
  readonly goal: Goal
  readonly disabled: boolean
  readonly change: (wiring: Wiring) => void
}

/** What a goal counts: its kind, and what that kind asks for. */
export function WiringFields({ view, goal, disabled, change }: FieldsProps) {
  const [pointing, setPointing] = useState(false)
  const { wiring } = goal
  const first = ('document' in wiring ? view.pages.find(({ id }) => id === wiring.document) : undefined) ?? view.pages[0]
  return (
    <>
      <div className="goal-lines">
        <label>
          <span>It counts when</span>
          <FindChoice
            aria-label="It counts when"
            value={wiring.kind}
            disabled={disabled}
            options={wiringKinds.map((value) => ({ value, label: kindNamed(value).label }))}
            change={(kind) => {
              const begun = beginning(kind, view, goal)
              if (begun === null) setPointing(true)
              else change(begun)
            }}
          />
        </label>
        <KindFields view={view} goal={goal} disabled={disabled} change={change} />
      </div>
      {isPointedAt(goal) ? (
        <Button disabled={disabled || first === undefined} onClick={() => setPointing(true)}>
          Point at something else
        </Button>
      ) : null}
      {pointing && first !== undefined ? (
        <Pointing
          pages={view.pages}
          first={first.id}
          around={[]}
          going={false}
          close={() => setPointing(false)}
          choose={(_, chosen) => {
            setPointing(false)
            change(chosen)
          }}
        />
      ) : null}
    </>
  )
}

/** What a goal of this kind begins as; `null` where something has to be pointed at first. */
function beginning(kind: WiringKind, view: GoalView, goal: Goal): Wiring | null {
  const others = view.library.filter(({ id, wiring }) => id !== goal.id && wiring.kind !== 'steps').map(({ id }) => id)
  return kindNamed(kind).begins({ pages: view.pages, others })
}

/** Whether what it counts can be pointed at on a page. */
function isPointedAt(goal: Goal): boolean {
  return ['component', 'marker', 'page'].includes(needOf(goal).kind)
}

function KindFields({ view, goal, disabled, change }: FieldsProps) {
  const { wiring } = goal
  switch (wiring.kind) {
    case 'page':
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
    case 'marker':
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
    case 'pageType':
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
    case 'address':
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
    case 'outbound':
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
    case 'stay':
    case 'noBounce':
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
    case 'event':
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
    case 'anyOf':
    case 'steps':
      return (
        <PartsOfGoal
          ordered={wiring.kind === 'steps'}
          goals={wiring.goals}
          library={view.library.filter(({ id, wiring: of }) => id !== goal.id && of.kind !== 'steps')}
          disabled={disabled}
          change={(goals: GoalId[]) => change({ kind: wiring.kind, goals })}
        />
      )
    default:
      return null
  }
}

function nameOf(text: string): string {
  return text.toLowerCase().replace(/[^a-z0-9._-]+/g, '-')
}
