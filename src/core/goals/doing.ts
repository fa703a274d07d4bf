import type { DocumentId } from '../ids'
import type { Happening } from './event'
import type { Goal, Library } from './goal'

/** Where a simulated visitor is, for what can happen on any page. */
interface Whereabouts {
  readonly document: DocumentId
  readonly path: string
  readonly pageType: string
  readonly order: string
  readonly value: number
}

/** What somebody does who reaches this goal, in order: for simulated visitors. Of any of several, the first. */
export function doing(goal: Goal, library: Library, at: Whereabouts, within: readonly Goal['id'][] = []): Happening[] {
  const { wiring } = goal
  const page = { kind: 'page' as const, document: at.document, path: at.path, pageType: at.pageType, arrival: null }
  const partsOf = (ids: readonly Goal['id'][]) =>
    ids.flatMap((id) => {
      const part = library.get(id)
      return part === undefined || within.includes(id) ? [] : [doing(part, library, at, [...within, goal.id])]
    })
  switch (wiring.kind) {
    case 'click':
      return [{ kind: 'click', document: at.document, nodes: [wiring.node], markers: [] }]
    case 'marker':
      return [{ kind: 'click', document: at.document, nodes: [], markers: [wiring.marker] }]
    case 'form':
      return [{ kind: 'form', document: wiring.document, nodes: [wiring.node] }]
    case 'page':
      return [{ ...page, document: wiring.document }]
    case 'pageType':
      return [{ ...page, pageType: wiring.pageType }]
    case 'address':
      return [{ ...page, path: wiring.text }]
    case 'outbound':
      return [
        {
          kind: 'outbound',
          document: at.document,
          address: wiring.by === 'host' ? `https://${wiring.text}/` : wiring.text,
        },
      ]
    case 'read':
      return [{ kind: 'read', document: wiring.document, node: wiring.node }]
    case 'stay':
    case 'noBounce':
      return [{ kind: 'stay', document: at.document, seconds: wiring.seconds }]
    case 'order':
      return [{ kind: 'order', order: at.order, value: at.value }]
    case 'event':
      return [{ kind: 'event', name: wiring.event, value: null }]
    case 'anyOf':
      return partsOf(wiring.goals)[0] ?? []
    case 'steps':
      return partsOf(wiring.goals).flat()
    default:
      return wiring satisfies never
  }
}
