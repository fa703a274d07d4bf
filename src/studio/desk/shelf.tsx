'use client'

import { Button } from '../controls/button'
import { Check } from '../controls/choices'
import { TextField } from '../controls/fields'
import { SheetOver } from '../controls/sheet-over'
import { useRouter } from 'next/navigation'
import { memo, useEffect, useRef, useState } from 'react'
import type { DocumentView, VersionView } from '@/contract/contract'
import { conditionWords, ORIGINAL, WHOLE } from '@/core/decide'
import { inShort, walk, type Edit } from '@/core/document'
import { evenWeights, isOpenToChange } from '@/core/experiment'
import { percent } from '@/core/numbers'
import type { NodeId, VersionId } from '@/core/ids'
import { componentTypes, excerptOf, vocabulary } from '@/components/types'
import { useMessages } from '../frame/messages'
import { VersionMark } from '../frame/marks'
import { talk, useTell, type Refused } from '../talk'
import type { Editing, EditingState } from './editing'
import { PageMiniature } from './page-frame'
import { useSurroundings } from '../condition/use-surroundings'

const nothing: readonly Edit[] = []

interface ShelfProps {
  readonly view: DocumentView
  readonly state: EditingState
  readonly editing: Editing
  readonly node: NodeId
  readonly beside: VersionId | null
  readonly setBeside?: (version: VersionId | null) => void
  readonly make: (manner: 'chance' | 'rule', from: VersionId | null) => void
}

/** Every version of the selected part in one row, whoever sees it. */
export const Shelf = memo(function Shelf({ view, state, editing, node, beside, setBeside, make }: ShelfProps) {
  const [folded, setFolded] = useState(false)
  const [search, setSearch] = useState('')
  const site = useSurroundings(view.surroundings)
  const versions = shelfOf(state.versions, node)
  const type = componentTypes.get(state.document.nodes[node]?.type ?? '')
  const test = view.tests.find((one) => one.parts.some((part) => part.node === node))
  const name = (version: VersionView) =>
    version.manner === 'rule' ? `for: ${conditionWords(version.condition, site)}` : shareWords(version, test)
  const found = versions
    .map((version, index) => ({ version, index: index + 1 }))
    .filter(({ version }) => version.id === state.onPage || isMeant(search, version.name, name(version)))
  return (
    <section className={folded ? 'shelf folded' : 'shelf'} aria-label="Shelf">
      <header>
        <h2>
          Versions of the{' '}
          {node === state.document.root && state.document.kind === 'page' ? 'whole page' : (type?.label ?? 'component')}{' '}
          <span className="quiet" aria-live="polite">
            {versions.length === 0
              ? 'only the original so far'
              : `${versions.findIndex(({ id }) => id === state.onPage) + 2} of ${versions.length + 1}`}
          </span>
        </h2>
        {versions.length < MANY ? null : (
          <TextField
            type="search"
            size="small"
            className="shelf-search"
            aria-label="Find a version"
            placeholder="Find a version"
            value={search}
            onChange={(event) => setSearch(event.target.value)}
          />
        )}
        <div className="shelf-tools">
          <Button size="small" look="primary" onClick={() => make('chance', null)}>
            New variant
          </Button>
          <Button size="small" onClick={() => make('rule', null)}>
            New version for some visitors
          </Button>
          <TestStep view={view} state={state} editing={editing} node={node} />
          <Button size="small" look="quiet" aria-expanded={!folded} onClick={() => setFolded(!folded)}>
            {folded ? 'Unfold' : 'Fold'}
          </Button>
        </div>
      </header>
      {folded ? null : (
        <ol className="cards-row">
          <ShelfCard
            index={0}
            title="Original"
            note="everybody else"
            chosen={state.onPage === ORIGINAL}
            show={() => editing.show(ORIGINAL)}
          >
            <PageMiniature
              document={state.document}
              node={node}
              edits={nothing}
              surroundings={view.surroundings}
              label="Original"
            />
          </ShelfCard>
          {found.map(({ version, index }) => (
            <ShelfCard
              key={version.id}
              index={index}
              title={version.name}
              note={name(version)}
              short={inShort(state.document, version.edits, vocabulary) || 'no difference yet'}
              chosen={state.onPage === version.id}
              show={() => editing.show(version.id)}
              beside={beside === version.id}
              compare={setBeside === undefined ? undefined : () => setBeside(beside === version.id ? null : version.id)}
            >
              <PageMiniature
                document={state.document}
                node={node}
                edits={version.edits}
                surroundings={view.surroundings}
                label={version.name}
              />
            </ShelfCard>
          ))}
          {search !== '' && found.length === 0 ? <li className="empty">No version is called so.</li> : null}
        </ol>
      )}
    </section>
  )
})

