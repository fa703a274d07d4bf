'use client'

import Link from 'next/link'
import type { DocumentId } from '@/core/ids'
import { useAsk } from '../talk'
import { Note } from './screen'
import { agoWords } from './wording'

/** Site processes say what they serve every two seconds. */
const EVERY = 5000

/** What of the newest release could not be made: all of it, or of one document. */
export function Unserved({ about }: { about?: DocumentId }) {
  const asked = useAsk('site.serving', {}, { every: EVERY })
  const every = new Map(asked.data?.served.flatMap((one) => one.faults.map((fault) => [fault.id, fault])))
  const faults = [...every.values()].filter(({ id }) => about === undefined || id === about)
  if (faults.length === 0) return null
  return (
    <Note title="Not what visitors see" tone="blocks">
      <ul>
        {faults.map(({ id, title, words }) => (
          <li key={id}>
            {id === about ? `“${title}”` : <Link href={`/site/${id}`}>{title}</Link>} could not be made: {words}. The site goes on
            showing what was there before; change it and publish again.
          </li>
        ))}
      </ul>
    </Note>
  )
}

/** The newest release, and which site process serves an older one. */
export function Serving() {
  const asked = useAsk('site.serving', {}, { every: EVERY })
  if (asked.data === undefined || asked.data.release === null) return null
  const { release, served } = asked.data
  const behind = served.filter((one) => one.release < release.number)
  return (
    <Note title={`Release ${release.number} of the site`} tone={behind.length > 0 || served.length === 0 ? 'asks' : undefined}>
      {release.by} {release.reason}, {agoWords(release.at)}. {servedWords(served, behind)}
    </Note>
  )
}

type Served = readonly { readonly name: string; readonly release: number }[]

function servedWords(served: Served, behind: Served): string {
  if (served.length === 0) return 'No site process says what it serves.'
  if (behind.length > 0) return behind.map(({ name, release }) => `${name} still serves release ${release}.`).join(' ')
  return served.length === 1 ? 'The site serves it.' : `All ${served.length} site processes serve it.`
}
