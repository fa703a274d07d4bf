'use client'

import Link from 'next/link'
import { useState } from 'react'
import { mayAs, type AccountView, type SegmentView } from '@/contract/contract'
import { EVERYBODY, isForEverybody, type Surroundings } from '@/core/decide'
import { roughPercent } from '@/core/numbers'
import { isSameData } from '@/core/same-data'
import { ConditionSentence } from '../condition/condition-sentence'
import { AudienceSize } from '../condition/audience-size'
import { useAudience } from '../condition/use-audience'
import { Button } from '../controls/button'
import { TextField } from '../controls/fields'
import { useMessages } from '../frame/messages'
import { plural } from '../frame/wording'
import { useTell } from '../talk'

interface Props {
  readonly account: AccountView
  /** `null` for one that is being made. */
  readonly segment: SegmentView | null
  readonly site: Surroundings
  readonly done: () => void
}

/** A segment while it is changed: nothing of it counts before it is saved, as rules that are live may name it. */
export function SegmentEditor({ account, segment, site, done }: Props) {
  const [name, setName] = useState(segment?.name ?? '')
  const [condition, setCondition] = useState(segment?.condition ?? EVERYBODY)
  // As it was opened: what somebody else saves meanwhile is not written over.
  const [lock] = useState(segment?.lock ?? 0)
  const { success } = useMessages()
  const { data: size } = useAudience(condition)
  const create = useTell('segment.create', done)
  const save = useTell('segment.save', ({ release }) => {
    if (release !== null) success('The segment is changed, and the rules that name it are live with it.')
    done()
  })
  const remove = useTell('segment.remove', done)
  const isOther = segment === null || !isSameData(segment.condition, condition)
  const isLive = (segment?.live.length ?? 0) > 0
  const mayNot = isLive && isOther && !mayAs(account.role, 'publisher')
  const missing =
    name.trim() === '' ? 'Give the segment a name.' : isForEverybody(condition) ? 'Add a condition: this is everybody.' : ''
  const fault = create.error?.message ?? save.error?.message ?? remove.error?.message ?? ''
  const keep = () => {
    if (missing !== '' || mayNot) return
    if (segment === null) create.mutate({ name, condition })
    else save.mutate({ id: segment.id, lock, name, condition })
  }
  return (
    <form
      className="segment-editor"
      aria-label={segment === null ? 'New segment' : `Segment ${segment.name}`}
      onSubmit={(event) => {
        event.preventDefault()
        keep()
      }}
      onKeyDown={(event) => event.key === 'Escape' && done()}
    >
      <TextField
        size="large"
        aria-label="Name of the segment"
        placeholder="Name of the segment"
        value={name}
        maxLength={80}
        autoFocus={segment === null}
        onChange={({ target }) => setName(target.value)}
      />
      <ConditionSentence
        lead="It fits visitors for whom"
        condition={condition}
        site={{ ...site, segments: [] }}
        disabled={false}
        change={setCondition}
      />
      <AudienceSize size={size} would="are in it" />
      {segment === null ? null : <Touched segment={segment} isOther={isOther} />}
      {mayNot ? <p className="asks">Rules that are live name it: only a publisher can save this change.</p> : null}
      {fault === '' ? null : (
        <p role="alert" className="fault">
          {fault}
        </p>
      )}
      <p className="segment-doings">
        <Button
          look="primary"
          submits
          disabled={missing !== '' || mayNot}
          title={missing === '' ? undefined : missing}
          busy={create.isPending || save.isPending}
        >
          {segment === null ? 'Save segment' : isLive && isOther ? 'Save, and change it live' : 'Save'}
        </Button>
        <Button onClick={done}>Close without saving</Button>
        {segment === null ? null : (
          <Button look="quiet" danger busy={remove.isPending} onClick={() => remove.mutate({ id: segment.id })}>
            Remove segment
          </Button>
        )}
        {missing === '' ? null : <span className="quiet">{missing}</span>}
      </p>
    </form>
  )
}

/** What names it, what a change of it touches, and what it has in common with others. */
function Touched({ segment, isOther }: { segment: SegmentView; isOther: boolean }) {
  const { rules, tests, live, overlaps } = segment
  const running = tests.filter(({ status }) => status === 'running' || status === 'paused')
  return (
    <>
      {isOther && (live.length > 0 || running.length > 0) ? (
        <p className="asks" role="status">
          {live.length === 0
            ? ''
            : `Saved, this changes at once who is shown what on ${live.map(({ title }) => `“${title}”`).join(', ')}. `}
          {running.length === 0
            ? ''
            : `${plural(running.length, 'test that runs goes', 'tests that run go')} on with the segment as it was, until the next round.`}
        </p>
      ) : null}
      {rules.length + tests.length === 0 ? null : (
        <p>
          Used by{' '}
          {[
            ...rules.map((rule) => ({
              key: rule.version,
              href: `/site/${rule.document}?part=${rule.node}`,
              words: `‘${rule.name}’ on ${rule.title}`,
            })),
            ...tests.map((test) => ({ key: test.id, href: `/tests/${test.id}`, words: test.name })),
          ].map(({ key, href, words }, at) => (
            <span key={key}>
              {at === 0 ? '' : ', '}
              <Link href={href} prefetch={false}>
                {words}
              </Link>
            </span>
          ))}
          .
        </p>
      )}
      {overlaps.length === 0 ? null : (
        <p className="quiet">
          Of those in it,{' '}
          {overlaps
            .slice(0, 4)
            .map(({ name, both, of }) => `${roughPercent(both / of)} are in “${name}” as well`)
            .join(', ')}
          .
        </p>
      )}
    </>
  )
}
