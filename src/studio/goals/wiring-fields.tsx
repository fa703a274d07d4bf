'use client'

import dynamic from 'next/dynamic'
import { FindChoice } from '../controls/find-choice'
import { Button } from '../controls/button'
import { useState } from 'react'
import type { GoalView } from '@/contract/contract'
import { kindNamed, needOf, wiringKinds, type Goal, type Wiring, type WiringKind } from '@/core/goals'
import { KindFields, type FieldsProps } from './kind-fields'

const Pointing = dynamic(() => import('./pointing').then((room) => room.Pointing), { ssr: false })

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
