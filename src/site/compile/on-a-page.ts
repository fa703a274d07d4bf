import { partsOf } from '@/core/experiment'
import { kindOf, needOf } from '@/core/goals'
import type { ContentDocument } from '@/core/document'
import type { DocumentId } from '@/core/ids'
import type { Release } from '@/core/release'
import type { SiteView } from '@/components/look'
import { listedTypes } from '@/components/references'
import { isFor } from '@/components/style/reach'
import { touchesPage, type Varying } from './varying'

export interface Assets {
  readonly script: string
  readonly style: string
  /** Where the site is, as others see it. */
  readonly origin?: string
}

export interface Site {
  readonly release: Release
  readonly view: SiteView
  readonly assets: Assets
  readonly varying: readonly Varying[]
  readonly styles: readonly ContentDocument[]
}

export function stylesOf(release: Release): ContentDocument[] {
  return release.documents.filter(({ kind }) => kind === 'style')
}

/** Everything that varies on a page, and the styles that are for it. */
export function whatIsOn(
  page: ContentDocument,
  { view, varying, styles }: Site,
): { varying: Varying[]; styles: ContentDocument[] } {
  const listed = new Set(listedOn(page, view))
  return {
    varying: varying.filter((one) => touchesPage(page, one, view, listed)),
    styles: styles.filter((style) => isFor(style, page)),
  }
}

/** Components that some goal wants read, and the seconds that some goal wants stayed: the same for every page but its own. */
export function watchedOn(page: ContentDocument, { release }: Pick<Site, 'release'>) {
  const homes = new Map(release.documents.map(({ id, kind }) => [id, kind]))
  const needs = release.goals.map(needOf)
  const stays = release.goals.flatMap(({ wiring }) => kindOf(wiring).seconds?.(wiring) ?? [])
  return {
    reads: [
      ...new Set([
        // Of what is tested it is always asked whether it was read.
        ...release.rounds.flatMap(({ design }) =>
          partsOf(design).flatMap(({ document, node }) => (document === page.id && node !== page.root ? [node] : [])),
        ),
        ...needs.flatMap((need) =>
          need.kind === 'component' && need.doing === 'seen' && (need.document === page.id || homes.get(need.document) !== 'page')
            ? [need.node]
            : [],
        ),
      ]),
    ],
    /** Origins elsewhere that may report: links to them say who comes. */
    origins: [...new Set(release.reporters.map(({ origin }) => origin))].sort(),
    // Always the seconds that part a bounce from a visit, which the site's own statistics want.
    stays: [...new Set([release.bounceSeconds, ...stays])].sort((one, other) => one - other),
  }
}

export function listedOn(page: ContentDocument, view: SiteView): DocumentId[] {
  return listedTypes(page).flatMap((type) => view.pagesOfType(type).map(({ id }) => id))
}
