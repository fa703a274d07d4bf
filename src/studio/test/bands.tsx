'use client'

import { NumberField, TextArea, TextField } from '../controls/fields'
import { Button } from '../controls/button'
import { Check, Choice } from '../controls/choices'
import Link from 'next/link'
import { useState } from 'react'
import { mayAs, type AccountView, type TestView } from '@/contract/contract'
import { isForEverybody, keepings, keepingWords, WHOLE, type Keeping } from '@/core/decide'
import { ADAPT_EVERY, armName, evenWeights, type Adaptive, type Design } from '@/core/experiment'
import { percent } from '@/core/numbers'
import type { VersionId } from '@/core/ids'
import { VersionMark } from '../frame/marks'
import { CampaignChoice } from '../frame/campaign-choice'
import { Tags } from '../notebook/tags'
import { ConditionSentence } from '../condition/condition-sentence'
import { useAround } from '../condition/use-surroundings'
import { useRegions } from '../frame/studio'
import type { Editing } from './test-screen'
import { SplitBar } from './split-bar'
import { AudienceSize } from '../condition/audience-size'
import { useAudience } from '../condition/use-audience'
import { useLiveChange } from './use-live-change'

/** What is asked, before anything is varied. */
export function QuestionBand({ editing, test }: { editing: Editing; test: TestView }) {
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
      <div className="question">
        <span>Tags</span>
        <Tags test={test.id} tags={test.tags} />
      </div>
    </section>
  )
}

/** How many take part, and who sees what. */
/** All visitors of a group as one bar, divided among its tests: those that are live first, then this one, then what is left. */
function GroupBar({ own, others }: { own: number; others: TestView['ofGroup'] }) {
  const live = others.filter(({ isLive }) => isLive)
  const taken = live.reduce((sum, { share }) => sum + share, 0)
  const parts = [
    ...live.map(({ name, share }) => ({ name, share, kind: 'other' })),
    { name: 'this test', share: own, kind: 'own' },
    { name: 'free', share: Math.max(0, WHOLE - taken - own), kind: 'free' },
  ].filter(({ share }) => share > 0)
  const waiting = others.filter(({ isLive }) => !isLive)
  return (
    <figure className="group-bar">
      <ul aria-label="The group’s visitors">
        {parts.map(({ name, share, kind }) => (
          <li key={name} className={kind} style={{ flexGrow: share }}>
            <span>
              {name} {percent(share / WHOLE)}
            </span>
          </li>
        ))}
      </ul>
      {waiting.length === 0 ? null : (
        <figcaption className="quiet">
          {waiting.map(({ name, share }) => `“${name}” wants ${percent(share / WHOLE)}`).join(', ')} when started.
        </figcaption>
      )}
    </figure>
  )
}

