'use client'

import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { useState } from 'react'
import { mayAs } from '@/contract/contract'
import { Button } from '../controls/button'
import { Ordered } from '../controls/ordered'
import { ConditionSentence } from '../condition/condition-sentence'
import { useSurroundings } from '../condition/use-surroundings'
import { useMessages } from '../frame/messages'
import { heldOutWords } from '../personalize/measuring'
import { ReachWords } from '../personalize/reach-words'
import { TakeOff } from '../personalize/take-off'
import { talk, useAsk, useTell, type Refused } from '../talk'
import type { NotesProps } from './version-notes'

/** For whom, in which order, and whether it is live. */
export function RuleNotes({ account, desk, version }: NotesProps) {
  const { view, state, editing } = desk
  const message = useMessages()
  const failed = { onError: (reason: Refused) => void message.error(reason.message, 8) }
  const publish = useTell(
    'personalization.publish',
    () => void message.success('Live: visitors see the version that suits them.'),
  )
  const [takingOff, setTakingOff] = useState(false)
  const part = { document: state.document.id, node: version.node }
  const { data: measured } = useAsk('personalization.read', part)
  const order = useTell('version.order')
  const rules = state.versions.filter((one) => one.node === version.node && one.manner === 'rule')
  const live = view.live.find(({ node }) => node === version.node)
  const may = mayAs(account.role, 'publisher')
  const site = useSurroundings(view.surroundings)
  const isCurrent = live?.current === true && state.saving === 'saved'
  return (
    <>
      <h4>For whom</h4>
      <ConditionSentence
        lead="Shown when"
        condition={version.condition}
        site={site}
        disabled={false}
        change={(condition) => editing.changeVersion(version.id, { condition })}
      />
      <h4>In which order</h4>
      <Ordered
        ids={rules.map(({ id }) => id)}
        label="Rules, tried from the top"
        numbered
        change={(versions) => order.mutate({ ...part, versions }, failed)}
        row={(id) => {
          const reach = measured?.rules.find((rule) => rule.version === id)?.reach
          return {
            grip: `‘${rules.find((rule) => rule.id === id)?.name ?? ''}’`,
            beside: reach === undefined ? null : <ReachWords reach={reach} />,
            chosen: id === version.id,
          }
        }}
      />
      {rules.length < 2 ? null : (
        <p className="quiet">The first that fits is shown. Drag to order, or press space on a row and use the arrows.</p>
      )}
      <p className={isCurrent ? 'living-line' : 'quiet'}>
        {live === undefined
          ? 'Not live: nobody sees it yet.'
          : isCurrent
            ? 'Live as it stands here.'
            : 'Live, but changed since.'}
      </p>
      {measured === undefined ? null : (
        <p className="quiet">
          {heldOutWords(measured)}{' '}
          <Link href={`/personalize/${part.document}/${part.node}`} prefetch={false}>
            {measured.rounds.length === 0 ? 'Change this' : 'What it gains'}
          </Link>
        </p>
      )}
      <TestHere desk={desk} version={version} />
      {takingOff ? <TakeOff part={part} close={() => setTakingOff(false)} /> : null}
      <div className="place-tools">
        <Button
          size="small"
          look="primary"
          disabled={!may || isCurrent}
          title={may ? undefined : 'Only a publisher can do this.'}
          busy={publish.isPending}
          onClick={() => void editing.flush().then(() => publish.mutate(part, failed))}
        >
          Publish for visitors
        </Button>
        {live === undefined ? null : (
          <Button size="small" disabled={!may} onClick={() => setTakingOff(true)}>
            Take off the site
          </Button>
        )}
      </div>
    </>
  )
}

/** What a test on the same part does, or the way to one of this version, for those whom the rule fits. */
function TestHere({ desk, version }: Pick<NotesProps, 'desk' | 'version'>) {
  const { view, state, editing } = desk
  const router = useRouter()
  const message = useMessages()
  const [making, setMaking] = useState(false)
  const test = view.tests.find(({ parts }) => parts.some(({ node }) => node === version.node))
  const part = { document: state.document.id, node: version.node }
  const make = async () => {
    setMaking(true)
    try {
      await editing.flush()
      const name = `${version.name} otherwise`.slice(0, 80)
      await talk('version.create', { ...part, manner: 'chance', name, from: version.id })
      const { test: made } = await talk('test.create', { parts: [part] })
      const { design, lock } = await talk('test.open', { test: made })
      await talk('test.save', {
        ...{ test: made, lock },
        design: { ...design, name: `‘${version.name}’, tested`.slice(0, 120), audience: version.condition ?? design.audience },
      })
      router.push(`/tests/${made}`)
    } catch (reason) {
      message.error(reason instanceof Error ? reason.message : String(reason), 8)
      setMaking(false)
    }
  }
  if (test !== undefined)
    return (
      <p className="quiet">
        The rule comes first; what the test{' '}
        <Link href={`/tests/${test.id}`} prefetch={false}>
          {test.name}
        </Link>{' '}
        changes comes on top of it.
      </p>
    )
  return (
    <p>
      <Button size="small" busy={making} onClick={() => void make()}>
        Test this version
      </Button>{' '}
      <span className="quiet">against another one, for those whom the rule fits</span>
    </p>
  )
}
