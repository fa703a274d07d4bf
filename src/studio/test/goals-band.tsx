'use client'

import dynamic from 'next/dynamic'
import { FindChoice } from '../controls/find-choice'
import { Several } from '../controls/several'
import { Check } from '../controls/choices'
import { NumberField } from '../controls/fields'
import { Button } from '../controls/button'
import Link from 'next/link'
import { useState } from 'react'
import type { TestView } from '@/contract/contract'
import { partsOf } from '@/core/experiment'
import { libraryOf } from '@/core/goals'
import type { GoalId } from '@/core/ids'
import { useMessages } from '../frame/messages'
import { wiringWords } from '../goals/wiring-words'
import { useTell } from '../talk'
import type { Editing } from './test-screen'

const Pointing = dynamic(() => import('../goals/pointing').then((room) => room.Pointing), { ssr: false })

const USUAL_MARGIN = 0.05
/** Of the time until a page is painted. */
const USUAL_SLOWER = 0.1

/** What counts as success: one goal decides, others are watched, and some must not get worse. Chosen, or pointed at. */
export function GoalsBand({ test, editing, open }: { test: TestView; editing: Editing; open: boolean }) {
  const { design, change } = editing
  const message = useMessages()
  const [pointing, setPointing] = useState(false)
  const titles = new Map<string, string>(test.pages.map(({ id, title }) => [id, title]))
  const library = libraryOf(test.goals)
  const choose = (id: GoalId) =>
    change({
      primary: id,
      watched: design.watched.filter((one) => one !== id),
      guards: design.guards.filter(({ goal }) => goal !== id),
    })
  const create = useTell('goal.create', (goal) => {
    setPointing(false)
    choose(goal.id)
  })
  const options = test.goals.map(({ id, name, wiring }) => ({
    value: id as string,
    label: name,
    title: wiringWords(wiring, library, (page) => titles.get(page) ?? 'a page'),
  }))
  const others = options.filter(({ value }) => value !== design.primary)
  const idsOf = (values: readonly string[]) => test.goals.filter(({ id }) => values.includes(id)).map(({ id }) => id)
  const primary = design.primary === null ? undefined : library.get(design.primary)
  const [first] = test.pages
  const start = test.pages.find(({ id }) => id === design.document) ?? first
  return (
    <section className="band" aria-label="Goals" id="goals">
      <h2>Goals</h2>
      <div className="goal-lines">
        <label>
          <span>Decides</span>
          <FindChoice
            aria-label="Goal that decides"
            value={design.primary as string | null}
            placeholder="Choose a goal"
            disabled={!open}
            options={options}
            change={(value) => idsOf(value === null ? [] : [value]).forEach(choose)}
          />
        </label>
        {primary === undefined ? null : (
          <p className="quiet what-counts">
            It counts when {wiringWords(primary.wiring, library, (page) => titles.get(page) ?? 'a page')}.{' '}
            <Link href={`/goals/${primary.id}`}>Open the goal</Link>
          </p>
        )}
        <label>
          <span>Watched</span>
          <Several
            aria-label="Goals that are watched"
            values={design.watched as string[]}
            placeholder="None"
            disabled={!open}
            options={others.filter(({ value }) => !design.guards.some(({ goal }) => goal === value))}
            change={(values) => change({ watched: idsOf(values) })}
          />
        </label>
        <label>
          <span>Must not get worse</span>
          <Several
            aria-label="Goals that must not get worse"
            values={design.guards.map(({ goal }) => goal as string)}
            placeholder="None"
            disabled={!open}
            options={others.filter(({ value }) => !design.watched.some((goal) => goal === value))}
            change={(values) =>
              change({
                guards: idsOf(values).map(
                  (goal) => design.guards.find((guard) => guard.goal === goal) ?? { goal, margin: USUAL_MARGIN },
                ),
              })
            }
          />
        </label>
        <GuardLines {...{ design, library, open, change }} />
        <SpeedGuardLine {...{ design, open, change }} />
      </div>
      {open ? <Button onClick={() => setPointing(true)}>Make a goal by pointing</Button> : null}
      {pointing && start !== undefined ? (
        <Pointing
          pages={test.pages}
          first={start.id}
          around={[...new Set(partsOf(design).map(({ document }) => document))]}
          going={create.isPending}
          close={() => setPointing(false)}
          choose={(name, wiring) =>
            create.mutate({ name, wiring }, { onError: (reason) => void message.error(reason.message, 8) })
          }
        />
      ) : null}
    </section>
  )
}

/** How much worse a goal that must not get worse may be. */
function GuardLines({
  design,
  library,
  open,
  change,
}: Pick<Editing, 'design' | 'change'> & { library: ReturnType<typeof libraryOf>; open: boolean }) {
  return design.guards.map(({ goal, margin }) => (
    <label key={goal} className="guard">
      <span>{library.get(goal)?.name ?? 'A goal'}: at most worse by</span>
      <NumberField
        aria-label={`Margin of ${library.get(goal)?.name ?? 'the goal'}`}
        value={Math.round(margin * 1000) / 10}
        min={0}
        max={100}
        step={1}
        unit="%"
        disabled={!open}
        change={(value) =>
          change({
            guards: design.guards.map((guard) => (guard.goal === goal ? { goal, margin: (value ?? 0) / 100 } : guard)),
          })
        }
      />
    </label>
  ))
}

/** A page that is painted later loses visitors whom no goal counts: it needs nothing but to be asked for. */
function SpeedGuardLine({ design, open, change }: Pick<Editing, 'design' | 'change'> & { open: boolean }) {
  const { slowest } = design
  return (
    <div className="speed-guard">
      <Check checked={slowest !== null} disabled={!open} change={(on) => change({ slowest: on ? USUAL_SLOWER : null })}>
        {slowest === null ? 'The page must not be painted later' : 'The page must not be painted later by more than'}
      </Check>
      {slowest === null ? null : (
        <NumberField
          aria-label="Margin of the time until the page is painted"
          value={Math.round(slowest * 1000) / 10}
          min={0}
          max={500}
          step={5}
          unit="%"
          disabled={!open}
          change={(value) => change({ slowest: value / 100 })}
        />
      )}
    </div>
  )
}
