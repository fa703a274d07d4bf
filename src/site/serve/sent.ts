import type { Coded } from './coding'

/** A page as it is sent: one and the same for as long as it is kept put together. */
export interface Sent {
  /** Name, value, name, value; without the length of the body, so that all forms of a page share them. */
  readonly headers: readonly string[]
  readonly body: Buffer
  readonly etag: string | null
}

export const HTML = 'text/html; charset=utf-8'

/** A page with a tag may be asked for again by it; one without is another the next time, and nobody else’s. */
export function sentAs({ body, said, etag }: Coded): Sent {
  if (etag !== null)
    return { headers: ['content-type', HTML, 'cache-control', 'private, no-cache', ...said.lines, 'etag', etag], body, etag }
  const before = ofNobodyElse.get(said.lines)
  const headers = before ?? ['content-type', HTML, 'cache-control', 'private, no-store', ...said.lines]
  if (before === undefined) ofNobodyElse.set(said.lines, headers)
  return { headers, body, etag }
}
/** What is said of pages without a tag, by what their coding says. */
const ofNobodyElse = new Map<readonly string[], readonly string[]>()
