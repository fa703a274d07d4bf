import murmurhash from 'murmurhash'

/** Basis points: the unit of every share and weight. */
export const WHOLE = 10_000

/** Whom one lot is for, a visitor, one of their visits, or one view: 64 bits of it, read once for all tests on a page. */
export interface Unit {
  readonly high: number
  readonly low: number
}

const encoder = new TextEncoder()
/** MurmurHash3 (x86, 32 bit; A. Appleby), from two seeds. */
export function unitOf(name: string): Unit {
  const bytes = bytesOf(name)
  return { high: murmurhash.v3(bytes, 0), low: murmurhash.v3(bytes, 0x9747b28c) }
}

function bytesOf(name: string): Uint8Array {
  const bytes = new Uint8Array(name.length)
  for (let at = 0; at < name.length; at++) {
    const code = name.charCodeAt(at)
    if (code > 127) return encoder.encode(name)
    bytes[at] = code
  }
  return bytes
}

/** The number by which a test, or whatever else draws, tells its lots from those of all others. */
export const numberOf = (salt: string): number => murmurhash.v3(salt, 0)

/** 32 bits, the same whenever the same two meet. */
export const mixed = (number: number, { high, low }: Unit): number => scattered(scattered(high ^ number) ^ low) >>> 0

/** Each bit of what comes in turns half of those that come out: the end of MurmurHash3. */
function scattered(word: number): number {
  let bits = word ^ (word >>> 16)
  bits = Math.imul(bits, 0x85ebca6b)
  bits ^= bits >>> 13
  bits = Math.imul(bits, 0xc2b2ae35)
  return bits ^ (bits >>> 16)
}

/**
 * A number in [0, 10 000), uniform over units and independent between numbers. The remainder's bias is below
 * 10 000 / 2^32 = 2.4e-6.
 */
export const bucket = (number: number, unit: Unit): number => mixed(number, unit) % WHOLE
