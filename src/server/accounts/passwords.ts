import { hash, verify } from '@node-rs/argon2'
import { randomBytes } from 'node:crypto'

/** Argon2id with the parameters OWASP's password storage cheat sheet gives first: 19 MiB, 2 passes, 1 lane. */
const settings = { memoryCost: 19_456, timeCost: 2, parallelism: 1 }

export function hashPassword(password: string): Promise<string> {
  return hash(password, settings)
}

/** Takes as long for an account that is not there as for a wrong password. */
export async function isPassword(stored: string | null, password: string): Promise<boolean> {
  decoy ??= hashPassword(randomBytes(16).toString('hex'))
  const matches = await verify(stored ?? (await decoy), password)
  return stored !== null && matches
}
let decoy: Promise<string> | undefined

/** A password that can be read aloud: five groups of four without letters that look alike. */
export function oneTimePassword(): string {
  const letters = 'abcdefghjkmnpqrstuvwxyz23456789'
  const drawn = [...randomBytes(20)].map((byte) => letters[byte % letters.length] ?? 'x')
  return [0, 4, 8, 12, 16].map((at) => drawn.slice(at, at + 4).join('')).join('-')
}
