import { decide, type Decision, type Visitor } from '@/core/decide'
import type { DocumentId, VersionId } from '@/core/ids'
import type { Release } from '@/core/release'
import { asAsked } from '@/core/page-address'
import { assemblyOf } from '../serve/assemble'
import { routeFor } from '../serve/answer-page'
import { compile, type CompiledPage } from './compile'

interface Asked {
  readonly number: number
  /** `null` where it has been told before. */
  readonly release: Release | null
  readonly page: DocumentId
  readonly visitor: Visitor
}

type Found =
  | { readonly kind: 'unknown' | 'missing' }
  | { readonly kind: 'page'; readonly page: DocumentId; readonly html: string; readonly decisions: readonly Decision[] }

interface AskedVersion {
  readonly release: Release
  readonly page: DocumentId
  readonly shown: { readonly key: string; readonly version: VersionId } | null
}

/** More sendings on are a circle, which no release has. */
const MOST_ROUTES = 5
let known: { readonly number: number; readonly release: Release; readonly pages: Map<DocumentId, CompiledPage | null> } | null =
  null

/** Draws a page by the same deciding and the same bytes as for visitors; nothing of it can run or be counted. */
export function throughTheLens({ number, release, page: wanted, visitor }: Asked): Found {
  if (release !== null) known = { number, release, pages: new Map() }
  if (known?.number !== number) return { kind: 'unknown' }
  const { release: at, pages } = known
  let [id, sent] = [wanted, 0]
  for (;;) {
    const page = pageOf(id, at, pages)
    if (page === null) return { kind: 'missing' }
    const decisions = decide(page, { ...visitor, at: { page: page.document, pageType: page.pageType } })
    const path = routeFor(page, decisions)?.split(/[?#]/)[0]
    const target = at.documents.find(
      ({ kind, nodes, root }) => kind === 'page' && asAsked(String(nodes[root]?.props.path)) === path,
    )
    if (path === undefined || target === undefined || sent++ >= MOST_ROUTES)
      return { kind: 'page', page: id, html: withStyles(page, assemblyOf(page.chunks).whole(decisions).toString()), decisions }
    id = target.id
  }
}

function pageOf(id: DocumentId, release: Release, pages: Map<DocumentId, CompiledPage | null>): CompiledPage | null {
  const before = pages.get(id)
  if (before !== undefined) return before
  const made =
    compile(release, { script: '', style: '/look/site.css' }, undefined, [], { only: new Set([id]) }).byId.get(id) ?? null
  pages.set(id, made)
  return made
}

/** A page with one version of one part on it, and everything else as the original; nothing of it can run or be counted. */
export function asVersion({ release, page: id, shown }: AskedVersion): string {
  const site = compile(release, { script: '', style: '/look/site.css' }, undefined, [], { only: new Set([id]) })
  const page = site.byId.get(id)
  if (page === undefined) throw new RangeError(`asVersion: the page “${id}” is not in this release`)
  const decisions: Decision[] = shown === null ? [] : [{ ...shown, counted: true, reason: { code: 'kept' } }]
  return withStyles(page, assemblyOf(page.chunks).whole(decisions).toString())
}

/** Its own sheets stand on the site alone, so they are put into it. */
function withStyles({ styles }: CompiledPage, html: string): string {
  return html.replace(/<link rel="stylesheet" href="(\/made\/[^"]+)">/g, (link, address: string) => {
    const css = styles.get(address)?.toString()
    return css === undefined ? link : `<style>${css.replaceAll('</', '<\\/')}</style>`
  })
}
