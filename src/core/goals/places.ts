import { nodeAt, walk, type ContentDocument } from '../document'
import type { DocumentId, GoalId, NodeId } from '../ids'
import { needOf, type Goal, type Library } from './goal'
import type { PageFacts } from './kinds/kind'

/** Where something is: a component, or a page as a whole. */
export interface Place {
  readonly document: DocumentId
  readonly node: NodeId | null
}

export type Published = ReadonlyMap<DocumentId, ContentDocument>

/** Where on the published site a goal can be reached; nowhere, if it is on any page or elsewhere. Of a goal made of others, theirs. */
export function placesOf(goal: Goal, library: Library, published: Published, within: readonly GoalId[] = []): Place[] {
  const need = needOf(goal)
  switch (need.kind) {
    case 'component': {
      const { document, node } = need
      return published.get(document)?.nodes[node] === undefined ? [] : [{ document, node }]
    }
    case 'page':
      return published.has(need.document) ? [{ document: need.document, node: null }] : []
    case 'marker':
      return [...published.values()].flatMap((document) =>
        carriersOf(document, need.marker).map((node) => ({ document: document.id, node })),
      )
    case 'somePage':
      return pagesThat(need.fits, published).map(({ id }) => ({ document: id, node: null }))
    case 'goals':
      return need.of.flatMap((id) => {
        const part = within.includes(id) || id === goal.id ? undefined : library.get(id)
        return part === undefined ? [] : placesOf(part, library, published, [...within, goal.id])
      })
    case 'nothing':
      return []
    default:
      return need satisfies never
  }
}

/** What keeps a goal from ever counting on the published site, in words; empty where nothing does. */
export function lackOf(goal: Goal, library: Library, published: Published): string {
  const need = needOf(goal)
  const isNowhere = () => placesOf(goal, library, published).length === 0
  switch (need.kind) {
    case 'component':
      if (!published.has(need.document)) return 'What it stands on is not published.'
      return isNowhere() ? 'Its component is no longer on the published page. Point at another one.' : ''
    case 'page':
      return isNowhere() ? 'Its page is not published.' : ''
    case 'marker':
      return isNowhere() ? `Nothing that is published carries the marker “${need.marker}”.` : ''
    case 'somePage':
      return isNowhere() ? need.lack : ''
    case 'goals':
      return need.of.every((id) => library.has(id)) ? '' : 'A goal that it is made of is gone. Take it out.'
    case 'nothing':
      return ''
    default:
      return need satisfies never
  }
}

/** The components of a document that carry a marker. */
export function carriersOf(document: ContentDocument, marker: string): NodeId[] {
  return walk(document).filter((id) => nodeAt(document, id).props.marker === marker)
}

export function pagesThat(fits: (page: PageFacts) => boolean, published: Published): ContentDocument[] {
  return [...published.values()].filter((document) => document.kind === 'page' && fits(factsOf(document)))
}

function factsOf(page: ContentDocument): PageFacts {
  const { path, pageType } = page.nodes[page.root]?.props ?? {}
  return { path: String(path ?? ''), pageType: String(pageType ?? '') }
}
