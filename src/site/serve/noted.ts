import { mixed, type Unit } from '@/core/decide'

/** Eight places of eight bytes each: what a processor fetches at once. */
const WAYS = 8
const SETS = 2 ** 17
/** Sets that one visitor’s notes are spread over. */
const BESIDE = 4

/**
 * Of whom this process has written down what they were given: 64 bits of each, a million of them, in a table that never
 * grows. In a set that is full, whoever comes pushes somebody out, who is written down once more when they come again:
 * that counts the same. Two are taken for one once in 2^44.
 */
export class Noted {
  private readonly table = new Uint32Array(2 * WAYS * SETS)
  private next = 0

  has(number: number, unit: Unit): boolean {
    return this.find(number, unit) >= 0
  }

  add(number: number, unit: Unit): void {
    const { table } = this
    const [one, other] = [mixed(number, unit), seal(number, unit)]
    const set = setOf(number, unit)
    let at = -1
    for (let way = set; way < set + 2 * WAYS; way += 2) {
      if (table[way] === one && table[way + 1] === other) return
      if (at < 0 && table[way] === 0 && table[way + 1] === 0) at = way
    }
    if (at < 0) at = set + 2 * (this.next++ % WAYS)
    table[at] = one
    table[at + 1] = other
  }

  /** As if they had never been: their note was lost. */
  forget(number: number, unit: Unit): void {
    const at = this.find(number, unit)
    if (at >= 0) this.table.fill(0, at, at + 2)
  }

  private find(number: number, unit: Unit): number {
    const { table } = this
    const [one, other] = [mixed(number, unit), seal(number, unit)]
    const set = setOf(number, unit)
    for (let at = set; at < set + 2 * WAYS; at += 2) if (table[at] === one && table[at + 1] === other) return at
    return -1
  }
}

/** Besides what one and the other are mixed to, what tells a note from others in its set. */
const seal = (number: number, { low }: Unit) => (low ^ number) >>> 0
/** All that somebody was given is in sets beside each other: memory is slow to reach, and quick to read on in. */
const setOf = (number: number, { high }: Unit) => (((high >>> 0) % SETS) ^ ((number ^ (number >>> 16)) & (BESIDE - 1))) * 2 * WAYS
