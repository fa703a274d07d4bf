import { hash, verify } from '@node-rs/argon2'
import { ZxcvbnFactory } from '@zxcvbn-ts/core'
import * as common from '@zxcvbn-ts/language-common'
import * as english from '@zxcvbn-ts/language-en'
import { randomBytes } from 'node:crypto'
import { Failure } from '../failure'

/** Argon2id with the parameters OWASP's password storage cheat sheet gives first: 19 MiB, 2 passes, 1 lane. */
const settings = { memoryCost: 19_456, timeCost: 2, parallelism: 1 }

/** Hashing is meant to be dear, so only so many are made at once, and only so many wait. */
const AT_ONCE = 2
const MOST_WAITING = 40
let working = 0
const waiting: (() => void)[] = []

async function inTurn<Of>(work: () => Promise<Of>): Promise<Of> {
  if (working >= AT_ONCE) {
    if (waiting.length >= MOST_WAITING)
      throw new Failure('busy', 'Too many people sign in at this moment. Try again in a few seconds.', 5)
    await new Promise<void>((next) => waiting.push(next))
  } else working++
  try {
    return await work()
  } finally {
    const next = waiting.shift()
    if (next === undefined) working--
    else next()
  }
}

export function hashPassword(password: string): Promise<string> {
  return inTurn(() => hash(password, settings))
}

/** Takes as long for an account that is not there as for a wrong password. */
export async function isPassword(stored: string | null, password: string): Promise<boolean> {
  decoy ??= hash(randomBytes(16).toString('hex'), settings)
  const against = stored ?? (await decoy)
  const matches = await inTurn(() => verify(against, password))
  return stored !== null && matches
}
let decoy: Promise<string> | undefined

/** A password that can be read aloud: five groups of four without letters that look alike. */
export function oneTimePassword(): string {
  const letters = 'abcdefghjkmnpqrstuvwxyz23456789'
  const drawn = [...randomBytes(20)].map((byte) => letters[byte % letters.length] ?? 'x')
  return [0, 4, 8, 12, 16].map((at) => drawn.slice(at, at + 4).join('')).join('-')
}

let strength: ZxcvbnFactory | undefined

/**
 * Why a password cannot be taken, in words; `null` where it can. Judged by how many guesses it withstands (zxcvbn: common
 * passwords, names, dates, keyboards, repetitions), with what is known of the person among the first guesses.
 */
export function passwordFault(password: string, known: readonly string[]): string | null {
  if (password.length < 12) return 'Take at least 12 characters; four words that have nothing to do with each other are good.'
  if (password.length > 200) return 'At most 200 characters.'
  if (password.trim().length < 12)
    return 'Spaces alone are easy to guess. Take four words that have nothing to do with each other.'
  const plain = password.toLowerCase()
  if (known.some((one) => one.length > 3 && plain === one.toLowerCase()))
    return 'This is known to others. Take one that is not your e-mail, your name, or a password you were given.'
  strength ??= new ZxcvbnFactory({
    dictionary: { ...common.dictionary, ...english.dictionary },
    graphs: common.adjacencyGraphs,
    translations: english.translations,
  })
  const { score } = strength.check(password.slice(0, 100), [
    ...known,
    ...known.flatMap((one) => one.split(/[@.\s-]+/)),
    'upbeat',
    'sprig',
  ])
  return score >= 3 ? null : 'This one is easy to guess. Take four words that have nothing to do with each other.'
}
