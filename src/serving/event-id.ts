import { createHash, randomBytes } from 'node:crypto'

/** The id of an event that is made here and not by a browser: 128 bits of SHA-256, so that the same thing is the same event. */
export function eventIdOf(what: string): string {
  return createHash('sha256').update(what).digest('hex').slice(0, 32)
}

/** Of six digits, so that none has to be filled up. */
const [FIRST, LAST] = [0x100000, 0xffffff]
let begins = ''
let made = LAST

/** The id of an event that happens once: 104 random bits, drawn for millions of them, and which of these it is. */
export function newEventId(): string {
  if (made === LAST) {
    begins = randomBytes(13).toString('hex')
    made = FIRST
  }
  return begins + (++made).toString(16)
}
