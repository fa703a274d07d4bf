import { useMemo } from 'react'
import type { ContentDocument } from '@/core/document'
import { rulesOf } from '@/components/style/reach'
import { scopeStyle } from '@/components/style/scope'

/**
 * The rules of styles, each confined to its parts; `null` until they are known. While the server draws they are known at
 * once; a browser has a form of its own of this, which loads the parser of styles where there are any.
 */
export function useStyleRules(styles: readonly ContentDocument[]): string | null {
  return useMemo(() => confined(styles, scopeStyle), [styles])
}

function confined(styles: readonly ContentDocument[], scope: typeof scopeStyle): string {
  return styles.map((one) => scope(rulesOf(one), one.id).css).join('\n')
}
