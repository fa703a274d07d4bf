import { createHash } from 'node:crypto'
import { segmentsIn } from '@/core/decide'
import { mediaNamedIn } from '@/core/media-names'
import { nodeAt, type ContentDocument } from '@/core/document'
import type { DocumentId } from '@/core/ids'
import { listedTypes, referencesOf } from '@/components/references'
import { watchedOn, whatIsOn, type Site } from './on-a-page'

/** Everything a compiled page is made of, in a short text: the same text, the same page. */
export class Inputs {
  readonly #site: Site
  readonly #digests = new Map<DocumentId, string>()
  readonly #media = new Map<DocumentId, ReadonlySet<string>>()
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
    const shown = this.#shown(page, new Set())
    const listed = listedTypes(page).map((type) =>
      this.#site.view.pagesOfType(type).map(({ id, root, nodes }) => [id, nodes[root]?.props]),
    )
    const tested = rounds.filter(({ test }) => keys.has(test))
    const pictures = new Set([
      ...[page, ...shown].flatMap((document) => [...this.#mediaIn(document)]),
      ...mediaNamedIn(listed, tested, routed, ruled, this.#site.release.identity),
    ])
    return digest([
      this.#shared,
      this.#digest(page),
      watchedOn(page, this.#site),
      shown.map((document) => this.#digest(document)),
      listed,
      styles.map((style) => this.#digest(style)),
      tested,
      routed,
      ruled,
      segments.filter(({ id }) => named.has(id)),
      [...pictures].sort().map((name) => [name, this.#site.view.sizesOf(name)]),
    ])
  }

  #mediaIn(document: ContentDocument): ReadonlySet<string> {
    const known = this.#media.get(document.id) ?? mediaNamedIn(document)
    this.#media.set(document.id, known)
    return known
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
