import * as z from 'zod'
import { goalIdSchema } from '../../ids'
import { goalKind } from './kind'

/** As many as a goal can be made of. */
const MOST = 10

export const parts = (least: string) => z.array(goalIdSchema).min(2, least).max(MOST)

/** One of other goals. */
export const anyOf = goalKind(z.object({ kind: z.literal('anyOf'), goals: parts('choose at least two goals') }), {
  label: 'Any of several goals is reached',
  words: ({ goals }, { goalNamed }) => `any of: ${goals.map(goalNamed).join(', ')}`,
  reaches: ({ goals }, _, part) => goals.some(part),
  // Of any of several, the first.
  doing: ({ goals }, _, part) => goals.map(part).find((done) => done.length > 0) ?? [],
  needs: ({ goals }) => ({ kind: 'goals', of: goals, all: false }),
  toldByPage: true,
  reported: true,
  begins: ({ others }) => ({ kind: 'anyOf', goals: others.slice(0, 2) }),
})
