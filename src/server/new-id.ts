import { randomBytes } from 'node:crypto'

/** A short random id: 60 bits, safe in attributes, addresses and cookies. */
export function newId(): string {
  const letters = '0123456789abcdefghijklmnopqrstuv'
  return [...randomBytes(12)].map((byte) => letters[byte % 32]).join('')
}
