import * as z from 'zod'
import { parts } from './any-of'
import { goalKind } from './kind'

/** Other goals, all of them, in this order. */
export const steps = goalKind(z.object({ kind: z.literal('steps'), goals: parts('a funnel has at least two steps') }), {
  label: 'Several goals are reached one after the other',
  words: ({ goals }, { goalNamed }) => goals.map(goalNamed).join(' → '),
  // By no single event: its steps are walked.
  reaches: () => false,
  doing: ({ goals }, _, part) => goals.flatMap((goal) => [...part(goal)]),
  needs: ({ goals }) => ({ kind: 'goals', of: goals, all: true }),
  toldByPage: false,
  reported: false,
  begins: ({ others }) => ({ kind: 'steps', goals: others.slice(0, 2) }),
})
