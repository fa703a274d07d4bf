const WIDER = Math.log(1.1)

/**
 * Visitors by what they have brought: each class is a tenth wider than the one below it, in whatever is counted. `null` for
 * who has brought nothing, or was paid back as much.
 */
export function worthClass(worth: number): number | null {
  return worth > 0 ? Math.floor(Math.log(worth) / WIDER) : null
}

/** Up to how much a class goes. */
export const worthUpTo = (of: number): number => Math.exp((of + 1) * WIDER)
