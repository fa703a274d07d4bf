import { Temporal } from 'temporal-polyfill'
import type { ReadinessCheck, ReadinessFacts } from './check'

type Found =
  | { readonly code: 'noSuchTime'; readonly which: 'start' | 'end' }
  | { readonly code: 'endsBeforeStart' }
  | { readonly code: 'endIsPast' }
  | { readonly code: 'partOfAWeek'; readonly days: number }

/** By the site’s clock, so that they can be told apart as they are written. */
export const schedule: ReadinessCheck<Found> = {
  passed: 'It starts before it ends',
  blocks: timesFit,
  advises: ({ design, now }) => {
    const { start, end } = design.schedule
    const [from, to] = [read(start ?? now), end === null ? null : read(end)]
    if (from === null || to === null || Temporal.PlainDateTime.compare(to, from) <= 0) return []
    const days = Math.round(from.until(to).total('days'))
    return days % 7 === 0 ? [] : [{ code: 'partOfAWeek', days }]
  },
  words: {
    noSuchTime: ({ which }) => ({
      words: `The ${which} is set to a day that does not exist. Choose another one.`,
      settle: null,
    }),
    endsBeforeStart: () => ({ words: 'It would end before it starts. Choose a later end.', settle: null }),
    endIsPast: () => ({ words: 'Its end is past already, so it would end at once. Choose a later one, or none.', settle: null }),
    partOfAWeek: ({ days }) => ({
      words: `It ends after ${days} ${days === 1 ? 'day' : 'days'}, which are no whole weeks: some weekdays would count more than others. An end on the weekday of its start is fairer.`,
      settle: null,
    }),
  },
}

function timesFit({ design, now }: ReadinessFacts): Found[] {
  const { start, end } = design.schedule
  const wrong = (['start', 'end'] as const).flatMap((which): Found[] => {
    const clock = design.schedule[which]
    return clock === null || read(clock) !== null ? [] : [{ code: 'noSuchTime', which }]
  })
  if (wrong.length > 0 || end === null) return wrong
  // A start that is past has been missed, and is now.
  const begin = start === null || start < now ? now : start
  if (end <= now) return [{ code: 'endIsPast' }]
  return end <= begin ? [{ code: 'endsBeforeStart' }] : []
}

function read(clock: string): Temporal.PlainDateTime | null {
  try {
    return Temporal.PlainDateTime.from(clock, { overflow: 'reject' })
  } catch {
    return null
  }
}
