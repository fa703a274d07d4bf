'use client'

import { NumberField, TextArea } from '../controls/fields'
import { Button } from '../controls/button'
import type { TestView } from '@/contract/contract'
import { WHOLE } from '@/core/decide'
import { armName, evenWeights } from '@/core/experiment'
import { percent } from '@/core/numbers'
import type { VersionId } from '@/core/ids'
import { VersionMark } from '../frame/marks'
import { CampaignChoice } from '../frame/campaign-choice'
import type { Editing } from './test-screen'

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
  const total = design.arms.reduce((sum, { weight }) => sum + weight, 0)
  return (
    <section className="band" aria-label="Visitors">
      <h2>Visitors</h2>
      <div className="share">
        <span id="share-label">Share of all visitors who take part</span>
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
        A visitor keeps the same version on this browser until the test ends. Bots, prefetches and people signed in to the studio
        are left out.
      </p>
    </section>
  )
}
