import * as z from 'zod'
import { goalIdSchema } from '../../ids'
import { comparisonKind, oneOf } from './comparison'

const schema = z.object({ kind: z.literal('goalReached'), goal: goalIdSchema, reached: z.boolean() })

/** What a visitor did before, in this browser, or what was reported of them from elsewhere, whenever that was. */
export const goalReached = comparisonKind(schema, {
  label: 'the goal',
  sentence: (comparison, { goals }) => [
    {
      control: 'choice',
      label: 'Goal',
      value: comparison.goal,
      quoted: true,
      options: [
        ...goals.map(({ id, name }) => ({ value: id, label: name })),
        ...(goals.some(({ id }) => id === comparison.goal) ? [] : [{ value: comparison.goal, label: 'a goal that is gone' }]),
      ],
      put: (to) => {
        const goal = goals.find(({ id }) => id === to)
        return goal === undefined ? null : { ...comparison, goal: goal.id }
      },
    },
    oneOf(
      'Reached',
      comparison.reached ? 'reached' : 'not',
      { reached: 'was reached before', not: 'was not reached yet' },
      (code) => ({
        ...comparison,
        reached: code === 'reached',
      }),
    ),
  ],
  holds: ({ goal, reached }, { goalsReached }) => goalsReached.includes(goal) === reached,
  begins: ({ goals: [first] }) => (first === undefined ? null : { kind: 'goalReached', goal: first.id, reached: true }),
  remembered: true,
})
