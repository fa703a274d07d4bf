import { nodeAt, type ContentDocument } from '@/core/document'
import { nameless, type Identity } from '@/core/identity'
import { asAsked } from '@/core/page-address'
import type { PictureSizes } from '@/core/picture-sizes'
import type { SiteView } from './look'

interface Around {
  readonly base?: string
  /** The address of a page that is not published. */
  readonly nowhere?: string | undefined
  readonly runs?: (code: string) => boolean
  readonly identity?: Identity
  readonly pictures?: Readonly<Record<string, PictureSizes>>
}

/** What looks may know of the site, from its documents. */
export function siteView(
  documents: readonly ContentDocument[],
  { base = '', nowhere = '/', runs = () => false, identity = nameless, pictures = {} }: Around = {},
): SiteView {
  const byId = new Map<string, ContentDocument>(documents.map((document) => [document.id, document]))
  const byType = new Map<string, ContentDocument[]>()
  for (const document of documents) {
    if (document.kind !== 'page') continue
    const type = String(nodeAt(document, document.root).props.pageType ?? '')
    byType.set(type, [...(byType.get(type) ?? []), document])
  }
  return {
    addressOf(link) {
      if (!link.startsWith('page:')) return link === '' ? '#' : link
      const [page = '', place] = link.slice('page:'.length).split('#')
      const target = byId.get(page)
      if (target === undefined) return base + nowhere
      return base + asAsked(String(target.nodes[target.root]?.props.path ?? '/')) + (place === undefined ? '' : `#${place}`)
    },
    front: `${base}/`,
    pictureAddress: (name) => (isMedia(name) ? `/media/${name}` : `/look/media/${name}.svg`),
    filmAddress: (name) => (isMedia(name) ? `/media/${name}` : `/look/media/${name}.webm`),
    sizesOf: (name) => (Object.hasOwn(pictures, name) ? (pictures[name] ?? null) : null),
    formAddress: (document, node) => `${base}/forms/${document.id}/${node}`,
    document: (id) => byId.get(id) ?? null,
    pagesOfType: (pageType) => byType.get(pageType) ?? [],
    runs,
    identity,
  }
}

/** The site as it is with some documents changed: what a version shows. */
export function withDocuments(view: SiteView, changed: readonly ContentDocument[]): SiteView {
  if (changed.length === 0) return view
  const byId = new Map<string, ContentDocument>(changed.map((document) => [document.id, document]))
  return {
    ...view,
    document: (id) => byId.get(id) ?? view.document(id),
    pagesOfType: (pageType) => view.pagesOfType(pageType).map((page) => byId.get(page.id) ?? page),
  }
}

/** Pictures and films that editors brought are known by what is in them; those that ship with the site by a word. */
export function isMedia(name: string): boolean {
  return /^m-[0-9a-f]{32}$/.test(name)
}
