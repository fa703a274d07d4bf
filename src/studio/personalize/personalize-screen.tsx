'use client'

import Link from 'next/link'
import type { AccountView, GainView, RuledPart, SegmentView } from '@/contract/contract'
import { conditionWords, type Surroundings } from '@/core/decide'
import { roughPercent } from '@/core/numbers'
import { Button } from '../controls/button'
import { DaysLine } from '../frame/days-line'
import { useMessages } from '../frame/messages'
import { Note, Screen, Waiting } from '../frame/screen'
import { useAddress } from '../frame/use-address'
import { count, plural } from '../frame/wording'
import { download } from '../media/upload'
import { talk, useAsk, type Refused } from '../talk'
import { ReachWords } from './reach-words'
import { SegmentEditor } from './segment-editor'
import { Suggested } from './suggested'
import { useSiteOf } from './use-site'

const NEW = 'new'

/** Who is shown what by rule: kinds of visitors by name, and every part that has rules. */
export function PersonalizeScreen({ account }: { account: AccountView }) {
  const [by, narrow] = useAddress(['segment'])
  const asked = useAsk('segment.list', {}, { every: 20_000 })
  const parts = useAsk('segment.parts', {}, { every: 20_000 })
  const site = useSiteOf(asked.data)
  const segments = asked.data?.segments ?? []
  const open = segments.find(({ id }) => id === by.segment)
  const close = () => narrow({ segment: '' })
  const message = useMessages()
  const failed = (reason: Refused) => void message.error(reason.message, 8)
  return (
    <Screen
      account={account}
      sheet={
        <>
          <header className="sheet-head">
            <h1>Personalize</h1>
            <Button look={segments.length === 0 ? 'primary' : 'plain'} onClick={() => narrow({ segment: NEW })}>
              New segment
            </Button>
            {segments.length === 0 ? null : (
              <Button onClick={() => void talk('format.segments', {}).then(download, failed)}>As a file</Button>
            )}
          </header>
          <section className="segments" aria-labelledby="segments-title">
            <h2 id="segments-title">Segments</h2>
            {asked.data === undefined ? <Waiting error={asked.error} again={() => void asked.refetch()} /> : null}
            {/* With the list and not before: it would be pushed away from under whoever has begun to press something on it. */}
            {asked.data !== undefined && by.segment === NEW ? (
              <SegmentEditor account={account} segment={null} site={site} done={close} />
            ) : null}
            {asked.data !== undefined && segments.length === 0 && by.segment !== NEW ? (
              <p className="empty">
                A segment is a kind of visitor with a name, such as “parents on a phone”. It is said once, and rules and tests
                share it.
              </p>
            ) : null}
            {segments.map((segment) =>
              segment.id === open?.id ? (
                <SegmentEditor key={segment.id} account={account} segment={segment} site={site} done={close} />
              ) : (
                <SegmentRow key={segment.id} segment={segment} site={site} />
              ),
            )}
          </section>
          <section className="ruled" aria-labelledby="ruled-title">
            <h2 id="ruled-title">Parts with rules</h2>
            {parts.data === undefined ? <Waiting error={parts.error} again={() => void parts.refetch()} /> : null}
            {parts.data?.parts.length === 0 ? (
              <p className="empty">
                No part is shown by rule yet. Open a page, select a part, and make a version of it for some visitors on the shelf.
              </p>
            ) : null}
            {parts.data?.parts.map((part) => (
              <Ruled key={`${part.document}.${part.node}`} part={part} site={site} />
            ))}
          </section>
          <Suggested site={site} />
        </>
      }
      margin={
        <>
          <Note title="How rules are read">
            From the top: the first rule that fits a visitor wins, and whoever none fits is shown the original.
          </Note>
          <Note title="Where the numbers come from">
            A sample of those who came in the last 28 days, as they were on their last visit. Of some things, such as days that
            lie ahead, no history is kept: then no number can be said.
          </Note>
        </>
      }
    />
  )
}

function SegmentRow({ segment, site }: { segment: SegmentView; site: Surroundings }) {
  const { id, name, condition, size, days } = segment
  return (
    <article className="segment-row">
      <div>
        <h3>
          <Link href={`/personalize?segment=${id}`} prefetch={false}>
            {name}
          </Link>
        </h3>
        <p>{capital(conditionWords(condition, site))}.</p>
        <p className="quiet">{usedWords(segment)}</p>
      </div>
      <p className="segment-size">
        {days === null || days.every((many) => many === 0) ? null : <DaysLine days={days} />}
        {size.kind === 'share' ? (
          <>
            <strong>{size.share === 0 ? 'nobody' : `about ${roughPercent(size.share)}`}</strong>
            <span className="quiet">{size.share === 0 ? 'lately' : 'of visitors'}</span>
          </>
        ) : (
          <span className="quiet">{size.kind === 'everybody' ? 'everybody' : 'number not known'}</span>
        )}
      </p>
    </article>
  )
}

function usedWords({ rules, tests, live }: SegmentView): string {
  const named = [
    ...(rules.length > 0 ? [plural(rules.length, 'rule', 'rules')] : []),
    ...(tests.length > 0 ? [plural(tests.length, 'test', 'tests')] : []),
  ]
  if (named.length === 0) return live.length === 0 ? 'Not used yet' : 'Used by rules that are live'
  return `Used by ${named.join(' and ')}${live.length > 0 ? `, live on ${plural(live.length, 'page', 'pages')}` : ''}`
}

function Ruled({ part, site }: { part: RuledPart; site: Surroundings }) {
  return (
    <article className="ruled-part">
      <h3>
        <Link href={`/site/${part.document}?part=${part.node}`} prefetch={false}>
          {part.part}
        </Link>
        {part.live ? <span className="living">live</span> : null}
      </h3>
      <p className="quiet">
        {part.title}
        {part.live ? (part.changed ? ' · changed since it went live' : '') : ' · not live yet'}
      </p>
      <ol>
        {part.rules.map(({ version, name, condition, reach, gain }) => (
          <li key={version}>
            <span>
              ‘{name}’ for: {conditionWords(condition, site)}
            </span>
            <ReachWords reach={reach} />
            {gain === null ? null : <Gain gain={gain} />}
          </li>
        ))}
        <li className="otherwise">
          <span>Everybody else: the original</span>
          <span className="quiet">{restWords(part)}</span>
        </li>
      </ol>
      <p className="gain-line">
        {part.together === null ? null : <GainSentence gain={part.together} />}
        <Link href={`/personalize/${part.document}/${part.node}`} prefetch={false}>
          {part.live ? (part.holdout === 0 ? 'Measure what it gains' : 'What it gains') : 'How its gain will be measured'}
        </Link>
      </p>
    </article>
  )
}

function Gain({ gain }: { gain: GainView }) {
  return (
    <p className="gain">
      <GainSentence gain={gain} />
    </p>
  )
}

function GainSentence({ gain }: { gain: GainView }) {
  return <span className={gain.reading === 'worse' ? 'asks' : undefined}>{gain.sentence} </span>
}

/** What is left for the original, where every rule can say whom it takes. */
function restWords({ rules }: RuledPart): string {
  let shown = 0
  let of = 0
  for (const { reach } of rules) {
    if (reach.kind === 'unknown') return ''
    if (reach.kind === 'never') continue
    shown += reach.shown
    of = reach.of
  }
  return of === 0 ? '' : `about ${roughPercent(1 - shown / of)} of ${count(of)} visitors`
}

const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1)
