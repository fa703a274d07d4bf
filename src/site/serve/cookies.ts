import type { DocumentId, TestId, VersionId } from '@/core/ids'
import { shortened } from '@/core/text'

/*
 * All that a site process knows of a visitor comes back with the visitor, so that any process can answer any request:
 *   visitor  128 random bits in hexadecimal
 *   visit    <start>.<last>.<page~page…>.<campaign>, minutes since 1970 in base 36; over after 30 silent minutes
 *   kept     <test>~<version>.<test>~<version>…, with “~c” behind those that a newsletter carried here
 */
const YEAR = 31_536_000
const VISIT_SILENCE = 30
const PAGES_KEPT = 40
const TESTS_KEPT = 30
const CAMPAIGN_KEPT = 80
const CAMPAIGN_ROOM = 300

export interface Visit {
  readonly startedAt: number
  readonly lastAt: number
  readonly pages: readonly DocumentId[]
  readonly campaign: string | null
}

export function readCookies(header: string | undefined): Map<string, string> {
  const found = new Map<string, string>()
  if (header === undefined || header.length > 8192) return found
  for (const pair of header.split(';')) {
    const at = pair.indexOf('=')
    if (at > 0) found.set(pair.slice(0, at).trim(), pair.slice(at + 1).trim())
  }
  return found
}

export function readVisitorId(cookie: string | undefined): string | null {
  return cookie !== undefined && /^[0-9a-f]{32}$/.test(cookie) ? cookie : null
}

/** The visit going on, or `null` if none is or its cookie is not ours. */
export function readVisit(cookie: string | undefined, minute: number): Visit | null {
  const match =
    cookie === undefined ? null : /^([0-9a-z]{1,8})\.([0-9a-z]{1,8})\.([a-z0-9~-]{0,1700})\.([\w.!~*'()%-]{0,300})$/.exec(cookie)
  if (match === null) return null
  const [startedAt, lastAt] = [parseInt(match[1] ?? '', 36), parseInt(match[2] ?? '', 36)]
  if (lastAt > minute + 1 || minute - lastAt > VISIT_SILENCE) return null
  const pages = (match[3] ?? '').split('~').filter(Boolean) as DocumentId[]
  return { startedAt, lastAt, pages, campaign: decoded(match[4] ?? '') }
}

/** The visit after this page, and its cookie if that changed. */
export function visitAfter(visit: Visit | null, page: DocumentId, minute: number, campaign: string | null): Visit {
  if (visit === null) return { startedAt: minute, lastAt: minute, pages: [page], campaign }
  const pages = visit.pages.includes(page) ? visit.pages : [...visit.pages, page].slice(-PAGES_KEPT)
  return { ...visit, lastAt: minute, pages }
}

/** What every cookie of ours says besides; `secure` where the site is only asked over TLS. */
const attributes = (secure: boolean) => `; Path=/; HttpOnly; SameSite=Lax${secure ? '; Secure' : ''}`

export function writeVisit(visit: Visit, secure = false): string {
  const pages = visit.pages.join('~')
  return `visit=${visit.startedAt.toString(36)}.${visit.lastAt.toString(36)}.${pages}.${campaignText(visit.campaign)}${attributes(secure)}`
}

/** As it can be read back: as much of it as has room when it is written out. */
function campaignText(campaign: string | null): string {
  const encoded = encodeURIComponent(shortened(campaign ?? '', CAMPAIGN_KEPT))
  return encoded.length <= CAMPAIGN_ROOM ? encoded : campaignText(shortened(campaign ?? '', Math.floor(CAMPAIGN_ROOM / 9)))
}

export function writeVisitor(id: string, secure = false): string {
  return `visitor=${id}; Max-Age=${YEAR}${attributes(secure)}`
}

/** What this browser is given, by test; and which of it a newsletter carried here, so that it is shown but not counted. */
export interface Kept {
  readonly kept: ReadonlyMap<TestId, VersionId>
  readonly carried: ReadonlySet<TestId>
}

export function readKept(cookie: string | undefined): Kept {
  const kept = new Map<TestId, VersionId>()
  const carried = new Set<TestId>()
  for (const pair of cookie?.split('.') ?? []) {
    const match = /^([a-z0-9-]{1,40})~([a-z0-9-]{1,40})(~c)?$/.exec(pair)
    if (match?.[1] === undefined || match[2] === undefined) continue
    kept.set(match[1] as TestId, match[2] as VersionId)
    if (match[3] !== undefined) carried.add(match[1] as TestId)
  }
  return { kept, carried }
}

/** The newest last, the oldest dropped. */
export function writeKept({ kept, carried }: Kept, secure = false): string {
  const pairs = [...kept].slice(-TESTS_KEPT).map(([test, version]) => `${test}~${version}${carried.has(test) ? '~c' : ''}`)
  return `kept=${pairs.join('.')}; Max-Age=${YEAR}${attributes(secure)}`
}

function decoded(text: string): string | null {
  try {
    return text === '' ? null : decodeURIComponent(text)
  } catch {
    return null
  }
}
