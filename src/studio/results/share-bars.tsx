'use client'

import type { BehaviourView } from '@/contract/contract'
import { count, roughPercent } from '@/core/numbers'
import { shortened } from '@/core/text'
import { BarRows } from './bar-rows'
import { ChartFrame, type ChartTable } from './chart-frame'

/** Bars in one picture; all others stand in its table. */
const MOST_BARS = 18
const FEWEST_LINES = 3
/** The picture has to say by itself which version is which, where it is taken away. */
const [ROOM, LONGEST_NAME] = [320, 26]

interface Line {
  readonly id: string
  readonly words: string
  /** Of each version, in the order of versions. */
  readonly visitors: readonly number[]
}

interface Props {
  readonly title: string
  /** What stands in each line: “page”. */
  readonly first: string
  readonly lines: readonly Line[]
  readonly versions: BehaviourView['versions']
  /** What each version's visitors are a part of. */
  readonly wholes: readonly number[]
}

const shareWords = (share: number | null, many: number) =>
  many === 0 ? 'nobody' : share === null ? count(many) : `${roughPercent(share)}, ${count(many)}`

/** How many of each version did each of several things, those of one thing beneath each other. */
export function ShareBars({ title, first, lines, versions, wholes }: Props) {
  if (lines.length === 0) return null
  const told = lines.flatMap(({ id, words, visitors }) =>
    versions.map(({ name }, at) => {
      const [many, whole] = [visitors[at] ?? 0, wholes[at] ?? 0]
      // Whoever came before anything was counted of it can be more than all.
      return { id, words, name, at, many, share: whole === 0 ? null : Math.min(1, many / whole) }
    }),
  )
  const table: ChartTable = {
    columns: [
      { name: first, as: 'words' },
      { name: 'version', as: 'words' },
      { name: 'visitors', as: 'count' },
      { name: 'share', as: 'share' },
    ],
    rows: told.map(({ words, name, many, share }) => [words, name, many, share]),
  }
  const shown = Math.max(FEWEST_LINES, Math.floor(MOST_BARS / Math.max(1, versions.length)))
  const drawn = told.slice(0, shown * versions.length)
  return (
    <ChartFrame title={title} table={table}>
      <BarRows
        rows={drawn.map(({ id, words, name, at, many, share }) => ({
          ...{ id: `${id} ${at}`, name: at === 0 ? words : '', version: at },
          bars: [{ value: share ?? 0, whole: null, words: `${shareWords(share, many)}: ${shortened(name, LONGEST_NAME)}` }],
        }))}
        room={ROOM}
        above
        words={drawn.map(({ words, name, many, share }) => `${words}, ${name}: ${shareWords(share, many)}.`).join(' ')}
      />
      {lines.length > shown ? (
        <p className="quiet">
          The {shown} most frequent of {lines.length}; the table has all.
        </p>
      ) : null}
    </ChartFrame>
  )
}
