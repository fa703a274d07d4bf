'use client'

import { Button } from '../controls/button'
import Link from 'next/link'
import { useState } from 'react'
import type { PlaceLine } from '@/contract/contract'
import { Note } from './screen'

/** The documents that show this one, or link to it. */
export function WhereUsed({ title, places }: { title: string; places: readonly PlaceLine[] }) {
  const [all, setAll] = useState(false)
  if (places.length === 0) return null
  const shown = all ? places : places.slice(0, 6)
  return (
    <Note title={title}>
      <ul className="where-used">
        {shown.map(({ id, title: name, path }) => (
          <li key={id}>
            <Link href={`/site/${id}`}>{name}</Link> <span className="quiet">{path}</span>
          </li>
        ))}
      </ul>
      {places.length > shown.length ? (
        <Button size="small" look="quiet" onClick={() => setAll(true)}>
          and {places.length - shown.length} more
        </Button>
      ) : null}
    </Note>
  )
}
