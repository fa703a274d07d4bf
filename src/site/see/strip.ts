import { ORIGINAL } from '@/core/decide'
import { armName, type Round } from '@/core/experiment'
import type { VersionId } from '@/core/ids'
import { escaped } from '@/core/markup'

/** A test that shows on the page, and what of it is shown. */
export interface SeenTest {
  readonly round: Pick<Round, 'test' | 'design' | 'versions'>
  readonly state: 'live' | 'paused' | 'not live yet'
  readonly shown: VersionId
}

/** The strip at the foot of a page that somebody looks at: what is tested here, and what of it they see. */
export function strip(tests: readonly SeenTest[], { back, style }: { readonly back: string; readonly style: string }): string {
  const to = (query: Record<string, string>) => escaped(`/see/choose?${new URLSearchParams({ ...query, back }).toString()}`)
  const lines = tests.map(({ round: { test, design, versions }, state, shown }) => {
    const arms = design.arms.map(({ version }) => {
      const name = escaped(version === ORIGINAL ? 'Original' : armName(design, versions, version))
      const current = version === shown ? ' aria-current="true"' : ''
      return `<li><a href="${to({ test, version })}"${current}>${name}</a></li>`
    })
    return `<div role="group" aria-label="${escaped(design.name)}"><p><b>${escaped(design.name)}</b> <i>${state}</i></p><ul>${arms.join('')}</ul></div>`
  })
  const said = tests.length === 0 ? '<p>Nothing is tested on this page.</p>' : lines.join('')
  return `<link rel="stylesheet" href="${escaped(style)}"><aside class="seeing" aria-label="What you are looking at"><p>You are looking. Nothing you do here is counted, and no form is sent.</p><div class="seeing-tests">${said}</div><nav aria-label="Looking"><a href="${to({ as: 'newcomer' })}">As a new visitor</a> <a href="${escaped(`/see/stop?${new URLSearchParams({ back }).toString()}`)}">Stop looking</a></nav></aside>`
}
