'use client'

import { usePathname, useSearchParams } from 'next/navigation'

/**
 * What a list is narrowed to, kept in the address, so that it can be sent to somebody and is there again after going back.
 *
 * @param names the parts of the address that are meant; what is empty is left out of it
 */
export function useAddress<const Name extends string>(
  names: readonly Name[],
): readonly [{ readonly [Of in Name]: string }, (part: { readonly [Of in Name]?: string }) => void] {
  const asked = useSearchParams()
  const path = usePathname()
  const now = Object.fromEntries(names.map((name) => [name, asked.get(name) ?? ''])) as { [Of in Name]: string }
  const change = (part: { readonly [Of in Name]?: string }) => {
    const next = new URLSearchParams(asked)
    for (const [name, value] of Object.entries<string | undefined>(part)) {
      if (value === undefined || value === '') next.delete(name)
      else next.set(name, value)
    }
    const query = next.toString()
    window.history.replaceState(null, '', query === '' ? path : `${path}?${query}`)
  }
  return [now, change]
}
