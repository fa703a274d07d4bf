'use client'

import Link from 'next/link'
import { useState } from 'react'
import type { GoalLine } from '@/contract/contract'
import { DrawnMiniature } from '../frame/drawn-miniature'
import { Note } from '../frame/screen'
import { plural } from '../frame/wording'

/** Where a goal is wired, live and small; of several places one at a time. */
export function WiredPlace({ line }: { line: GoalLine }) {
  const [at, setAt] = useState(0)
  const place = line.places[Math.min(at, line.places.length - 1)]
  if (place === undefined)
    return (
      <Note title="Where">
        {line.lacks === '' ? 'It is not wired to a place: it is reported, or happens on any page.' : line.lacks}
      </Note>
    )
  return (
    <Note title={line.placesInAll === 1 ? 'Where' : `Where: ${plural(line.placesInAll, 'place', 'places')}`}>
      <div className="miniature wired">
        {place.miniature === null ? null : <DrawnMiniature {...place.miniature} label={place.title} />}
      </div>
      <ul className="where-used">
        {line.places.map(({ document, node, title, path }, index) => (
          <li key={`${document} ${node ?? ''}`}>
            <button type="button" className="plain" aria-pressed={index === at} onClick={() => setAt(index)}>
              {title}
            </button>{' '}
            <Link href={`/site/${document}${node === null ? '' : `?part=${node}`}`} className="quiet">
              {path || 'open'}
            </Link>
          </li>
        ))}
        {line.placesInAll > line.places.length ? (
          <li className="quiet">and {line.placesInAll - line.places.length} more</li>
        ) : null}
      </ul>
    </Note>
  )
}
