import * as z from 'zod'
import type { VisitorEvent } from '../events'
import { worthOf, type Goal } from '../goals'
import type { DocumentId, NodeId } from '../ids'
import { kept, mapOf, textsSchema } from './codec'
import type { Reached } from './progress'
import type { Adder } from './rows'

const DAY = 86_400_000
/** How long after a press what a visitor does is still its doing. */
const CREDIT_DAYS = 14

/** A call to action that was pressed: where it stood, and when, in milliseconds since 1970. */
const pressSchema = z.object({
  call: kept<DocumentId>(),
  document: kept<DocumentId>(),
  channel: z.enum(['page', 'newsletter']),
  /** The newsletter that it was pressed in. */
  letter: z.number().nullable(),
  at: z.number(),
})
export type Press = z.infer<typeof pressSchema>

const orderFactsSchema = z.object({
  at: z.number(),
  value: z.number(),
  refunded: z.number(),
  /** The call to action that led to it. */
  press: pressSchema.nullable(),
  /** How much of it was credited to that call, and is still. */
  credited: z.number(),
})

/** What calls to action have to remember of a visitor. */
export const callsSchema = z.object({
  /** The one that was pressed last. */
  press: pressSchema.nullable(),
  /** Goals that were credited, each with its call: once for each visitor, goal and call. */
  credited: textsSchema,
  /** Orders by their number. */
  orders: mapOf(z.string(), orderFactsSchema),
  /** Refunds of orders that have not been seen, by their number. */
  refunds: mapOf(z.string(), z.number()),
})
export type CallsState = z.output<typeof callsSchema>

interface Around {
  readonly calls: ReadonlyMap<NodeId, DocumentId>
  /** What the event is for the goals of the site. */
  readonly reached: readonly Reached[]
  /** The goals of the site; steps of funnels are none of them. */
  readonly goals: readonly Goal[]
  readonly day: string
  readonly sums: Adder
}

/**
 * Calls to action by day and page: seen, pressed, and the goals that whoever pressed one reached within fourteen days,
 * each credited to the call that was pressed last.
 *
 * @param state is changed
 */
export function foldCalls(state: CallsState, event: VisitorEvent, around: Around): void {
  const add = (press: Omit<Press, 'at' | 'letter'>, by: Parameters<typeof around.sums.add<'calls'>>[2]) => {
    const { call, document, channel } = press
    around.sums.add('calls', { call, day: around.day, document, channel }, by)
  }
  const at = event.at.getTime()
  if (event.kind === 'letter') {
    const press: Press = { call: event.call, document: event.call, channel: 'newsletter', letter: event.letter, at }
    if (event.did === 'shown') return add(press, { views: 1 })
    state.press = press
    return add(press, { clicks: 1 })
  }
  if (event.kind === 'call') add({ call: event.call, document: event.document, channel: 'page' }, { views: 1 })
  if (event.kind === 'click') {
    const call = event.nodes.map((node) => around.calls.get(node)).find((found) => found !== undefined)
    if (call !== undefined) {
      state.press = { call, document: event.document, channel: 'page', letter: null, at }
      add(state.press, { clicks: 1 })
    }
  }
  const { press } = state
  const last = press !== null && at >= press.at && at <= press.at + CREDIT_DAYS * DAY ? press : null
  let credited = 0
  if (last !== null)
    for (const { goal } of around.reached.filter(({ times }) => times > 0)) {
      const credit = `${goal} ${last.call}`
      const found = around.goals.find(({ id }) => id === goal)
      if (found === undefined || state.credited.has(credit)) continue
      state.credited.add(credit)
      // Whether it counts again or not.
      const worth = worthOf(found, event)
      add(last, { submissions: 1, worth })
      if (event.kind === 'order' && found.worthFrom === 'reported') credited += worth
    }
  if (event.kind === 'order') foldOrder(state, event, last, credited, add)
}

function foldOrder(
  state: CallsState,
  event: Extract<VisitorEvent, { kind: 'order' }>,
  press: Press | null,
  credited: number,
  add: (press: Press, by: { worth: number }) => void,
): void {
  if (event.value >= 0) {
    state.orders.set(event.order, { at: event.at.getTime(), value: event.value, refunded: 0, press, credited })
    const waiting = state.refunds.get(event.order)
    if (waiting === undefined) return
    state.refunds.delete(event.order)
    return takeBack(state, event.order, waiting, add)
  }
  if (state.orders.has(event.order)) takeBack(state, event.order, -event.value, add)
  else state.refunds.set(event.order, (state.refunds.get(event.order) ?? 0) - event.value)
}

/** What is left of the order at most; the same share of what it was credited for. */
function takeBack(state: CallsState, number: string, value: number, add: (press: Press, by: { worth: number }) => void): void {
  const order = state.orders.get(number)
  if (order === undefined) return
  const back = Math.min(order.value - order.refunded, value)
  if (back <= 0) return
  const from = order.value === 0 ? 0 : (order.credited * back) / order.value
  state.orders.set(number, { ...order, refunded: order.refunded + back })
  if (order.press !== null && from !== 0) add(order.press, { worth: -from })
}
