import { createHash, randomBytes } from 'node:crypto'

/** The id of an event that is made here and not by a browser: 128 bits of SHA-256, so that the same thing is the same event. */
export function eventIdOf(what: string): string {
  return createHash('sha256').update(what).digest('hex').slice(0, 32)
}

/** All that three hexadecimal digits can be: to look them up takes less than to write a number in them. */
const DIGITS = Array.from({ length: 0x1000 }, (_, number) => number.toString(16).padStart(3, '0'))
const LAST = DIGITS.length - 1
let drawn = ''
let begins = ''
let [high, low] = [LAST, LAST]

/** The id of an event that happens once: 104 random bits, drawn for millions of them, and which of these it is. */
export function newEventId(): string {
  if (low === LAST) {
    if (high === LAST) {
      drawn = randomBytes(13).toString('hex')
      high = -1
    }
    begins = drawn + (DIGITS[++high] ?? '')
    low = -1
  }
  return begins + (DIGITS[++low] ?? '')
}
