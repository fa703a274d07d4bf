import type { Coded } from './coding'

/** A page as it is sent: one and the same for as long as it is kept put together. */
export interface Sent {
  /** Name, value, name, value: the form that Node sends without looking at it again. The length of the body is the last. */
  readonly headers: readonly string[]
  readonly body: Buffer
  readonly etag: string | null
}

export const HTML = 'text/html; charset=utf-8'

/** A page with a tag may be asked for again by it; one without is another the next time, and nobody else’s. */
export function sentAs({ body, said, etag }: Coded): Sent {
  const headers = [
    ...['content-type', HTML, 'cache-control', etag === null ? 'private, no-store' : 'private, no-cache'],
    ...said.lines,
    ...(etag === null ? [] : ['etag', etag]),
    ...['content-length', String(body.length)],
  ]
  return { headers, body, etag }
}
