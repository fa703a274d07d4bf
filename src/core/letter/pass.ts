import type { TestId, VersionId } from '../ids'

/**
 * What every link and picture of a newsletter carries of whoever it was sent to: the letter’s number, the recipient’s
 * visitor id, and the versions that were put into it for them. As text
 * `<letter>.<recipient>[.<test>~<version>]…`, at most 1000 characters; in a letter, with its signature behind it.
 */
export interface Pass {
  readonly letter: number
  readonly recipient: string
  readonly carried: ReadonlyMap<TestId, VersionId>
}

/** Makes and checks signatures, so that nobody can make up a pass. */
export interface Signer {
  sign(text: string): string
  fits(text: string, signature: string): boolean
}

export function passText({ letter, recipient, carried }: Pass): string {
  return [letter, recipient, ...[...carried].map(([test, version]) => `${test}~${version}`)].join('.')
}

/** A pass that never left the house; `null` where the text is none. */
export function readPass(text: string): Pass | null {
  if (text.length > 1000) return null
  const [letter = '', recipient = '', ...pairs] = text.split('.')
  if (!/^[1-9]\d{0,8}$/.test(letter) || !/^[0-9a-f]{32}$/.test(recipient)) return null
  const carried = new Map<TestId, VersionId>()
  for (const pair of pairs) {
    const match = /^([a-z0-9-]{1,40})~([a-z0-9-]{1,40})$/.exec(pair)
    if (match?.[1] === undefined || match[2] === undefined) return null
    carried.set(match[1] as TestId, match[2] as VersionId)
  }
  return { letter: Number(letter), recipient, carried }
}

/** As it goes out in a letter. */
export function signedPass(pass: Pass, { sign }: Signer): string {
  const text = passText(pass)
  return `${text}.${sign(text)}`
}

/** A pass that comes in from outside; `null` where it is none, or not one of ours. */
export function readSignedPass(text: string, { fits }: Signer): Pass | null {
  const at = text.lastIndexOf('.')
  return at < 0 || text.length > 1100 || !fits(text.slice(0, at), text.slice(at + 1)) ? null : readPass(text.slice(0, at))
}
