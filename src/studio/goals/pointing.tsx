'use client'

import { SheetOver } from '../controls/sheet-over'
import { FindChoice } from '../controls/find-choice'
import { OneUnder } from '../controls/choices'
import { TextField } from '../controls/fields'
import { Button } from '../controls/button'
import { useMemo, useState } from 'react'
import type { GoalSuggestion } from '@/contract/contract'
import { countable } from '@/components/goal-suggestions'
import { componentTypes } from '@/components/types'
import type { Wiring } from '@/core/goals'
import type { DocumentId, NodeId } from '@/core/ids'
import { useMessages } from '../frame/messages'
import { PageFrame } from '../desk/page-frame'
import { useAsk } from '../talk'

export interface PointablePage {
  readonly id: DocumentId
  readonly title: string
  readonly path: string
}

/**
 * Something on a page is pointed at, and the application says what could count there: that it is pressed, accepted,
 * read, or that what it leads to is shown. What it found by itself on these pages stands beside it.
 */
export function Pointing({
  pages,
  first,
  around,
  going,
  choose,
  close,
}: {
  pages: readonly PointablePage[]
  first: DocumentId
  /** Documents in which to look for what could count. */
  around: readonly DocumentId[]
  going: boolean
  choose: (name: string, wiring: Wiring) => void
  close: () => void
}) {
  const message = useMessages()
  const [pageId, setPageId] = useState(first)
  const [node, setNode] = useState<NodeId | null>(null)
  const [picked, setPicked] = useState(0)
  const [name, setName] = useState('')
  const asked = useAsk('document.open', { document: pageId })
  const suggested = useAsk('goal.suggest', { documents: [...new Set([...around, pageId])].slice(0, 60) })
  const page = asked.data
  const titles = useMemo(() => new Map<string, string>(pages.map(({ id, title }) => [id, title])), [pages])
  const home =
    page === undefined || node === null
      ? undefined
      : [page.document, ...page.surroundings].find(({ nodes }) => nodes[node] !== undefined)
  const options = home === undefined || node === null ? [] : countable(home, node, titles)
  const shown: GoalSuggestion = {
    name: `Saw “${titles.get(pageId) ?? ''}”`,
    why: 'this page is shown',
    wiring: { kind: 'page', document: pageId },
  }
  const all = [...options, shown]
  const chosen = all[picked] ?? shown
  const type = componentTypes.get((node === null ? undefined : home?.nodes[node]?.type) ?? '')
  const take = ({ name: own, wiring }: GoalSuggestion) => choose(name.trim() || own, wiring)
  return (
    <SheetOver
      wide={1180}
      className="pointing"
      title="What counts?"
      close={close}
      act={{ words: 'Use this goal', go: () => take(chosen), busy: going }}
    >
      <div className="pointing-head">
        <FindChoice
          aria-label="Page"
          value={pageId as string}
          className="grow"
          options={pages.map(({ id, title, path }) => ({ value: id as string, label: `${title} (${path})` }))}
          change={(value) => {
            setPageId(value as DocumentId)
            setNode(null)
            setPicked(0)
          }}
        />
        <span className="quiet">Point at a button, a form, a link, a passage or an entry of a menu.</span>
      </div>
      <div className="pointing-body">
        <div className="pointing-frame">
          {page === undefined ? null : (
            <PageFrame
              document={page.document}
              surroundings={page.surroundings}
              width={1280}
              selected={node}
              anywhere
              select={(found) => {
                setNode(found)
                setPicked(0)
                const homes = [page.document, ...page.surroundings]
                if (!homes.some((one) => one.nodes[found] && countable(one, found, titles).length > 0))
                  void message.info('Nothing can be counted there but that the page is shown.')
              }}
              label="Point at the goal"
            />
          )}
        </div>
        <div className="pointing-side">
          <h3>{type === undefined ? 'The page as a whole' : `The ${type.label}`}</h3>
          <OneUnder
            aria-label="What counts there"
            value={Math.min(picked, all.length - 1)}
            change={setPicked}
            options={all.map(({ why }, index) => ({ value: index, label: why }))}
          />
          <NameField {...{ name, setName }} placeholder={chosen.name} />
          <FoundOn suggestions={suggested.data?.suggestions ?? []} take={take} />
        </div>
      </div>
    </SheetOver>
  )
}

function NameField({ name, setName, placeholder }: { name: string; setName: (name: string) => void; placeholder: string }) {
  return (
    <label className="question">
      <span>Name of the goal</span>
      <TextField
        aria-label="Name of the goal"
        value={name}
        placeholder={placeholder}
        maxLength={120}
        onChange={({ target }) => setName(target.value)}
      />
    </label>
  )
}

/** What the pages have that could count, found without pointing. */
function FoundOn({ suggestions, take }: { suggestions: readonly GoalSuggestion[]; take: (one: GoalSuggestion) => void }) {
  if (suggestions.length === 0) return null
  return (
    <>
      <h3>Found on these pages</h3>
      <ul className="found">
        {suggestions.slice(0, 8).map((one) => (
          <li key={JSON.stringify(one.wiring)}>
            <Button size="small" onClick={() => take(one)}>
              {one.name}
            </Button>
            <span className="quiet">{one.why}</span>
          </li>
        ))}
      </ul>
    </>
  )
}
