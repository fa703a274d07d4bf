import type { DocumentId, NodeId, RoundId, VersionId } from '../ids'
import type { Goal, Library } from './goal'

/** Something a visitor did or was shown, with the moment at which it counts. */
export type VisitorEvent = { readonly visitor: string; readonly at: Date } & Happening

export type Happening =
  | { readonly kind: 'assigned'; readonly round: RoundId; readonly version: VersionId }
  | { readonly kind: 'seen'; readonly round: RoundId; readonly version: VersionId }
  | {
      readonly kind: 'page'
      readonly document: DocumentId
      readonly path: string
      readonly pageType: string
      /** The first page of a visit, with where the visitor came from and on what; `null` for every other page. */
      readonly arrival: { readonly source: string; readonly device: string } | null
    }
  /** A call to action was really seen. */
  | { readonly kind: 'call'; readonly document: DocumentId; readonly call: DocumentId }
  /** `nodes`: the component that was pressed, then those it stands in, from the inside out. */
  | {
      readonly kind: 'click'
      readonly document: DocumentId
      readonly nodes: readonly NodeId[]
      readonly markers: readonly string[]
    }
  | { readonly kind: 'form'; readonly document: DocumentId; readonly nodes: readonly NodeId[] }
  | { readonly kind: 'outbound'; readonly document: DocumentId; readonly address: string }
  | { readonly kind: 'read'; readonly document: DocumentId; readonly node: NodeId }
  | { readonly kind: 'stay'; readonly document: DocumentId; readonly seconds: number }
  /** `value` in the site's currency; below zero for a refund of the order with this number. */
  | { readonly kind: 'order'; readonly order: string; readonly value: number }
  | { readonly kind: 'event'; readonly name: string; readonly value: number | null }
  /** A link in a newsletter that leads to a call to action's destination. */
  | { readonly kind: 'letter'; readonly call: DocumentId; readonly letter: string }

type Of<Kind extends Happening['kind']> = Extract<VisitorEvent, { kind: Kind }>

/**
 * Whether this event is what the goal counts, whoever did it and whatever they were shown. A funnel is reached by no
 * single event: `credit` walks its steps. A refund reaches nothing; it takes worth back.
 */
export function reaches(goal: Goal, event: VisitorEvent, library: Library): boolean {
  const { wiring } = goal
  switch (wiring.kind) {
    case 'click':
      // Node ids differ over the whole site, and a menu's or a call to action's item stands on many pages.
      return event.kind === 'click' && event.nodes.includes(wiring.node)
    case 'marker':
      return event.kind === 'click' && event.markers.includes(wiring.marker)
    case 'form':
      return event.kind === 'form' && event.nodes.includes(wiring.node)
    case 'page':
      return event.kind === 'page' && event.document === wiring.document
    case 'pageType':
      return event.kind === 'page' && event.pageType === wiring.pageType
    case 'address':
      return event.kind === 'page' && fits(event.path, wiring.by, wiring.text)
    case 'outbound':
      return event.kind === 'outbound' && leadsTo(event, wiring.by, wiring.text)
    case 'read':
      return event.kind === 'read' && event.node === wiring.node
    case 'stay':
      return event.kind === 'stay' && event.seconds >= wiring.seconds
    case 'noBounce':
      return stayedOn(event, wiring.seconds)
    case 'order':
      return event.kind === 'order' && event.value >= 0
    case 'event':
      return event.kind === 'event' && event.name === wiring.event
    case 'anyOf':
      return wiring.goals.some((id) => {
        const part = library.get(id)
        return part !== undefined && part.id !== goal.id && reaches(part, event, library)
      })
    case 'steps':
      return false
    default:
      return wiring satisfies never
  }
}

/** Anything but being shown the first page of a visit, or leaving it within the seconds. */
export function stayedOn(event: VisitorEvent, seconds: number): boolean {
  switch (event.kind) {
    case 'page':
      return event.arrival === null
    case 'stay':
      return event.seconds >= seconds
    case 'click':
    case 'form':
    case 'outbound':
    case 'order':
      return true
    default:
      return false
  }
}

function fits(path: string, by: 'is' | 'startsWith' | 'contains', text: string): boolean {
  if (by === 'is') return path === text
  return by === 'startsWith' ? path.startsWith(text) : path.includes(text)
}

/** A host also stands for what is below it: “example.org” for “www.example.org”. */
function leadsTo({ address }: Of<'outbound'>, by: 'host' | 'is' | 'startsWith', text: string): boolean {
  if (by === 'is') return address === text
  if (by === 'startsWith') return address.startsWith(text)
  const host = /^https?:\/\/([^/?#:]+)/.exec(address)?.[1]?.toLowerCase()
  const wanted = text.toLowerCase()
  return host !== undefined && (host === wanted || host.endsWith(`.${wanted}`))
}

/** What this conversion is worth: the goal's own figure, or what was reported with an order or event. */
export function worthOf(goal: Goal, event: VisitorEvent): number {
  if (goal.worthFrom === 'fixed') return goal.worth
  if (event.kind === 'order') return event.value
  return event.kind === 'event' ? (event.value ?? goal.worth) : goal.worth
}
