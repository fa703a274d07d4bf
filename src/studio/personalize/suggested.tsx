'use client'

import Link from 'next/link'
import { useRouter } from 'next/navigation'
import type { SuggestionView } from '@/contract/contract'
import { conditionWords, type Surroundings } from '@/core/decide'
import { percent } from '@/core/numbers'
import { Button } from '../controls/button'
import { useMessages } from '../frame/messages'
import { count } from '../frame/wording'
import { useAsk, useTell, type Refused } from '../talk'

/** What past tests say may suit some visitors: each is a draft to be tried with a holdout, if somebody wants to. */
export function Suggested({ site }: { site: Surroundings }) {
  const { data } = useAsk('personalization.suggested', {})
  if (data === undefined || data.suggestions.length === 0) return null
  return (
    <section className="ruled" aria-labelledby="suggested-title">
      <h2 id="suggested-title">Worth trying</h2>
      {data.suggestions.map((one) => (
        <Suggestion key={`${one.version} ${JSON.stringify(one.condition)}`} of={one} site={site} />
      ))}
      <p className="quiet">
        Found among many numbers of tests that are over, so each looks better than it is. Shown by rule with a holdout, it proves
        itself or it does not.
      </p>
    </section>
  )
}

function Suggestion({ of, site }: { of: SuggestionView; site: Surroundings }) {
  const router = useRouter()
  const message = useMessages()
  const failed = { onError: (reason: Refused) => void message.error(reason.message, 8) }
  const { document, node, version, versionName, condition, here, elsewhere } = of
  const save = useTell('version.save', () => router.push(`/site/${document}?part=${node}`))
  const create = useTell('version.create', ({ id, lock }) =>
    save.mutate({ id, lock, condition: { kind: 'all', of: [condition] } }, failed),
  )
  return (
    <article className="ruled-part suggestion">
      <div>
        <h3>
          Try showing ‘{versionName}’ to whoever {conditionWords(condition, site)}
        </h3>
        <p>
          In{' '}
          <Link href={`/tests/${of.test}`} prefetch={false}>
            {of.name}
          </Link>
          , {percent(here.version)} of them reached “{of.goal}” with it, and {percent(here.original)} with the original. Of all
          others it was {percent(elsewhere.version)} and {percent(elsewhere.original)}.
        </p>
        <p className="quiet">
          {of.title} · {count(of.visitors)} visitors
        </p>
      </div>
      <Button
        busy={create.isPending || save.isPending}
        onClick={() => create.mutate({ document, node, manner: 'rule', name: versionName, from: version }, failed)}
      >
        Make a draft of it
      </Button>
    </article>
  )
}
