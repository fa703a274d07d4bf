import * as z from 'zod'
import { documentIdSchema, nodeIdSchema, roundIdSchema, versionIdSchema, type GoalId } from '../ids'
import type { Goal, Library } from './goal'

const round = { round: roundIdSchema, version: versionIdSchema }
const document = documentIdSchema

/** What can happen, as it is kept on its way to being counted. */
export const happeningSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('assigned'), ...round }),
  z.object({ kind: z.literal('seen'), ...round }),
  z.object({
    kind: z.literal('page'),
    document,
    path: z.string(),
    pageType: z.string(),
    /** The first page of a visit, with where the visitor came from and on what; `null` for every other page. */
    arrival: z.object({ source: z.string(), device: z.string() }).nullable(),
  }),
  /** A call to action was really seen. */
  z.object({ kind: z.literal('call'), document, call: documentIdSchema }),
  /** `nodes`: the component that was pressed, then those it stands in, from the inside out. */
  z.object({
    kind: z.literal('click'),
    document,
    nodes: z.array(nodeIdSchema).readonly(),
    markers: z.array(z.string()).readonly(),
  }),
  z.object({ kind: z.literal('form'), document, nodes: z.array(nodeIdSchema).readonly() }),
  z.object({ kind: z.literal('outbound'), document, address: z.string() }),
  z.object({ kind: z.literal('read'), document, node: nodeIdSchema }),
  z.object({ kind: z.literal('stay'), document, seconds: z.number() }),
  /** `value` in the site's currency; below zero for a refund of the order with this number. */
  z.object({ kind: z.literal('order'), order: z.string(), value: z.number() }),
  z.object({ kind: z.literal('event'), name: z.string(), value: z.number().nullable() }),
  /** A call to action in a newsletter that was opened, or whose link was followed, by whom it was sent to. */
  z.object({
    kind: z.literal('letter'),
    call: documentIdSchema,
    letter: z.number(),
    recipient: z.string(),
    did: z.enum(['shown', 'followed']),
  }),
])
export type Happening = Readonly<z.infer<typeof happeningSchema>>

/** Something a visitor did or was shown, with the moment at which it counts. */
export type VisitorEvent = { readonly visitor: string; readonly at: Date } & Happening

type Of<Kind extends Happening['kind']> = Extract<VisitorEvent, { kind: Kind }>

const NONE: readonly GoalId[] = []

/**
 * Whether this event is what the goal counts, whoever did it and whatever they were shown. A funnel is reached by no
 * single event: `credit` walks its steps. A refund reaches nothing; it takes worth back.
 */
export function reaches(goal: Goal, event: VisitorEvent, library: Library, within: readonly GoalId[] = NONE): boolean {
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
        // What is made of itself, by way of others, counts nothing by that way.
        return (
          part !== undefined && part.id !== goal.id && !within.includes(id) && reaches(part, event, library, [...within, goal.id])
        )
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
