import { createHash } from 'node:crypto'

/** How a script is known once an administrator has put it in: SHA-256 of its code, in base64. */
export function digestOfScript(code: string): string {
  return createHash('sha256').update(code).digest('base64')
}
