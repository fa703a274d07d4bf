import { isForEverybody, type Draw } from '../decide'
import type { Design, Round } from './design'

/**
 * A round as far as deciding goes; the one place that says so, for the site, for newsletters and for rehearsals.
 *
 * @param keptOnly on the page that a route leads to
 */
export function drawOf(
  { test, id, salt, lots, drawnAgain, design }: Round,
  { paused, keptOnly = false }: { readonly paused: boolean; readonly keptOnly?: boolean },
): Draw {
  const { audience, keeping, share, arms } = design
  return {
    ...{ test, round: id, salt, share, arms, paused },
    ...(drawnAgain === 0 ? {} : { again: drawnAgain }),
    ...(lots === null ? {} : { apart: { group: design.group, lots } }),
    ...(keeping === 'browser' ? {} : { keeping }),
    ...(isForEverybody(audience) ? {} : { audience }),
    ...(keptOnly ? { keptOnly } : {}),
  }
}

/** How often visitors have been drawn anew, once this design takes the place of that round. */
export function drawnAgain(before: Pick<Round, 'design' | 'drawnAgain'> | undefined, { arms }: Pick<Design, 'arms'>): number {
  if (before === undefined) return 0
  const isGone = before.design.arms.some(({ version }) => !arms.some((arm) => arm.version === version))
  return before.drawnAgain + (isGone ? 1 : 0)
}