/** What stays free beside a card that is brought into sight, in px. */
const EDGE = 18

/** From so many on they are searched rather than looked through. */
const MANY = 8

/** Whether all of these words are said of it. */
export function isMeant(search: string, ...said: readonly string[]): boolean {
  const text = said.join(' ').toLocaleLowerCase()
  return search
    .toLocaleLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word))
}

/** Original first, then by chance, then by rule in the order in which the rules are tried. */
export function shelfOf(versions: readonly VersionView[], node: NodeId): VersionView[] {
  const mine = versions.filter((version) => version.node === node)
  return [...mine.filter(({ manner }) => manner === 'chance'), ...mine.filter(({ manner }) => manner === 'rule')]
}

function shareWords(version: VersionView, test: DocumentView['tests'][number] | undefined): string {
  const arm = test?.arms.find((one) => one.version === version.id)
  if (version.test === null || test === undefined || arm === undefined) return 'not in a test yet'
  return `${percent(arm.weight / WHOLE)} by chance${test.status === 'running' ? ', live' : ''}`
}

interface CardProps {
  readonly index: number
  readonly title: string
  readonly note: string
  readonly short?: string
  readonly chosen: boolean
  readonly show: () => void
  readonly beside?: boolean
  readonly compare?: () => void
  readonly children: React.ReactNode
}

function ShelfCard({ index, title, note, short, chosen, show, beside, compare, children }: CardProps) {
  const card = useRef<HTMLLIElement>(null)
  // Whoever steps along the shelf by keys sees where they are.
  useEffect(() => {
    const [own, row] = [card.current, card.current?.parentElement]
    if (!chosen || own == null || row == null) return
    // Within the shelf alone: the page stays where it is.
    const begin = own.offsetLeft - row.offsetLeft
    const end = begin + own.offsetWidth
    if (begin < row.scrollLeft) row.scrollTo({ left: begin - EDGE })
    else if (end > row.scrollLeft + row.clientWidth) row.scrollTo({ left: end - row.clientWidth + EDGE })
  }, [chosen])
  return (
    <li ref={card} className={chosen ? 'shelf-card chosen' : 'shelf-card'}>
      <button type="button" className="shelf-face" aria-pressed={chosen} aria-label={`Put ${title} on the page`} onClick={show}>
        <span className="miniature">{children}</span>
        <span className="shelf-name">
          <VersionMark index={index} /> {title}
        </span>
        <span className="shelf-note">
          {note}
          {short === undefined ? '' : ` · ${short}`}
        </span>
      </button>
      {compare === undefined ? null : (
        <button type="button" className="beside" aria-pressed={beside} onClick={compare}>
          {beside ? 'alone again' : 'side by side'}
        </button>
      )}
    </li>
  )
}

