import * as z from 'zod'
import { segmentIdSchema, type SegmentId } from '../ids'
import { comparisonsIn, conditionSchema, type Condition } from './condition'

/** Levels of groups in a segment: with it, what names it stays within what can be kept. */
const DEEPEST = 4

/** A condition with a name, for rules and tests to share. It is made of what can be asked, not of other segments. */
export const segmentSchema = z.object({
  id: segmentIdSchema,
  name: z.string().trim().min(1, 'give the segment a name').max(80, 'a name has at most 80 characters'),
  condition: conditionSchema
    .refine((condition) => segmentsIn(condition).length === 0, 'a segment cannot be made of other segments: say what they ask')
    .refine((condition) => depthOf(condition) <= DEEPEST, `a segment has groups within groups at most ${DEEPEST} deep`),
})
export type Segment = Readonly<z.infer<typeof segmentSchema>>

/** Every segment that it names, once. */
export function segmentsIn(condition: Condition): SegmentId[] {
  return [...new Set(comparisonsIn(condition).flatMap((one) => (one.kind === 'segment' ? [one.segment] : [])))]
}

/** With other names for segments: as they are called where it comes to. */
export function withSegments(condition: Condition, names: ReadonlyMap<SegmentId, SegmentId>): Condition {
  if ('of' in condition) return { kind: condition.kind, of: condition.of.map((part) => withSegments(part, names)) }
  return condition.kind === 'segment' ? { ...condition, segment: names.get(condition.segment) ?? condition.segment } : condition
}

const NOBODY: Condition = { kind: 'any', of: [] }

/** With what each segment asks in its place. Nobody is shown what names a segment that is gone. */
export function resolved(condition: Condition, segments: readonly Segment[]): Condition {
  const named = segmentsIn(condition)
  if (named.length === 0) return condition
  const isGone = named.some((id) => !segments.some((one) => one.id === id))
  return isGone ? NOBODY : inPlace(condition, segments)
}

function inPlace(condition: Condition, segments: readonly Segment[]): Condition {
  if ('of' in condition) return { kind: condition.kind, of: condition.of.map((part) => inPlace(part, segments)) }
  if (condition.kind !== 'segment') return condition
  const asked = segments.find(({ id }) => id === condition.segment)?.condition ?? NOBODY
  return condition.fits ? asked : { kind: 'none', of: [asked] }
}

function depthOf(condition: Condition): number {
  return 'of' in condition ? 1 + Math.max(0, ...condition.of.map(depthOf)) : 0
}
