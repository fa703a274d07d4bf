import { fitting, isForEverybody, numberOfGroup, numbersOf, resolved, type Draw } from '../decide'
import type { TestId } from '../ids'
import type { Design, DesignArm, Round } from './design'
import type { Epoch } from './epochs'

/**
 * A round as far as deciding goes; the one place that says so, for the site, for newsletters and for rehearsals.
 *
 * @param keptOnly on the page that a route leads to
 */
export function drawOf(
  { test, id, salt, lots, drawnAgain, generation, design, segments }: Round,
  { paused, keptOnly = false }: { readonly paused: boolean; readonly keptOnly?: boolean },
): Draw {
  const { keeping, share, arms } = design
  const audience = resolved(design.audience, segments)
  return {
    ...{ test, round: id, share, arms, paused },
    numbers: numbersOf(salt, drawnAgain + GENERATION * generation),
    ...(generation === 0 ? {} : { keptAs: keptKey({ test, generation }) }),
    ...(lots === null ? {} : { apart: { number: numberOfGroup(design.group), places: lots } }),
    ...(keeping === 'browser' ? {} : { keeping }),
    ...(isForEverybody(audience) ? {} : { audience: fitting(audience) }),
    ...(keptOnly ? { keptOnly } : {}),
  }
}

/** More than a split is ever changed in one of them: no two lots are alike. */
const GENERATION = 100_000

/** How often visitors have been drawn anew, once this design takes the place of that round. */
export function drawnAgain(before: Pick<Round, 'design' | 'drawnAgain'> | undefined, { arms }: Pick<Design, 'arms'>): number {
  if (before === undefined) return 0
  const isGone = before.design.arms.some(({ version }) => !arms.some((arm) => arm.version === version))
  return before.drawnAgain + (isGone ? 1 : 0)
}

/** Under what a browser keeps its version of a test: under another name once everybody is drawn anew. */
export function keptKey({ test, generation }: Pick<Round, 'test' | 'generation'>): TestId {
  return generation === 0 ? test : (`${test}-g${generation}` as TestId)
}

/** Of a name under which something is kept, the test. */
export function testKeptAs(key: TestId): TestId {
  return key.replace(/-g\d+$/, '') as TestId
}

/**
 * How often everybody has been drawn anew, once a round with this split begins. Whoever had a version before would come
 * into it in the proportions of then: they would look like a fault of the split, and bias what is compared.
 */
export function generationAfter(
  before: { readonly round: Pick<Round, 'generation'>; readonly epochs: readonly Pick<Epoch, 'arms'>[] } | undefined,
  { arms }: Pick<Design, 'arms'>,
): number {
  if (before === undefined) return 0
  const splitOf = (of: readonly DesignArm[]) => JSON.stringify(of.map(({ version, weight }) => [version, weight]).sort())
  const isSame = before.epochs.every((epoch) => splitOf(epoch.arms) === splitOf(arms))
  return before.round.generation + (isSame ? 0 : 1)
}
