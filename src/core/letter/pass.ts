import type { TestId, VersionId } from '../ids'

/**
 * What every link and picture of a newsletter carries of whoever it was sent to: the letter’s number, the recipient’s
 * visitor id, and the versions that were put into it for them. As text
 * `<letter>.<recipient>[.<test>~<version>]…`, at most 1000 characters.
 */
export interface Pass {
  readonly letter: number
  readonly recipient: string
  readonly carried: ReadonlyMap<TestId, VersionId>
}

export function passText({ letter, recipient, carried }: Pass): string {
  return [letter, recipient, ...[...carried].map(([test, version]) => `${test}~${version}`)].join('.')
}

/** `null` where the text is no pass. */
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
