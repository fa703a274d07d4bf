'use client'

import Link from 'next/link'
import type { NextPlace } from '@/contract/contract'
import { percent, signed } from '@/core/numbers'
import type { DocumentId } from '@/core/ids'
import { MadeUp } from '../frame/made-up'
import { Note } from '../frame/screen'
import { count, moneyWords, plural, shareWords } from '../frame/wording'
import { useAsk } from '../talk'

/** Pages and steps of funnels by what is lost there, each with what a test could find. */
export function WhereNext() {
  const asked = useAsk('site.next', {}, { every: 60_000 })
  if (asked.data === undefined || asked.data.places.length === 0) return null
  const { places, currency } = asked.data
  return (
    <section className="test-group">
      <h2>
        where to test next <MadeUp touched={({ any }) => any} />
      </h2>
      {places.map((place) => (
        <article key={`${place.kind} ${place.id} ${place.name}`} className="next-row">
          <div>
            <h3>
              <Link href={place.kind === 'page' ? `/site/${place.id}` : `/goals/${place.id}`}>
                {place.kind === 'page' ? place.name : `${place.name} → ${place.next}`}
              </Link>
              <span className="address">{place.kind === 'page' ? place.path : `in “${place.path}”`}</span>
            </h3>
            <p>{placeWords(place, currency)}</p>
          </div>
          <Share share={place.share / Math.max(...places.map(({ share }) => share))} words={percent(place.share)} />
        </article>
      ))}
      <p className="quiet">
        By the last 28 days: how many came × the share of them that was lost × what one of them brings on average, beside all that
        came in. Bars compare the places with each other.
      </p>
    </section>
  )
}

/** The same of one page, for the margin. */
export function NextHere({ page }: { page: DocumentId }) {
  const asked = useAsk('site.next', { document: page })
  const place = asked.data?.places[0]
  if (place === undefined) return null
  return <Note title="What a test here could find">{placeWords(place, asked.data?.currency ?? 'EUR')}</Note>
}

function Share({ share, words }: { share: number; words: string }) {
  return (
    <div className="next-share">
      <i style={{ width: `${Math.max(2, share * 100)}%` }} aria-hidden="true" />
      <span>{words} of what came in</span>
    </div>
  )
}

/** How many were lost, what they would have brought had they been like the others, and what a test could find. */
function placeWords(place: NextPlace, currency: string): string {
  const { kind, came, lost, next, atStake, seen, brings } = place
  const share = shareWords(lost, came)
  const gone =
    kind === 'page'
      ? `${count(lost)} of ${plural(came, 'visit', 'visits')} (${share}) ended here`
      : `${count(lost)} of ${plural(came, 'visitor', 'visitors')} (${share}) did not get as far as “${next}”`
  const found =
    seen === null || brings === null
      ? 'A test of one variant would find nothing in four weeks.'
      : `In four weeks a test of one variant finds a change of ${signed(seen)} or more of those who go on, worth ${worthWords(place, brings, currency)}.`
  return `${gone}: about ${worthWords(place, atStake, currency)}, had they brought what all who come here bring on average. ${found}`
}

function worthWords({ in: unit }: NextPlace, worth: number, currency: string): string {
  return unit === 'money'
    ? moneyWords(Math.round(worth), currency).replace(/\.00$/, '')
    : plural(Math.round(worth), 'point', 'points')
}
