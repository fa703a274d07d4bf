'use client'

import { useEffect, useMemo } from 'react'
import { createStore, useStore } from 'zustand'
import type { ContentDocument } from '@/core/document'
import { rulesOf } from '@/components/style/reach'

type Scope = (css: string, id: string) => { readonly css: string }

const parser = createStore<{ readonly scope: Scope | null }>(() => ({ scope: null }))

/** In a browser: the same as `style-rules`, with a parser that is loaded when there is a style to show. */
export function useStyleRules(styles: readonly ContentDocument[]): string | null {
  const scope = useStore(parser, (state) => state.scope)
  const needed = styles.length > 0
  useEffect(() => {
    if (!needed || parser.getState().scope !== null) return
    import('@/components/style/scope').then(
      ({ scopeStyle }) => parser.setState({ scope: scopeStyle }),
      // Without a network, the page is shown without its own styles rather than not at all.
      () => parser.setState({ scope: () => ({ css: '' }) }),
    )
  }, [needed])
  return useMemo(() => {
    if (styles.length === 0) return ''
    return scope === null ? null : styles.map((one) => scope(rulesOf(one), one.id).css).join('\n')
  }, [styles, scope])
}
