'use client'

import Link from 'next/link'
import type { TakenOffLine } from '@/contract/contract'
import { conditionWords, type Surroundings } from '@/core/decide'
import { readingWords } from '@/core/experiment'
import { percent } from '@/core/numbers'
import { Paging, usePage } from '../frame/paging'
import { Note, Waiting } from '../frame/screen'
import { count, dayWords } from '../frame/wording'
import { useSite } from '../personalize/use-site'
import { useAsk, useTell } from '../talk'
import { LessonField } from './lesson-field'

/** What was shown by rule until it was taken off, and what it gained. */
export function RuleEntries({ search }: { search: string }) {
  const [page, turn] = usePage(search)
  const asked = useAsk('personalization.ended', { search, page }, { every: 10_000 })
  const site = useSite()
  const lines = asked.data?.lines ?? []
  return (
    <>
      {asked.data === undefined ? <Waiting error={asked.error} again={() => void asked.refetch()} /> : null}
      {asked.data !== undefined && lines.length === 0 ? (
        <p className="empty">
          Nothing is written here yet. Rules whose gain was measured leave an entry when they are taken off the site.
        </p>
      ) : null}
      {lines.map((line) => (
        <RuleEntry key={line.id} line={line} site={site} />
      ))}
      <Paging page={page} total={asked.data?.total ?? 0} turn={turn} />
    </>
  )
}

export function AboutRules() {
  return (
    <Note title="What was shown by rule">
      An entry is made when rules are taken off the site. What runs now is under{' '}
      <Link href="/personalize" prefetch={false}>
        Personalize
      </Link>
      .
    </Note>
  )
}

function RuleEntry({ line, site }: { line: TakenOffLine; site: Surroundings }) {
  const write = useTell('personalization.learned')
  const { id, name, document, node, page, goal, by, at, since, together, rules, lesson } = line
  return (
    <article className="entry">
      <header>
        <h2>
          <Link href={`/personalize/${document}/${node}`} prefetch={false}>
            {name}
          </Link>
        </h2>
        <p className="quiet">
          {page} · {dayWords(since)} to {dayWords(at)} · taken off by {by} · by “{goal}”
        </p>
      </header>
      {together === null ? null : <p className="sentence small">All rules together: {together.sentence}</p>}
      <dl className="entry-words">
        {rules.map((rule) => (
          <div key={rule.name + rule.sentence}>
            <dt>‘{rule.name}’</dt>
            <dd>
              for: {conditionWords(rule.condition, site)}. {rule.sentence}{' '}
              <span className="quiet">
                {rule.arms
                  .map((arm) => `${arm.name} ${arm.rate === null ? '–' : percent(arm.rate)} of ${count(arm.exposed)}`)
                  .join(', ')}
                . Reading: {readingWords[rule.reading]}.
              </span>
            </dd>
          </div>
        ))}
      </dl>
      <LessonField lesson={lesson} busy={write.isPending} write={(words) => write.mutateAsync({ id, lesson: words })} />
    </article>
  )
}
