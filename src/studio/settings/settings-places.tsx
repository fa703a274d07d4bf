'use client'

import Link from 'next/link'
import { usePathname } from 'next/navigation'
import type { AccountView } from '@/contract/contract'

const places = [
  ['/settings', 'The site', 'editor'],
  ['/settings/me', 'Your account', 'editor'],
  ['/settings/people', 'People', 'administrator'],
  ['/settings/visitor', 'A visitor', 'administrator'],
  ['/settings/trail', 'Who did what', 'administrator'],
] as const

/** The ways between the sheets of the settings. */
export function SettingsPlaces({ account }: { account: AccountView }) {
  const path = usePathname()
  return (
    <nav className="places" aria-label="Settings">
      {places
        .filter(([, , role]) => role === 'editor' || account.role === role)
        .map(([place, name]) => (
          <Link key={place} href={place} prefetch={false} aria-current={path === place ? 'page' : undefined}>
            {name}
          </Link>
        ))}
    </nav>
  )
}
