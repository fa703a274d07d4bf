import type { Status } from './lifecycle'

/** What a test does without anybody pressing anything. */
export const deeds = ['started', 'notStarted', 'ended', 'settled'] as const
export type Deed = (typeof deeds)[number]

/** As far as it matters for what happened to a test last. */
export interface TestNow {
  readonly status: Status
  /** When it was started last. */
  readonly startedAt: Date | null
  readonly decision: { readonly at: Date; readonly undone: boolean; readonly byItself: boolean } | null
}

/** Its start is written down by one clock and told by another. */
const APART = 10 * 60_000

/** Whether what a test did by itself is still what happened to it last, by what it is now: nobody has to take it back. */
const holds: { readonly [Which in Deed]: (test: TestNow, at: Date) => boolean } = {
  started: ({ status, startedAt }, at) =>
    (status === 'running' || status === 'paused') && startedAt !== null && Math.abs(startedAt.getTime() - at.getTime()) < APART,
  notStarted: ({ status, startedAt }, at) => status === 'draft' && isBefore(startedAt, at),
  ended: ({ status, startedAt, decision }, at) =>
    status === 'ended' && isBefore(startedAt, at) && isBefore(decision?.at ?? null, at),
  settled: ({ status, startedAt, decision }, at) =>
    status === 'settled' && isBefore(startedAt, at) && decision !== null && decision.byItself && !decision.undone,
}

function isBefore(moment: Date | null, at: Date): boolean {
  return moment === null || moment.getTime() < at.getTime() + APART
}

/** The last thing that a test did by itself; `null` once somebody did something about it. */
export function lastByItself<Told extends { readonly kind: Deed; readonly at: Date }>(
  told: Told | null,
  test: TestNow,
): Told | null {
  return told !== null && holds[told.kind](test, told.at) ? told : null
}
