'use client'

import { NumberField, TextArea } from '../controls/fields'
import { Button } from '../controls/button'
import Link from 'next/link'
import type { Output, TestView } from '@/contract/contract'
import { isForEverybody, WHOLE } from '@/core/decide'
import { armName, evenWeights } from '@/core/experiment'
import { count, percent, roughPercent } from '@/core/numbers'
import type { VersionId } from '@/core/ids'
import { VersionMark } from '../frame/marks'
import { CampaignChoice } from '../frame/campaign-choice'
import { ConditionSentence } from '../condition/condition-sentence'
import { useRegions } from '../frame/studio'
import type { Editing } from './test-screen'
import { useAudience } from './use-audience'

/** What is asked, before anything is varied. */
export function QuestionBand({ editing }: { editing: Editing }) {
  const { design, change } = editing
  const line = (key: 'problem' | 'change' | 'expected', label: string, placeholder: string) => (
    <label className="question">
      <span>{label}</span>
      <TextArea
        id={`question-${key}`}
        value={design[key]}
        placeholder={placeholder}
        rows={1}
        maxLength={2000}
        onChange={({ target }) => change({ [key]: target.value })}
      />
    </label>
  )
  return (
    <section className="band" aria-label="Question">
      <h2>Question</h2>
      {line('problem', 'The problem', 'What goes wrong on this page, and how do you know?')}
      {line('change', 'The change', 'What would put it right?')}
      {line('expected', 'Expected', 'What should then be different?')}
      <div className="question">
        <span>Campaign</span>
        <CampaignChoice value={design.campaign} change={(campaign) => change({ campaign })} />
      </div>
    </section>
  )
}

/** How many take part, and who sees what. */
export function VisitorsBand({ test, editing, open }: { test: TestView; editing: Editing; open: boolean }) {
  const { design, change } = editing
  const nameOf = (version: VersionId) => armName(design, test.versions, version)
  const setWeight = (version: string, weight: number) =>
    change({ arms: design.arms.map((arm) => (arm.version === version ? { ...arm, weight } : arm)) })
  const even = () => {
    const weights = evenWeights(design.arms.length)
    change({ arms: design.arms.map((arm, index) => ({ ...arm, weight: weights[index] ?? 0 })) })
  }
  const everybody = isForEverybody(design.audience)
  const total = design.arms.reduce((sum, { weight }) => sum + weight, 0)
  return (
    <section className="band" aria-label="Visitors">
      <h2>Visitors</h2>
      <Audience test={test} editing={editing} open={open} />
      <div className="share">
        <span id="share-label">{everybody ? 'Share of all visitors who take part' : 'Share of these who take part'}</span>
        <input
          type="range"
          aria-labelledby="share-label"
          aria-valuetext={percent(design.share / WHOLE)}
          value={design.share / 100}
          min={0}
          max={100}
          disabled={!open}
          onChange={({ target }) => change({ share: Math.round(target.valueAsNumber * 100) })}
        />
        <strong>{percent(design.share / WHOLE)}</strong>
      </div>
      <div className="split">
        {design.arms.map(({ version, weight }, index) => (
          <label key={version}>
            <span>
              <VersionMark index={index} /> {nameOf(version)}
            </span>
            <NumberField
              aria-label={`Part of the split for ${nameOf(version)}`}
              value={weight / 100}
              min={0}
              max={100}
              step={1}
              disabled={!open}
              unit="%"
              change={(value) => setWeight(version, Math.round(value * 100))}
            />
          </label>
        ))}
        <span className={total === WHOLE ? 'quiet' : 'asks'}>together {percent(total / WHOLE)}</span>
        {open ? (
          <Button size="small" onClick={even}>
            Even out
          </Button>
        ) : null}
      </div>
      <div className="share">
        <label htmlFor="smallest">Smallest difference worth having</label>
        <NumberField
          id="smallest"
          value={Math.round(design.smallestEffect * 1000) / 10}
          min={0.1}
          max={200}
          step={1}
          disabled={!open}
          unit="%"
          change={(value) => change({ smallestEffect: Math.max(0.001, value / 100) })}
        />
        <span className="quiet">relative to the original</span>
      </div>
      <p className="quiet">
        A visitor keeps the same version on this browser until the test ends. Who is left out of all tests stands in the{' '}
        <Link href="/settings">settings</Link>.
      </p>
    </section>
  )
}

/** For whom the test is: a sentence, and beside it how many that was lately. */
function Audience({ test, editing, open }: { test: TestView; editing: Editing; open: boolean }) {
  const { design, change } = editing
  const regions = useRegions()
  const { data: size } = useAudience(design.audience)
  return (
    <div className="audience">
      <ConditionSentence
        lead="Those take part for whom"
        condition={design.audience}
        site={{ pages: test.pages, pageTypes: test.pageTypes, regions }}
        disabled={!open}
        change={(audience) => change({ audience })}
      />
      <p className="quiet" aria-live="polite">
        {size === undefined ? '' : sizeWords(size)}
        {isForEverybody(design.audience) ? '' : ' Who takes part once stays in, whatever they come with later.'}
      </p>
    </div>
  )
}

function sizeWords(size: Output<'test.audience'>): string {
  switch (size.kind) {
    case 'everybody':
      return ''
    case 'unknown':
      return 'How many that is cannot be said before it runs: of something it asks for, no history is kept.'
    case 'share':
      return size.share === 0
        ? `Of ${count(size.of)} visitors of the last 28 days, none would have taken part.`
        : `Of the visitors of the last 28 days about ${roughPercent(size.share)} would have taken part (${roughPercent(size.interval[0])} to ${roughPercent(size.interval[1])}).`
    default:
      return size satisfies never
  }
}
