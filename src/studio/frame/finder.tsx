'use client'

import { useRouter } from 'next/navigation'
import { useDeferredValue, useId, useState } from 'react'
import type { AccountView, FoundThing } from '@/contract/contract'
import { useAsk } from '../talk'
import { openOverlay, useOverlay } from './overlay'
import { SheetOver } from '../controls/sheet-over'
import { documentWords } from './wording'

/** Something that can be done on the screen that is open. */
export interface Command {
  readonly name: string
  /** The key that does the same. */
  readonly keys?: string
  readonly run: () => void
}

interface Line {
  readonly group: string
  readonly name: string
  readonly about: string
  readonly go: () => void
}

const kindWords: { readonly [Kind in FoundThing['kind']]: string } = {
  ...documentWords,
  part: 'part',
  test: 'test',
  goal: 'goal',
}

const placesOf = ({ role }: AccountView): readonly (readonly [string, string])[] => [
  ['Today', '/'],
  ['Site', '/site'],
  ['Tests', '/tests'],
  ['Goals', '/goals'],
  ['Personalize', '/personalize'],
  ['Notebook', '/notebook'],
  ['Rehearse', '/rehearse'],
  ['The bin', '/site/bin'],
  ['Your account', '/settings/me'],
  ['Settings', '/settings'],
  ...(role === 'administrator'
    ? ([
        ['People', '/settings/people'],
        ['What is kept of a visitor', '/settings/visitor'],
        ['Who did what', '/settings/trail'],
      ] as const)
    : []),
]

/** Anything of the site by a few of its words, and whatever can be done here, from the keyboard. */
export function Finder({ account, commands }: { account: AccountView; commands: readonly Command[] }) {
  const open = useOverlay() === 'finder'
  return open ? <FinderSheet account={account} commands={commands} /> : null
}

function FinderSheet({ account, commands }: { account: AccountView; commands: readonly Command[] }) {
  const router = useRouter()
  const list = useId()
  const [words, setWords] = useState('')
  const [at, setAt] = useState(0)
  const wanted = useDeferredValue(words.trim())
  const asked = useAsk('find.things', { words: wanted }, { keepLast: true })
  const found = asked.data?.found ?? []
  const close = () => openOverlay(null)
  const goTo = (address: string) => () => router.push(address)
  const fits = (name: string) => name.toLowerCase().includes(wanted.toLowerCase())
  const lines: Line[] = [
    ...found.map(({ kind, name, about, address }) => ({
      group: wanted === '' && kind !== 'test' ? 'Changed last' : wanted === '' ? 'Running now' : 'On this site',
      name,
      about: [kindWords[kind], about].filter(Boolean).join(' · '),
      go: goTo(address),
    })),
    ...commands.flatMap(({ name, keys = '', run }) => (fits(name) ? [{ group: 'Do here', name, about: keys, go: run }] : [])),
    ...placesOf(account).flatMap(([name, address]) =>
      fits(name) ? [{ group: 'Go to', name, about: '', go: goTo(address) }] : [],
    ),
  ]
  const chosen = Math.min(at, lines.length - 1)
  const take = (line: Line | undefined) => {
    if (line === undefined) return
    close()
    line.go()
  }
  const step = (by: number) => {
    const next = (chosen + by + lines.length) % Math.max(1, lines.length)
    setAt(next)
    document.getElementById(`${list}-${next}`)?.scrollIntoView({ block: 'nearest' })
  }
  return (
    <SheetOver title="Find" close={close} className="finder">
      <input
        data-begin
        role="combobox"
        aria-expanded
        aria-controls={list}
        aria-activedescendant={lines.length === 0 ? undefined : `${list}-${chosen}`}
        aria-label="Words of a page, a part, a test, a goal, or something to do"
        placeholder="A page, a part, a test, a goal, or something to do"
        maxLength={120}
        value={words}
        onChange={({ target }) => {
          setWords(target.value)
          setAt(0)
        }}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown') step(1)
          else if (event.key === 'ArrowUp') step(-1)
          else if (event.key === 'Enter') take(lines[chosen])
          else return
          event.preventDefault()
        }}
      />
      <div role="listbox" id={list} aria-label="What was found">
        {lines.map((line, index) => (
          <div key={`${line.group} ${line.name} ${line.about}`}>
            {line.group === lines[index - 1]?.group ? null : (
              <p className="finder-group" aria-hidden="true">
                {line.group}
              </p>
            )}
            <div
              role="option"
              id={`${list}-${index}`}
              aria-selected={index === chosen}
              onPointerMove={() => setAt(index)}
              onClick={() => take(line)}
            >
              <span>{line.name}</span>
              <em>{line.about}</em>
            </div>
          </div>
        ))}
      </div>
      <p className="quiet" role="status">
        {asked.error !== null
          ? asked.error.message
          : lines.length === 0 && !asked.isFetching
            ? 'Nothing here has these words.'
            : ''}
      </p>
    </SheetOver>
  )
}
