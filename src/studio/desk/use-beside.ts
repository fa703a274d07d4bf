'use client'

import { useState } from 'react'
import type { VersionId } from '@/core/ids'
import type { Desk } from './desk'

/** The version that stands beside the original, if one does. It is the one being edited, too. */
export function useBeside({ editing, state }: Desk): [VersionId | null, (version: VersionId | null) => void] {
  const [beside, setBeside] = useState<VersionId | null>(null)
  const there = beside !== null && state.onPage === beside ? beside : null
  return [
    there,
    (version) => {
      if (version !== null) editing.show(version)
      setBeside(version)
    },
  ]
}
