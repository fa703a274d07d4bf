import type { GoalId } from '@/core/ids'

/** The newest; who is forgotten here was told long ago, or has not come back. */
const MOST = 200_000
const NOTHING: readonly GoalId[] = []

export interface HeardOf {
  readonly visitor: string
  readonly goal: GoalId
}

/**
 * Who reached goals that no page can tell of: an order that a shop reports, the last step of a funnel. Counting finds
 * them, and each site process listens, so that a page has them in memory.
 */
export class Heard {
  private goals = new Map<string, readonly GoalId[]>()

  /** All that is known now: who was erased is gone here too. */
  takeAll(found: readonly HeardOf[]): void {
    this.goals = new Map()
    this.take(found)
  }

  /** What is heard twice is one. */
  take(found: readonly HeardOf[]): void {
    for (const { visitor, goal } of found) {
      const before = this.of(visitor)
      if (before.includes(goal)) continue
      if (this.goals.size >= MOST) this.forgetOldest()
      this.goals.set(visitor, [...before, goal])
    }
  }

  of(visitor: string): readonly GoalId[] {
    return this.goals.get(visitor) ?? NOTHING
  }

  private forgetOldest(): void {
    for (const oldest of this.goals.keys()) {
      this.goals.delete(oldest)
      return
    }
  }
}
