import * as z from 'zod'
import type { SeenPage, Visitor } from '../visitor'
import { oneOf, type Word } from './comparison'

/** How far back something was seen. */
export const seenWithin = z.enum(['visit', 'ever'])
export type SeenWithin = z.infer<typeof seenWithin>

export const pagesWithin = (within: SeenWithin | undefined, { pagesSeen, pagesEver }: Visitor): readonly SeenPage[] =>
  within === 'ever' ? pagesEver : pagesSeen

export function withinWord<C>(within: SeenWithin | undefined, put: (within: SeenWithin) => C): Word<C> {
  return oneOf('How far back', within ?? 'visit', { visit: 'in this visit', ever: 'in this visit or before' }, put)
}
