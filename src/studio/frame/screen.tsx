'use client'

import Link from 'next/link'
import { useQueryClient } from '@tanstack/react-query'
import { usePathname, useRouter } from 'next/navigation'
import type { ReactNode } from 'react'
import type { AccountView } from '@/contract/contract'
import type { Refused } from '../talk'
import { Finder, type Command } from './finder'
import { KeyList, type KeyLines } from './key-list'
import { openOverlay } from './overlay'
import { useKeys } from './use-keys'
import { useTitle } from './use-title'
import { useInBrowser } from './when'

const places = [
  ['/site', 'Site'],
  ['/tests', 'Tests'],
  ['/personalize', 'Personalize'],
  ['/goals', 'Goals'],
  ['/notebook', 'Notebook'],
] as const

/** The frame of every screen: masthead, sheet, margin, and a shelf where the screen has one. */
export function Screen({
  account,
  title = null,
  sheet,
  margin,
  shelf,
  wide,
  commands = [],
  keys = [],
}: {
  account: AccountView
  /** The name of the thing that is open, where it is not said with the address. */
  title?: string | null
  sheet: ReactNode
  margin: ReactNode
  shelf?: ReactNode
  wide?: boolean
  /** What can be done here, for who looks for it by name. */
  commands?: readonly Command[]
  /** The keys of this screen, besides those of every screen. */
  keys?: KeyLines
}) {
  useTitle(title)
  useKeys()
  // What the server drew takes no press until there is something behind it that answers.
  const answers = useInBrowser()
  return (
    <div className="frame" inert={!answers}>
      <Masthead account={account} />
      <div className="desk">
        <main className={wide ? 'sheet wide' : 'sheet'} tabIndex={-1}>
          {sheet}
        </main>
        <aside className="margin" aria-label="Margin">
          {margin}
        </aside>
      </div>
      {shelf}
      <Finder account={account} commands={commands} />
      <KeyList keys={keys} />
    </div>
  )
}

function Masthead({ account }: { account: AccountView }) {
  const path = usePathname()
  const current = (place: string) => (path.startsWith(place) ? ('page' as const) : undefined)
  return (
    <header className="masthead">
      <Link href="/" prefetch={false} className="mark" aria-current={path === '/' ? 'page' : undefined}>
        <svg width="18" height="22" viewBox="0 0 18 22" aria-hidden="true">
          <path d="M9 21V8" stroke="currentColor" strokeWidth="1.8" strokeLinecap="round" />
          <path d="M9 10C4 10 1.500 7.500 1.500 2.500 6.500 2.500 9 5 9 10Z" fill="#9DB53B" />
          <path
            d="M9 15c4.500 0 7-2.200 7-6.500-4.500 0-7 2.200-7 6.500Z"
            fill="none"
            stroke="currentColor"
            strokeWidth="1.500"
          />
        </svg>
        sprig
      </Link>
      <nav aria-label="Places">
        {places.map(([place, name]) => (
          <Link key={place} href={place} prefetch={false} aria-current={current(place)}>
            {name}
          </Link>
        ))}
      </nav>
      <nav aria-label="Tools" className="tools">
        <button type="button" className="find" onClick={() => openOverlay('finder')}>
          Find <kbd>/</kbd>
        </button>
        <Link href="/rehearse" prefetch={false} aria-current={current('/rehearse')}>
          Rehearse
        </Link>
        <Link href="/lens" prefetch={false} aria-current={current('/lens')}>
          Lens
        </Link>
        <Me account={account} />
      </nav>
    </header>
  )
}

function Me({ account }: { account: AccountView }) {
  const router = useRouter()
  const client = useQueryClient()
  const leave = async () => {
    await fetch('/api/sign-out', { method: 'POST', headers: { 'content-type': 'application/json' }, body: '{}' })
    client.clear()
    router.push('/sign-in')
  }
  return (
    <details
      className="me"
      onKeyDown={(event) => {
        if (event.key !== 'Escape' || !event.currentTarget.open) return
        event.currentTarget.open = false
        event.preventDefault()
      }}
    >
      <summary>{account.name}</summary>
      <div>
        <p>
          {account.email}
          <br />
          {account.role}
        </p>
        <Link href="/settings/me" prefetch={false}>
          Your account
        </Link>
        <Link href="/settings" prefetch={false}>
          Settings
        </Link>
        <button type="button" onClick={() => openOverlay('keys')}>
          Keys on this screen <kbd>?</kbd>
        </button>
        <button type="button" onClick={() => void leave()}>
          Sign out
        </button>
      </div>
    </details>
  )
}

/** A remark in the margin, with the one step that settles it where it asks for something. */
export function Note({
  title,
  tone,
  children,
  action,
}: {
  title?: string
  tone?: 'asks' | 'blocks' | 'live'
  children: ReactNode
  action?: ReactNode
}) {
  return (
    <section className={`note ${tone ?? ''}`}>
      {title === undefined ? null : <h3>{title}</h3>}
      <div>{children}</div>
      {action === undefined ? null : <div className="note-action">{action}</div>}
    </section>
  )
}

/** What a screen shows until it has something, and when it cannot have it. */
export function Waiting({ error, again }: { error: Refused | null; again: () => void }) {
  if (error === null) return <p className="waiting">Reading …</p>
  return (
    <div role="alert" className="trouble">
      <p>{error.message}</p>
      {error.code === 'signIn' ? <a href="/sign-in">Sign in</a> : <button onClick={again}>Try again</button>}
    </div>
  )
}
