import { compile } from 'proxy-addr'

/** A part of a country, by its code of ISO 3166-2. */
export interface Region {
  readonly code: string
  readonly name: string
  /** The addresses that are there, as ranges (CIDR). */
  readonly ranges: readonly string[]
}

/** Finds where an address is; `null` where nobody knows. A real table would implement the same. */
export type RegionFinder = (address: string) => string | null

/*
 * A stand-in: the towns of the sample site, in a country of a code that ISO 3166-1 leaves to everybody’s own use (XA to XZ),
 * at addresses that no machine ever has (RFC 5737, RFC 3849).
 */
export const regions: readonly Region[] = [
  { code: 'XP-AL', name: 'Alderwick', ranges: ['192.0.2.0/25', '2001:db8:1::/48'] },
  { code: 'XP-FE', name: 'Fenmouth', ranges: ['192.0.2.128/25', '2001:db8:2::/48'] },
  { code: 'XP-HA', name: 'Harrowby', ranges: ['198.51.100.0/25', '2001:db8:3::/48'] },
  { code: 'XP-LO', name: 'Little Osk', ranges: ['198.51.100.128/25', '2001:db8:4::/48'] },
  { code: 'XP-ST', name: 'Stonebeck', ranges: ['203.0.113.0/24', '2001:db8:5::/48'] },
]

const finders = regions.map(({ code, ranges }) => ({ code, holds: compile([...ranges]) }))

export const regionAt: RegionFinder = (address) => {
  try {
    return finders.find(({ holds }) => holds(address, 0))?.code ?? null
  } catch {
    // What is no address is nowhere.
    return null
  }
}

/** Where a made-up visitor lives: the same for the same, and in some towns more than in others. */
export function homeOf(visitor: string): string | null {
  const lot = parseInt(visitor.slice(-4), 16) % 16
  return regions[[0, 0, 0, 0, 0, 1, 1, 1, 1, 2, 2, 2, 3, 3, 4][lot] ?? regions.length]?.code ?? null
}

export function regionName(code: string): string {
  return regions.find((region) => region.code === code)?.name ?? code
}
