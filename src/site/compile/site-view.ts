import type { ContentDocument } from '@/core/document'
import type { SiteView } from '../components/look'

/** What looks may know of the site, from its documents. */
export function siteView(documents: readonly ContentDocument[], base = ''): SiteView {
  const byId = new Map<string, ContentDocument>(documents.map((document) => [document.id, document]))
  return {
    addressOf(link) {
      if (!link.startsWith('page:')) return link === '' ? '#' : link
      const target = byId.get(link.slice('page:'.length))
      return base + String(target?.nodes[target.root]?.props.path ?? '/')
    },
    pictureAddress: (name) => `/look/media/${name}.svg`,
    formAddress: (document, node) => `${base}/forms/${document}/${node}`,
    document: (id) => byId.get(id) ?? null,
  }
}
