import { createHash } from 'node:crypto'
import { segmentsIn } from '@/core/decide'
import { nodeAt, type ContentDocument } from '@/core/document'
import type { DocumentId } from '@/core/ids'
import { listedTypes, referencesOf } from '@/components/references'
import { watchedOn, whatIsOn, type Site } from './on-a-page'

/** Everything a compiled page is made of, in a short text: the same text, the same page. */
export class Inputs {
  readonly #site: Site
  readonly #digests = new Map<DocumentId, string>()
  readonly #shared: string

  constructor(site: Site) {
    this.#site = site
    // A link can lead to any page, so every page is made of all addresses.
    const addresses = site.release.documents.flatMap((document) => {
      const { path, route } = nodeAt(document, document.root).props
      return document.kind === 'page' ? [[document.id, path, route ?? '']] : []
    })
    const { scripts, approvedScripts, identity, consent } = site.release
    this.#shared = digest([site.assets, scripts, approvedScripts, identity, consent, addresses])
  }

  of(page: ContentDocument): string {
    const { varying, styles } = whatIsOn(page, this.#site)
    const keys = new Set(varying.map(({ key }) => key))
    const { rounds, personalizations, segments } = this.#site.release
    const ruled = personalizations.filter(({ id }) => keys.has(id))
    const named = new Set(ruled.flatMap(({ rules }) => rules.flatMap(({ condition }) => segmentsIn(condition))))
    // A test that sends visitors from one page to another is part of both.
    const routed = rounds.filter(({ versions }) => JSON.stringify(versions).includes(`page:${page.id}`))
    return digest([
      this.#shared,
      this.#digest(page),
      watchedOn(page, this.#site),
      this.#shown(page, new Set()).map((document) => this.#digest(document)),
      listedTypes(page).map((type) => this.#site.view.pagesOfType(type).map(({ id, root, nodes }) => [id, nodes[root]?.props])),
      styles.map((style) => this.#digest(style)),
      rounds.filter(({ test }) => keys.has(test)),
      routed,
      ruled,
      segments.filter(({ id }) => named.has(id)),
    ])
  }

  /** The documents that a page shows by reference, and what these show. */
  #shown(document: ContentDocument, met: Set<DocumentId>): ContentDocument[] {
    return referencesOf(document).flatMap(({ document: id }) => {
      const other = this.#site.view.document(id)
      if (other === null || met.has(id)) return []
      met.add(id)
      return [other, ...this.#shown(other, met)]
    })
  }

  #digest(document: ContentDocument): string {
    const known = this.#digests.get(document.id) ?? digest(document)
    this.#digests.set(document.id, known)
    return known
  }
}

function digest(value: unknown): string {
  return createHash('sha1').update(JSON.stringify(value)).digest('base64url')
}
