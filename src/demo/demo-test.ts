import type { Condition, Device } from '@/core/decide'
import type { Edit } from '@/core/document'

/** A test of the demo: what it is about, what it tries, and what its simulated visitors did. */
export interface DemoTest {
  readonly name: string
  readonly problem: string
  readonly change: string
  readonly expected: string
  readonly goal: string
  readonly watched?: readonly string[]
  readonly campaign?: string
  readonly parts: readonly {
    readonly document: string
    readonly node: string
    readonly variants: readonly { readonly name: string; readonly edits: readonly Edit[] }[]
  }[]
  /** How far it has come. A draft has no visitors. */
  readonly status: 'draft' | 'running'
  /** True rates, the original first, in the order of the arms. */
  readonly rates?: readonly number[]
  /** The same for those with another device, where it matters. */
  readonly ratesOn?: { readonly [Of in Device]?: readonly number[] }
  readonly visitors?: number
  /** From another test: the same people come to both. */
  readonly seed?: number
  /** The share who had been here some days before; of those who reach the goal now, most had reached it then. */
  readonly known?: number
  readonly days?: number
  readonly endedDaysAgo?: number
  /** An earlier round, in which its first variant still showed something else. */
  readonly before?: {
    readonly edits: readonly Edit[]
    readonly rates: readonly number[]
    readonly visitors: number
    readonly days: number
  }
  /** Basis points that every version keeps, where the split follows visitors once a day. */
  readonly follows?: number
  readonly smallestEffect?: number
  /** What they do besides on its page: what they press and where they go, most wanted first; how slow each arm is. */
  readonly wanders?: {
    /** Where its part is no page, one of those that it is on. */
    readonly page?: string
    readonly presses: readonly string[]
    readonly next: readonly string[]
    readonly slower?: readonly number[]
    /** Of those who reach the goal, the share that comes back for it within eight days. */
    readonly late?: number
  }
  /** Who takes part, where that is not everybody. */
  readonly audience?: Condition
}
