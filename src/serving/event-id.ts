import { createHash } from 'node:crypto'

/** The id of an event that is made here and not by a browser: 128 bits of SHA-256, so that the same thing is the same event. */
export function eventIdOf(what: string): string {
  return createHash('sha256').update(what).digest('hex').slice(0, 32)
}
