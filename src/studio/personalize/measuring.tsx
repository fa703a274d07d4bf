'use client'

import { useState } from 'react'
import type { PersonalizationView } from '@/contract/contract'
import { WHOLE } from '@/core/decide'
import type { GainPlan } from '@/core/experiment'
import { percent } from '@/core/numbers'
import { isSameData } from '@/core/same-data'
import { Button } from '../controls/button'
import { Choice } from '../controls/choices'
import { NumberField } from '../controls/fields'
import { Several } from '../controls/several'
import { useTell } from '../talk'

/** How it is found out what rules gain, as a sentence whose words are changed in place. */
export function Measuring({ view }: { view: PersonalizationView }) {
  const [plan, setPlan] = useState<GainPlan>(view.plan)
  const save = useTell('personalization.plan')
  const change = (part: Partial<GainPlan>) => setPlan({ ...plan, ...part })
  const options = view.goals.map(({ id, name }) => ({ value: id, label: name }))
  const isOther = !isSameData(plan, view.plan)
  return (
    <form
      className="measuring"
      aria-label="How the gain is measured"
      onSubmit={(event) => {
        event.preventDefault()
        save.mutate({ document: view.document, node: view.node, lock: view.lock, plan })
      }}
    >
      <p className="measuring-line">
        <span>Of those whom a rule fits,</span>
        <NumberField
          aria-label="Share that is held out"
          value={plan.holdout / 100}
          min={0}
          max={50}
          digits={2}
          unit="%"
          change={(value) => change({ holdout: Math.round(value * 100) })}
        />
        <span>are shown the original all the same, so that the gain shows in</span>
        <Choice
          aria-label="Goal that decides"
          value={plan.primary}
          placeholder="choose a goal"
          options={options}
          change={(primary) => change({ primary, watched: plan.watched.filter((id) => id !== primary) })}
        />
      </p>
      <p className="measuring-line">
        <span>A gain worth having is</span>
        <NumberField
          aria-label="Smallest gain worth having"
          value={Math.round(plan.smallestEffect * 1000) / 10}
          min={0.1}
          max={200}
          digits={1}
          unit="%"
          change={(value) => change({ smallestEffect: Math.max(0.001, value / 100) })}
        />
        <span>or more. Looked at beside it:</span>
        <Several
          aria-label="Goals that are looked at beside it"
          values={plan.watched}
          options={options.filter(({ value }) => value !== plan.primary)}
          placeholder="add a goal …"
          change={(watched) => change({ watched: [...watched].slice(0, 20) })}
        />
      </p>
      <p className="quiet">{measuringWords(plan, view)}</p>
      {save.error === null ? null : (
        <p role="alert" className="fault">
          {save.error.message}
        </p>
      )}
      {isOther ? (
        <p>
          <Button look="primary" submits busy={save.isPending}>
            Save
          </Button>{' '}
          <Button onClick={() => setPlan(view.plan)}>As it was</Button>
        </p>
      ) : null}
    </form>
  )
}

/** What comes of a plan. */
function measuringWords({ holdout, primary }: GainPlan, { live }: PersonalizationView): string {
  if (primary === null) return 'Without a goal nobody is held out, and nothing is known of what the rules gain.'
  if (holdout === 0) return 'Nobody is held out: whether the rules gain anything will not be known.'
  return `Whoever is held out stays held out, of every rule of this part. ${
    live ? 'A change goes live with the next publish; what is compared begins anew then.' : 'It begins with the first publish.'
  }`
}

/** The same in short, where there is no room to change it. */
export function heldOutWords({ plan, goals }: Pick<PersonalizationView, 'plan' | 'goals'>): string {
  const goal = goals.find(({ id }) => id === plan.primary)?.name
  if (goal === undefined) return 'No goal says what it gains.'
  if (plan.holdout === 0) return 'Nobody is held out, so what it gains is not known.'
  return `${percent(plan.holdout / WHOLE)} of those whom it fits see the original, to find out what it gains by “${goal}”.`
}
