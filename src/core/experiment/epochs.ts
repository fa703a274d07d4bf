import * as z from 'zod'
import type { VersionId } from '../ids'
import { armSchema, versionSchema, type DesignArm, type Round } from './design'

/** What a running round was changed to, so that another stretch of constant weights began. */
export const laterEpochSchema = z.object({
  at: z.coerce.date(),
  arms: z.array(armSchema),
  share: z.number().int().min(0).max(10_000),
  /** All that the arms show now; of those that were there before, as they were. */
  versions: z.array(versionSchema),
  drawnAgain: z.number().int().min(0),
  lots: z
    .array(z.tuple([z.number(), z.number()]))
    .nullable()
    .default(null),
  /** Why, in words. */
  because: z.string().max(300),
})
export type LaterEpoch = Readonly<z.infer<typeof laterEpochSchema>>

/** A stretch of a round with constant weights; a visitor belongs to the one they were drawn in. */
export interface Epoch {
  readonly since: Date
  readonly arms: readonly DesignArm[]
  readonly because: string
}

/** Of a round, oldest first: at least one. */
export function epochsOf(began: Round, startedAt: Date, later: readonly LaterEpoch[]): Epoch[] {
  return [
    { since: startedAt, arms: began.design.arms, because: began.because },
    ...later.map(({ at, arms, because }) => ({ since: at, arms, because })),
  ]
}

/** A round as it draws now, with every version that it ever showed. */
export function roundNow(began: Round, later: readonly LaterEpoch[]): Round {
  const last = later.at(-1)
  if (last === undefined) return began
  const known = new Map([...began.versions, ...later.flatMap(({ versions }) => versions)].map((version) => [version.id, version]))
  const { arms, share, drawnAgain, lots } = last
  return { ...began, design: { ...began.design, arms, share }, versions: [...known.values()], drawnAgain, lots }
}

/** Every arm that was ever drawn, in the order in which they came, as it was last. */
export function armsEver(epochs: readonly Pick<Epoch, 'arms'>[]): DesignArm[] {
  const found = new Map<VersionId, DesignArm>()
  for (const { arms } of epochs) for (const arm of arms) found.set(arm.version, arm)
  return [...found.values()]
}
