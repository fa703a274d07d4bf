import murmurhash from 'murmurhash'

/** Basis points: the unit of every share and weight. */
export const WHOLE = 10_000

/** Whom one lot is for: a visitor, one of their visits, or one view; read once, for all tests on a page. */
export type Unit = Uint8Array

const encoder = new TextEncoder()
export function unitOf(name: string): Unit {
  const unit = new Uint8Array(name.length)
  for (let at = 0; at < name.length; at++) {
    const code = name.charCodeAt(at)
    if (code > 127) return encoder.encode(name)
    unit[at] = code
  }
  return unit
}

/** The number by which a test, or whatever else draws, tells its lots from those of all others. */
export const numberOf = (salt: string): number => murmurhash.v3(salt, 0)

/** 32 bits, the same whenever the same two meet. MurmurHash3 (x86, 32 bit; A. Appleby), seeded with the number. */
export const mixed = (number: number, unit: Unit): number => murmurhash.v3(unit, number)

/**
 * A number in [0, 10 000), uniform over units and independent between numbers. The remainder's bias is below
 * 10 000 / 2^32 = 2.4e-6.
 */
export const bucket = (number: number, unit: Unit): number => mixed(number, unit) % WHOLE
