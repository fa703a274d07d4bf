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
