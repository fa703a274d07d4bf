import type { Shown } from '@/core/experiment'
import type { ContentDocument } from '@/core/document'
import type { DocumentId } from '@/core/ids'
import { readAddress } from '@/core/page-address'
import type { Release } from '@/core/release'
import { linksOf, listedTypes, referencesOf } from '@/components/references'
import type { CompiledPage, CompiledSite } from './compile'
import { gotInstead, leading, seenPage, varies } from './seen-page'

type Round = Release['rounds'][number]

interface Walking {
  readonly site: CompiledSite
  readonly release: Release
  readonly origin: string
  readonly walked: ReadonlySet<DocumentId> | null
}

/**
 * The pages that can be come to from where the test shows. On pages where it shows, by what is shown of them in the version;
 * from all others by all that their documents link to, with what they show of others: a way that may be there is taken to be,
 * as far as visitors have come lately.
 */
export function waysFrom(
  pages: readonly CompiledPage[],
  { test, design }: Round,
  { site, release, origin, walked }: Walking,
): Shown['ways'] {
  const varying = new Map(pages.filter((page) => varies(page, test)).map((page) => [page.document, page]))
  if (varying.size === 0) return []
  const byPath = new Map(
    release.documents.flatMap(({ id, kind, nodes, root }) =>
      kind === 'page' ? [[String(nodes[root]?.props.path), id] as const] : [],
    ),
  )
  const moved = new Map(release.redirects.map(({ from, document }) => [from, document]))
  const pageAt = (address: string): DocumentId[] => {
    const own = address.startsWith(`${origin}/`) ? address.slice(origin.length) : address
    const path = own.startsWith('/') ? (readAddress(/^[^?#]*/.exec(own)?.[0] ?? '') ?? '') : ''
    return [byPath.get(path) ?? moved.get(path)].filter((id) => id !== undefined)
  }
  const documents = new Map(release.documents.map((document) => [document.id, document]))
  const byDocument = new Map<DocumentId, readonly DocumentId[]>()
  const linkedFrom = (id: DocumentId): readonly DocumentId[] => {
    const known = byDocument.get(id)
    if (known !== undefined) return known
    byDocument.set(id, [])
    const document = documents.get(id)
    const found = document === undefined ? [] : leadsTo(document, documents)
    byDocument.set(id, found)
    return found
  }
  return design.arms.map(({ version }) => {
    const come = new Set<DocumentId>()
    const waiting = [...varying.keys()]
    for (let id = waiting.pop(); id !== undefined; id = waiting.pop()) {
      const page = varying.get(id)
      const got = page === undefined ? undefined : gotInstead(page, version, test, site)
      const next =
        got === undefined
          ? linkedFrom(id)
          : [got.document, ...leading(seenPage(got, test, version), got, site).flatMap(({ address }) => pageAt(address))]
      for (const to of next) {
        if (come.has(to)) continue
        come.add(to)
        if (walked === null || walked.has(to)) waiting.push(to)
      }
    }
    return { version, pages: come }
  })
}

/** The pages to which a document leads: by its own links, forms and lists, and those of what it shows. */
function leadsTo(document: ContentDocument, documents: ReadonlyMap<string, ContentDocument>): DocumentId[] {
  const found = new Set<DocumentId>()
  const met = new Set<string>()
  const waiting = [document]
  for (let one = waiting.pop(); one !== undefined; one = waiting.pop()) {
    if (met.has(one.id)) continue
    met.add(one.id)
    for (const id of linksOf(one)) found.add(id)
    const types = listedTypes(one)
    for (const other of types.length === 0 ? [] : documents.values())
      if (other.kind === 'page' && types.includes(String(other.nodes[other.root]?.props.pageType))) found.add(other.id)
    for (const { document: shown } of referencesOf(one))
      waiting.push(...[documents.get(shown)].filter((next) => next !== undefined))
  }
  return [...found]
}
