import { ORIGINAL } from '@/core/decide'
import { apply, commonAncestor, reachOf, type ContentDocument, type Edit } from '@/core/document'
import { BY_RULE, levelsOf, partsOf, routeOf, type Personalization, type TestedPart } from '@/core/experiment'
import type { DocumentId, NodeId, VersionId } from '@/core/ids'
import type { Release } from '@/core/release'
import { referencesOf } from '@/components/references'
import { isFor } from '@/components/style/reach'
import { heldOutOf } from './chunk'
import type { SiteView } from '@/components/look'

/** One part that varies, in one shape whether by chance or by rule, and for a test of combinations once for each part. */
export interface Varying {
  readonly key: string
  readonly part: TestedPart
  /** The original left out. For a combination, the edits are those of its level of this part. */
  readonly versions: readonly { readonly id: VersionId; readonly edits: readonly Edit[] }[]
  /** Names under which it shows the original and counts that: of a test the original’s own, of rules one for each. */
  readonly originals: readonly string[]
  /** “round/version …” for what reports that it was seen, by its name; empty where nothing of it is counted. */
  readonly marks: ReadonlyMap<string, string>
}

type Round = Release['rounds'][number]

/** Fields of a page's root that say something about it and show nothing on it. */
const aboutPage = new Set(['title', 'description', 'listTitle', 'teaser', 'picture', 'route', 'path', 'pageType', 'campaign'])

export function varyingOf(release: Release): Varying[] {
  // Rules first: they pick the base, and a test's edits apply on it where they fit.
  return [
    ...release.personalizations.map((personalization): Varying => {
      const { id, document, node, rules } = personalization
      return {
        key: id,
        part: { document, node },
        versions: rules.map(({ version }) => version),
        ...countedBy(personalization),
      }
    }),
    ...release.rounds.flatMap((round) =>
      partsOf(round.design).map((part, index): Varying => ({
        key: round.test,
        part,
        versions: round.design.arms
          .filter(({ version }) => version !== ORIGINAL)
          .map(({ version }) => ({ id: version, edits: editsOf(round, levelsOf(round.design, version)[index]) })),
        originals: [ORIGINAL],
        marks: new Map([ORIGINAL, ...round.design.arms.map(({ version }) => version)].map((id) => [id, `${round.id}/${id}`])),
      })),
    ),
  ]
}

/** What counts of rules: each version of one, and the original of those who are held out of it. */
function countedBy({ rules, round: together }: Personalization): Pick<Varying, 'originals' | 'marks'> {
  const originals: string[] = []
  const marks = new Map<string, string>()
  for (const [place, { version, round }] of rules.entries()) {
    if (round === null) continue
    const also = (shown: VersionId) => (together === null ? '' : ` ${together}/${shown}`)
    marks.set(version.id, `${round}/${version.id}${also(BY_RULE)}`)
    marks.set(heldOutOf(place), `${round}/${ORIGINAL}${also(ORIGINAL)}`)
    originals.push(heldOutOf(place))
  }
  return { originals, marks }
}

function editsOf(round: Round, level: VersionId | undefined): readonly Edit[] {
  return round.versions.find(({ id }) => id === level)?.edits ?? []
}

/** Whether a varying part shows at this place of a page: it stands here, is shown here by reference, or is listed here. */
export function isSpot(
  varying: Varying,
  page: ContentDocument,
  anchor: NodeId | null,
  document: ContentDocument,
  node: NodeId,
): boolean {
  const { part } = varying
  if (document.id === part.document)
    return document.id === page.id ? node === anchor : document.kind === 'page' && node === document.root
  return Object.values(document.nodes[node]?.props ?? {}).includes(part.document) && shows(document, node, part.document)
}

function shows(document: ContentDocument, node: NodeId, shown: DocumentId): boolean {
  return referencesOf({ ...document, nodes: { [node]: document.nodes[node] ?? { type: '', props: {}, children: [] } } }).some(
    (reference) => reference.document === shown,
  )
}

/** Where a page shows another document by reference, directly or inside a shared component. */
export function placesOf(page: ContentDocument, document: DocumentId, view: SiteView): string[] {
  return referencesOf(page).flatMap(({ node, document: shown }) => {
    if (shown === document) return [`${page.id}/${node}`]
    const other = view.document(shown)
    return other?.kind === 'shared' && other.id !== page.id ? placesOf(other, document, view) : []
  })
}

/** The lowest component in which every version's difference shows; the part itself if they are all inside it. */
export function anchorOf(page: ContentDocument, { part, versions }: Varying): NodeId | null {
  if (part.document !== page.id) return null
  const shown = versions
    .flatMap(({ edits }) => edits)
    .filter((edit) => !(edit.kind === 'set' && edit.node === page.root && aboutPage.has(edit.prop)))
  if (part.node === page.root && shown.length === 0) return null
  const reached = [...(part.node === page.root ? [] : [part.node]), ...reachOf(page, shown)]
  return commonAncestor(
    page,
    reached.filter((node) => page.nodes[node] !== undefined),
  )
}

/** Whether being shown means that the page was shown: a whole page, a route, a style. */
export function isWhole(varying: Varying, page: ContentDocument, view: SiteView): boolean {
  const kind = varying.part.document === page.id ? page.kind : view.document(varying.part.document)?.kind
  if (kind === 'style') return true
  return varying.part.document === page.id && varying.part.node === page.root && !isListing(varying, page)
}

/** Versions that change nothing but how an article is listed elsewhere count where it is listed. */
function isListing({ versions }: Varying, page: ContentDocument): boolean {
  const edits = versions.flatMap(({ edits: of }) => of)
  return (
    edits.length > 0 &&
    edits.every(
      (edit) => edit.kind === 'set' && edit.node === page.root && ['listTitle', 'teaser', 'picture'].includes(edit.prop),
    )
  )
}

/** Whether a page is another one because of this part. */
export function touchesPage(page: ContentDocument, varying: Varying, view: SiteView, listed: ReadonlySet<DocumentId>): boolean {
  const { document } = varying.part
  if (document === page.id) return !isListing(varying, page)
  const other = view.document(document)
  if (other === null) return false
  if (other.kind === 'style') return isFor(other, page)
  return other.kind === 'page'
    ? listed.has(document) && changesListing(varying, other)
    : placesOf(page, document, view).length > 0
}

function changesListing({ versions }: Varying, page: ContentDocument): boolean {
  return versions.some(({ edits }) =>
    edits.some(
      (edit) => edit.kind === 'set' && edit.node === page.root && ['listTitle', 'teaser', 'picture', 'title'].includes(edit.prop),
    ),
  )
}

/** Where the versions of a page's own root send its visitors; the pages they lead to take part without drawing anybody. */
export function routesOf(page: ContentDocument, varying: Varying): Map<VersionId, DocumentId> {
  const routes = new Map<VersionId, DocumentId>()
  if (varying.part.document !== page.id) return routes
  for (const { id, edits } of varying.versions) {
    const route = routeOf(apply(page, edits).document)
    if (route !== null && route !== page.id) routes.set(id, route)
  }
  return routes
}
