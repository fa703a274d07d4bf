'use client'

import { useState } from 'react'
import type { VersionId } from '@/core/ids'
import type { Desk } from './desk'

/**
 * The version that stands beside the original, where two are set side by side: the one that is on the page, which is the
 * one that is edited. It stays so whatever is selected, until somebody sets it alone again.
 */
export function useBeside({
  editing,
  version,
}: Pick<Desk, 'editing' | 'version'>): [VersionId | null, (version: VersionId | null) => void] {
  const [isBeside, setIsBeside] = useState(false)
  return [
    isBeside && version !== undefined ? version.id : null,
    (next) => {
      if (next !== null) editing.show(next)
      setIsBeside(next !== null)
    },
  ]
}
