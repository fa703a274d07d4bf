import murmurhash from 'murmurhash'

/** Basis points: the unit of every share and weight. */
export const WHOLE = 10_000

/**
 * A number in [0, 10 000), the same whenever the same two texts meet, uniform over visitors and independent between
 * salts. MurmurHash3 (x86, 32 bit; A. Appleby); the remainder's bias is below 10 000 / 2^32 = 2.4e-6.
 */
export function bucket(salt: string, visitor: string): number {
  return murmurhash.v3(`${salt}:${visitor}`) % WHOLE
}
