import { mixed, type Unit } from '@/core/decide'
import type { Note } from './given'

/** Eight places of eight bytes each: what a processor fetches at once. */
const WAYS = 8
const SETS = 2 ** 17

/**
 * Of whom this process has written down what they were given: 64 bits of each, a million of them, in a table that never
 * grows. In a set that is full, whoever comes pushes somebody out, who is written down once more when they come again:
 * that counts the same. Two are taken for one once in 2^44.
 */
export class Noted {
  private readonly table = new Uint32Array(2 * WAYS * SETS)
  private next = 0
  /** Whoever was looked up last is usually looked up again at once. */
  private last: Unit | null = null
  private own = 0

  has(number: number, unit: Unit): boolean {
    return this.find(mixed(number, unit), this.other(number, unit)) >= 0
  }

  add({ number, unit }: Note): void {
    const [one, other] = [mixed(number, unit), this.other(number, unit)]
    if (this.find(one, other) >= 0) return
    const free = this.find(0, 0, setOf(one))
    const at = free >= 0 ? free : setOf(one) + 2 * (this.next++ % WAYS)
    this.table[at] = one
    this.table[at + 1] = other
  }

  /** As if they had never been: their note was lost. */
  forget({ number, unit }: Note): void {
    const at = this.find(mixed(number, unit), this.other(number, unit))
    if (at >= 0) this.table.fill(0, at, at + 2)
  }

  private other(number: number, unit: Unit): number {
    if (unit !== this.last) {
      this.last = unit
      this.own = mixed(OWN, unit)
    }
    return (this.own ^ number) >>> 0
  }

  private find(one: number, other: number, set = setOf(one)): number {
    for (let at = set; at < set + 2 * WAYS; at += 2) if (this.table[at] === one && this.table[at + 1] === other) return at
    return -1
  }
}

const OWN = 0x5bd1e995
const setOf = (one: number) => (one % SETS) * 2 * WAYS