export function VisitorsBand({
  account,
  test,
  editing,
  open,
}: {
  account: AccountView
  test: TestView
  editing: Editing
  open: boolean
}) {
  const { design, change } = editing
  return (
    <section className="band" aria-label="Visitors">
      <h2>Visitors</h2>
      <Audience test={test} editing={editing} open={open} />
      <Division
        key={`${test.status} ${JSON.stringify(test.status === 'running' ? design.arms : '')} ${test.status === 'running' ? design.share : ''}`}
        {...{ account, test, editing, open }}
      />
      <Adapting editing={editing} open={open} />
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
      <div className="share">
        <label htmlFor="group">Kept apart from other tests in the group</label>
        <TextField
          id="group"
          list="groups"
          value={design.group}
          placeholder="none: independent of all others"
          maxLength={40}
          disabled={!open}
          onChange={({ target }) => change({ group: target.value })}
        />
        <datalist id="groups">
          {test.groups.map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
        {design.group.trim() === '' ? null : <span className="quiet">its tests divide visitors: nobody is in two</span>}
      </div>
      {design.group.trim() === '' ? null : <GroupBar own={design.share} others={test.ofGroup} />}
      <div className="share">
        <span>A visitor keeps the same version</span>
        <Choice
          aria-label="For how long a version is kept"
          value={design.keeping}
          disabled={!open}
          change={(keeping) => change({ keeping })}
          options={keepings.map((value) => ({ value, label: keepingWords[value] }))}
        />
      </div>
      <p className="quiet">
        {keepingMeans[design.keeping]} Who is left out of all tests stands in the <Link href="/settings">settings</Link>.
      </p>
    </section>
  )
}

const keepingMeans: { readonly [Of in Keeping]: string } = {
  browser: 'Visitors are counted.',
  visit: 'Visits are counted: somebody who comes again is drawn again.',
  view: 'Views are counted: each is drawn anew, and a person sees now this and now that. Views of one person are not independent, so the intervals are narrower than they should be.',
}

/** The share that takes part and the split; while the test runs they are set aside until they are taken live in one step. */
function Division({ account, test, editing, open }: { account: AccountView; test: TestView; editing: Editing; open: boolean }) {
  const { design } = editing
  const [wanted, setWanted] = useState<Partial<Pick<Design, 'arms' | 'share'>>>({})
  const { ask, question } = useLiveChange(test)
  const running = test.status === 'running' && mayAs(account.role, 'publisher')
  const arms = wanted.arms ?? design.arms
  const share = wanted.share ?? design.share
  const put = (part: Partial<Pick<Design, 'arms' | 'share'>>) => (open ? editing.change(part) : setWanted({ ...wanted, ...part }))
  const setWeights = (weights: readonly number[]) =>
    put({ arms: arms.map((arm, index) => ({ ...arm, weight: weights[index] ?? 0 })) })
  const nameOf = (version: VersionId) => armName(design, test.versions, version)
  const total = arms.reduce((sum, { weight }) => sum + weight, 0)
  const may = open || running
  return (
    <>
      <div className="share">
        <span id="share-label">
          {isForEverybody(design.audience) ? 'Share of all visitors who take part' : 'Share of these who take part'}
        </span>
        <input
          type="range"
          aria-labelledby="share-label"
          aria-valuetext={percent(share / WHOLE)}
          value={share / 100}
          min={0}
          max={100}
          disabled={!may}
          onChange={({ target }) => put({ share: Math.round(target.valueAsNumber * 100) })}
        />
        <strong>{percent(share / WHOLE)}</strong>
      </div>
      {arms.length < 2 || total !== WHOLE ? null : (
        <SplitBar
          arms={arms.map(({ version, weight }) => ({ version, weight, name: nameOf(version) }))}
          disabled={!may}
          change={setWeights}
        />
      )}
      <div className="split">
        {arms.map(({ version, weight }, index) => (
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
              disabled={!may}
              unit="%"
              change={(value) => setWeights(arms.map((arm) => (arm.version === version ? Math.round(value * 100) : arm.weight)))}
            />
          </label>
        ))}
        {total === WHOLE ? null : <span className="asks">together {percent(total / WHOLE)}</span>}
        {may ? (
          <Button size="small" onClick={() => setWeights(evenWeights(arms.length))}>
            Even out
          </Button>
        ) : null}
        {open || (wanted.arms === undefined && wanted.share === undefined) ? null : (
          <>
            <Button
              size="small"
              look="primary"
              disabled={total !== WHOLE || share === 0}
              onClick={() => ask({ change: { arms, share }, title: 'Divide visitors like this from now on?' })}
            >
              Take it live…
            </Button>
            <Button size="small" look="quiet" onClick={() => setWanted({})}>
              Leave it as it is
            </Button>
          </>
        )}
      </div>
      {question}
    </>
  )
}

const everyWords: { readonly [Minutes in Adaptive['every']]: string } = {
  60: 'every hour',
  360: 'every six hours',
  1440: 'every day',
}

/** Whether the split follows what visitors do. */
function Adapting({ editing, open }: { editing: Editing; open: boolean }) {
  const { adaptive } = editing.design
  const change = (next: Adaptive | null) => editing.change({ adaptive: next })
  return (
    <div className="share">
      <Check checked={adaptive !== null} disabled={!open} change={(on) => change(on ? { floor: 1000, every: 1440 } : null)}>
        Show more often what does better
      </Check>
      {adaptive === null ? null : (
        <>
          <Choice
            aria-label="How often visitors are divided anew"
            value={adaptive.every}
            disabled={!open}
            change={(every) => change({ ...adaptive, every })}
            options={ADAPT_EVERY.map((value) => ({ value, label: everyWords[value] }))}
          />
          <span className="quiet">but none less often than</span>
          <NumberField
            aria-label="Least part of the split"
            value={adaptive.floor / 100}
            min={1}
            max={50}
            digits={0}
            disabled={!open}
            unit="%"
            change={(value) => change({ ...adaptive, floor: Math.round(value) * 100 })}
          />
        </>
      )}
    </div>
  )
}

/** For whom the test is: a sentence, and beside it how many that was lately. */
function Audience({ test, editing, open }: { test: TestView; editing: Editing; open: boolean }) {
  const { design, change } = editing
  const regions = useRegions()
  const around = useAround()
  const { data: size } = useAudience(design.audience)
  return (
    <div className="audience">
      <ConditionSentence
        lead="Those take part for whom"
        condition={design.audience}
        site={{ pages: test.pages, pageTypes: test.pageTypes, regions, ...around }}
        disabled={!open}
        change={(audience) => change({ audience })}
      />
      <AudienceSize size={size} would="would have taken part" />
      {isForEverybody(design.audience) ? null : (
        <p className="quiet">Who takes part once stays in, whatever they come with later.</p>
      )}
    </div>
  )
}