/** The next step from variants to a test: make one, alone or in combination with other parts, or open the one there is. */
function TestStep({ view, state, editing, node }: Pick<ShelfProps, 'view' | 'state' | 'editing' | 'node'>) {
  const router = useRouter()
  const message = useMessages()
  const [combining, setCombining] = useState(false)
  const create = useTell('test.create', ({ test }) => router.push(`/tests/${test}`))
  const failed = { onError: (reason: Refused) => void message.error(reason.message, 8) }
  const isFree = (version: VersionView) => version.manner === 'chance' && version.test === null
  const free = state.versions.filter((version) => version.node === node && isFree(version))
  const others = [
    ...new Set(state.versions.filter((version) => version.node !== node && isFree(version)).map((version) => version.node)),
  ]
  const test = view.tests.find((one) => one.node === node || one.parts.some((part) => part.node === node))
  const order = (nodes: readonly NodeId[]) => walk(state.document).filter((one) => nodes.includes(one))
  const make = (nodes: readonly NodeId[]) =>
    void editing
      .flush()
      .then(() => create.mutate({ parts: order(nodes).map((one) => ({ document: state.document.id, node: one })) }, failed))
  if (test === undefined) {
    if (free.length === 0) return null
    return (
      <>
        <Button size="small" busy={create.isPending} onClick={() => make([node])}>
          Make a test of {free.length === 1 ? 'it' : 'them'}
        </Button>
        {others.length === 0 ? null : (
          <Button size="small" onClick={() => setCombining(true)}>
            Test in combination
          </Button>
        )}
        {combining ? <Combine state={state} node={node} others={others} close={() => setCombining(false)} make={make} /> : null}
      </>
    )
  }
  const addAll = async () => {
    try {
      await editing.flush()
      const { design, lock } = await talk('test.open', { test: test.id })
      const versions = [...design.arms.map(({ version }) => version), ...free.map(({ id }) => id)]
      const weights = evenWeights(versions.length)
      await talk('test.save', {
        test: test.id,
        lock,
        design: { ...design, arms: versions.map((version, index) => ({ version, weight: weights[index] ?? 0, levels: [] })) },
      })
      router.push(`/tests/${test.id}`)
    } catch (reason) {
      void message.error((reason as Refused).message, 8)
    }
  }
  return (
    <>
      {free.length > 0 && isOpenToChange(test.status) && test.parts.length === 1 ? (
        <Button size="small" onClick={() => void addAll()}>
          Add to “{test.name}”
        </Button>
      ) : null}
      <Button size="small" onClick={() => router.push(`/tests/${test.id}`)}>
        Open the test
      </Button>
    </>
  )
}

/** Which other parts with variants are tested together with this one: every combination of them all. */
function Combine({
  state,
  node,
  others,
  close,
  make,
}: {
  state: EditingState
  node: NodeId
  others: readonly NodeId[]
  close: () => void
  make: (nodes: readonly NodeId[]) => void
}) {
  const [chosen, setChosen] = useState<readonly NodeId[]>(others.slice(0, 1))
  const variants = (of: NodeId) => state.versions.filter((version) => version.node === of && version.test === null).length
  const cells = [node, ...chosen].reduce((product, of) => product * (1 + variants(of)), 1)
  const nameOf = (id: NodeId) => {
    const part = state.document.nodes[id]
    return `${componentTypes.get(part?.type ?? '')?.label ?? 'component'}${part === undefined ? '' : ` “${excerptOf(part)}”`}, ${variants(id)} ${variants(id) === 1 ? 'variant' : 'variants'}`
  }
  return (
    <SheetOver
      title="Test parts in combination"
      act={{ words: 'Make the test', go: () => make([node, ...chosen]), disabled: chosen.length === 0 || chosen.length > 3 }}
      close={close}
    >
      <p>{nameOf(node)}, together with:</p>
      <div role="group" aria-label="Parts" className="combine">
        {others.map((id) => (
          <Check
            key={id}
            checked={chosen.includes(id)}
            change={(taken) => setChosen(others.filter((one) => (one === id ? taken : chosen.includes(one))))}
          >
            {nameOf(id)}
          </Check>
        ))}
      </div>
      <p>
        {cells} combinations, the original among them. Each needs as many visitors as a variant of its own; single ones can be
        left out on the test’s sheet.
      </p>
    </SheetOver>
  )
}
