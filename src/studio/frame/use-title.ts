'use client'

import { useEffect } from 'react'

/** What the browser calls this screen in its tabs and its history: the thing that is open, by its own name. */
export function useTitle(name: string | null): void {
  useEffect(() => {
    if (name !== null && name !== '') document.title = `${name} · Upbeat Sprig`
  }, [name])
}
