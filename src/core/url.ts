/**
 * An address by the URL standard; `null` where it is none. Tried and not asked: what an engine says can be parsed, its
 * constructor may all the same refuse.
 */
export function readUrl(address: string, base?: string): URL | null {
  try {
    return new URL(address, base)
  } catch {
    return null
  }
}

/** A path names the same page with a slash at its end and without. */
export const withoutLastSlash = (path: string): string => path.replace(/([^/])\/$/, '$1')
