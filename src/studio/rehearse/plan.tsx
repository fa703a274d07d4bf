'use client'

import { useState } from 'react'
import { MOST_THROUGH_PAGES, type TestView } from '@/contract/contract'
import type { GoalId, VersionId } from '@/core/ids'
import { goalsApart, usualMix, type Mishap, type WorthNoise } from '@/core/simulate'
import { Button } from '../controls/button'
import { OneUnder } from '../controls/choices'
import { NumberField } from '../controls/fields'
import { useMessages } from '../frame/messages'
import { useTell } from '../talk'
import { ManyTimes } from './many-times'
import { MixFields } from './mix-fields'
import { TruthsTable } from './truths-table'

/** In hundredths, by goal and version. */
type Rates = Readonly<Record<GoalId, Readonly<Record<VersionId, number>>>>

const USUAL = 10
/** Of a goal that is counted besides and of which nothing was said. */
const BESIDES = 5

/** What is true of a test and of who comes, as it is set, and the visitors sent by it. */
export function Plan({ test }: { test: TestView }) {
  const message = useMessages()
  const { design } = test
  const [visitors, setVisitors] = useState(20_000)
  const [days, setDays] = useState(21)
  const [seed, setSeed] = useState(1)
  const base = test.traffic.baseRate && test.traffic.baseRate < 0.8 ? Math.round(test.traffic.baseRate * 100) : USUAL
  const others = goalsApart(
    test.goals.filter(({ id }) => [design.primary, ...design.watched, ...design.guards.map(({ goal }) => goal)].includes(id)),
    design.primary,
  )
  const [rates, setRates] = useState<Rates>({})
  const rateOf = (goal: GoalId | null, version: VersionId) =>
    (goal === null ? undefined : rates[goal]?.[version]) ?? (goal === design.primary ? base : BESIDES)
  const setRate = (goal: GoalId, version: VersionId, rate: number) =>
    setRates({ ...rates, [goal]: { ...rates[goal], [version]: rate } })
  const [pages, setPages] = useState(false)
  const [mix, setMix] = useState({ ...usualMix, returning: 0.1, bots: 0.05, studioUsers: 0.01, agree: 0.7 })
  const [worth, setWorth] = useState<{ mean: number; noise: WorthNoise }>({ mean: 40, noise: 'little' })
  const [mishapOf, setMishaps] = useState<Readonly<Record<VersionId, Mishap>>>({})
  const most = pages ? MOST_THROUGH_PAGES : 200_000
  const start = useTell('rehearsal.start')
  const send = () =>
    start.mutate(
      {
        test: test.id,
        plan: {
          ...{ visitors, days, seed, mix, worth, through: pages ? 'pages' : 'counting' },
          rates: design.arms.map(({ version }) => ({
            ...{ version, rate: rateOf(design.primary, version) / 100, mishap: mishapOf[version] ?? 'none' },
            others: others.map(({ id }) => ({ goal: id, rate: rateOf(id, version) / 100 })),
          })),
        },
      },
      { onError: (reason) => void message.error(reason.message, 8) },
    )
  const primaryRates = Object.fromEntries(design.arms.map(({ version }) => [version, rateOf(design.primary, version)]))
  return (
    <>
      <section className="band" aria-label="Who comes">
        <OneUnder
          aria-label="Which way they come"
          value={pages ? 'pages' : 'counting'}
          change={(way) => {
            setPages(way === 'pages')
            setVisitors(way === 'pages' ? Math.min(visitors, 2000) : Math.max(visitors, 20_000))
          }}
          options={[
            { value: 'counting', label: 'Straight to deciding and counting: many, to see what such a test would find' },
            {
              value: 'pages',
              label: 'Through the pages, forms and reports, as visitors get and make them: to see that every version works',
            },
          ]}
        />
        <div className="plan-fields">
          <label>
            <span>Visitors</span>
            <NumberField aria-label="Visitors" value={visitors} min={100} max={most} step={1000} change={setVisitors} />
          </label>
          <label>
            <span>over days</span>
            <NumberField aria-label="Days" value={days} min={1} max={90} change={setDays} />
          </label>
          <label>
            <span>Seed: the same brings the same visitors</span>
            <NumberField aria-label="Seed" value={seed} min={0} max={2_000_000_000} change={setSeed} />
          </label>
        </div>
        <TruthsTable
          {...{ test, others, rateOf, setRate, mishapOf }}
          setMishap={(version, mishap) => setMishaps({ ...mishapOf, [version]: mishap })}
        />
        <MixFields {...{ mix, setMix, pages, worth, setWorth }} currency={test.currency} />
        <Button look="primary" onClick={send} busy={start.isPending}>
          Send the visitors
        </Button>
      </section>
      <ManyTimes {...{ test, visitors, days, seed, mishapOf }} weekends={mix.weekends} rates={primaryRates} />
    </>
  )
}
