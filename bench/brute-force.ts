import type { Goal } from '@/core/goals'
import type { StampedEvent } from '@/core/events'

const DAY = 86_400_000
const HALF_HOUR = 30 * 60_000

/*
 * The rules of counting, once more and from scratch: slow, simple, and of no use to the product. It shares nothing with the
 * books but the events.
 */
export function bruteForce(
  events: readonly StampedEvent[],
  { round, goals }: { round: string; goals: readonly Goal[] },
): Map<string, number> {
  const sums = new Map<string, number>()
  const add = (name: string, by: number) => sums.set(name, (sums.get(name) ?? 0) + by)
  const people = new Map<string, StampedEvent[]>()
  for (const event of events) people.set(event.visitor, [...(people.get(event.visitor) ?? []), event])
  for (const arrived of people.values()) {
    // A stable sort keeps the order of arrival for the same moment.
    const own = [...arrived].sort((a, b) => a.at.getTime() - b.at.getTime())
    test(own, round, goals, add)
    site(own, goals, add)
  }
  return sums
}

type Add = (name: string, by: number) => void
type Of<Kind extends StampedEvent['kind']> = Extract<StampedEvent, { kind: Kind }>

function beginnings(own: readonly StampedEvent[]): StampedEvent[] {
  const begun: StampedEvent[] = []
  let lastAt = -Infinity
  let going = false
  for (const event of own) {
    if (event.kind === 'order' || event.kind === 'event') continue
    const at = event.at.getTime()
    if (event.kind === 'page' && (!going || at - lastAt > HALF_HOUR)) {
      begun.push(event)
      going = true
      lastAt = at
    } else if (going && at - lastAt <= HALF_HOUR) lastAt = at
  }
  return begun
}

function test(own: readonly StampedEvent[], round: string, goals: readonly Goal[], add: Add): void {
  const first = own.find((event) => (event.kind === 'assigned' || event.kind === 'seen') && event.round === round) as
    Of<'assigned' | 'seen'> | undefined
  if (first === undefined) return
  const version = first.version
  add(` ${version} assigned`, 1)
  const firstAt = own.indexOf(first)
  const exposedAt = own.findIndex(
    (event, index) =>
      index >= firstAt &&
      ((event.kind === 'seen' && event.version === version) || (event.kind === 'click' && event.nodes.includes('hero' as never))),
  )
  if (exposedAt < 0) return
  add(` ${version} exposed`, 1)
  const exposure = own[exposedAt] as StampedEvent
  const after = own.slice(exposedAt + (exposure.kind === 'seen' ? 1 : 0))
  for (const goal of goals) {
    const within = after.filter((event) => event.at.getTime() <= exposure.at.getTime() + goal.withinDays * DAY)
    const visits =
      1 +
      beginnings(own).filter(
        (event) => event.at > exposure.at && event.at.getTime() <= exposure.at.getTime() + goal.withinDays * DAY,
      ).length
    add(`${goal.id} ${version} visits`, visits)
    const { times, worth } = reached(goal, within, after)
    if (times > 0) add(`${goal.id} ${version} converters`, 1)
    add(`${goal.id} ${version} conversions`, times)
    add(`${goal.id} ${version} worth`, worth)
    add(`${goal.id} ${version} worthSquared`, worth * worth)
  }
}

/** Of the four goals that there are. @param all for refunds, which count whenever they come */
function reached(goal: Goal, within: readonly StampedEvent[], all: readonly StampedEvent[]): { times: number; worth: number } {
  const pressed = (event: StampedEvent) => event.kind === 'click' && event.nodes.includes('hero' as never)
  const reserved = (event: StampedEvent) => event.kind === 'page' && event.document === 'done'
  switch (goal.id as string) {
    case 'reserved':
      return within.some(reserved) ? { times: 1, worth: goal.worth } : { times: 0, worth: 0 }
    case 'pressed': {
      const times = within.filter(pressed).length
      return { times, worth: times * goal.worth }
    }
    case 'way': {
      const begun = within.findIndex(pressed)
      return begun >= 0 && within.slice(begun + 1).some(reserved) ? { times: 1, worth: goal.worth } : { times: 0, worth: 0 }
    }
    default: {
      const orders = within.filter((event): event is Of<'order'> => event.kind === 'order' && event.value >= 0)
      const worth = orders.reduce((sum, order) => {
        const back = all
          .filter((event): event is Of<'order'> => event.kind === 'order' && event.value < 0 && event.order === order.order)
          .reduce((total, refund) => total - refund.value, 0)
        return sum + order.value - Math.min(back, order.value)
      }, 0)
      return { times: orders.length, worth }
    }
  }
}

function site(own: readonly StampedEvent[], goals: readonly Goal[], add: Add): void {
  const pages = own.filter((event): event is Of<'page'> => event.kind === 'page')
  add('* times', pages.length)
  if (pages.length > 0) add('* visitors', 1)
  add('u:* visitors', new Set(pages.map(({ at }) => at.toISOString().slice(0, 10))).size)
  const begun = beginnings(own)
  add('v:* times', begun.length)
  add('e:* times', begun.filter((event) => wentOn(own, event)).length)
  for (const goal of goals.filter(({ id }) => (id as string) !== 'pressed')) {
    const { times, worth } = reached(goal, own, own)
    const looks = own.filter((event) => event.kind === 'page' && event.document === 'done').length
    add(`g:${goal.id} times`, (goal.id as string) === 'reserved' ? looks : times)
    if (times > 0) add(`g:${goal.id} visitors`, 1)
    add(`g:${goal.id} worth`, worth)
  }
}

/** Whether something was done within the visit but for loading its first page: pressing, ordering, nothing else here. */
function wentOn(own: readonly StampedEvent[], begun: StampedEvent): boolean {
  let lastAt = begun.at.getTime()
  for (const event of own.slice(own.indexOf(begun) + 1)) {
    if (event.kind === 'order' || event.kind === 'event') continue
    if (event.at.getTime() - lastAt > HALF_HOUR) return false
    if (event.kind === 'click') return true
    lastAt = event.at.getTime()
  }
  return false
}
