import { allowedOf, noUtm, type Attribute, type Utm } from '@/core/decide'
import type { DocumentId, GoalId, TestId, VersionId } from '@/core/ids'
import type { Signer } from '@/core/letter'
import { shortened } from '@/core/text'

/*
 * All that a site process knows of a visitor comes back with the visitor, so that any process can answer any request:
 *   visitor  128 random bits in hexadecimal
 *   visit    <start>.<last>.<page~page…>.<campaign|source|medium|term|content|referrer>, minutes since 1970 in base 36;
 *            over after 30 silent minutes
 *   past     <visits>.<page_visits_day~…>.<signature>: how often they came, and where some rule asks for it what they were
 *            shown, in how many visits and when last, in days since 1970; both in base 36
 *   reached  <goal~goal…>.<signature>: what was reached of the goals that some rule asks for
 *   about    <attribute~value.attribute~value…>.<signature>: what the site itself said of them, of what it may say
 *   kept     <test>~<version>.<test>~<version>…, with “~c” behind those that a newsletter carried here, “~v” behind those
 *            that are kept for this visit alone
 */
const YEAR = 31_536_000
const VISIT_SILENCE = 30
const PAGES_KEPT = 40
const TESTS_KEPT = 30
const PAST_PAGES_KEPT = 50
const MOST_VISITS_OF_PAGE = 999
/** Characters of each mark of an address, and of all together when they are written out. */
const MARK_KEPT = 80
const MARKS_ROOM = 1200

export interface Visit {
  readonly startedAt: number
  readonly lastAt: number
  readonly pages: readonly DocumentId[]
  readonly utm: Utm
  /** The host of the page before its first; empty where there was none. */
  readonly referrer: string
}

/** What the first page of a visit says of it. */
export type Came = Pick<Visit, 'utm' | 'referrer'>

/** What a browser says under a name (RFC 6265, 5.4), looked for where it stands: most of what it says nobody asks for. */
export function cookieIn(header: string | undefined, name: string): string | undefined {
  if (header === undefined || header.length > 8192) return undefined
  for (let at = header.indexOf(name); at >= 0; at = header.indexOf(name, at + 1)) {
    const begins = at === 0 || header[at - 1] === ' ' || header[at - 1] === ';'
    if (!begins || header[at + name.length] !== '=') continue
    const end = header.indexOf(';', at)
    return header.slice(at + name.length + 1, end < 0 ? undefined : end).trim()
  }
  return undefined
}

export function readVisitorId(cookie: string | undefined): string | null {
  return cookie !== undefined && /^[0-9a-f]{32}$/.test(cookie) ? cookie : null
}

/** The visit going on, or `null` if none is or its cookie is not ours. */
export function readVisit(cookie: string | undefined, minute: number): Visit | null {
  const match =
    cookie === undefined
      ? null
      : /^([0-9a-z]{1,8})\.([0-9a-z]{1,8})\.([a-z0-9~-]{0,1700})\.([\w.!~*'()%|-]{0,1200})$/.exec(cookie)
  if (match === null) return null
  const [startedAt, lastAt] = [parseInt(match[1] ?? '', 36), parseInt(match[2] ?? '', 36)]
  if (lastAt > minute + 1 || minute - lastAt > VISIT_SILENCE) return null
  const pages = (match[3] ?? '').split('~').filter(Boolean) as DocumentId[]
  const { utm, referrer } = cameAs(match[4] ?? '')
  return { startedAt, lastAt, pages, utm, referrer }
}

/** Few marks make most visits: they are kept as read, as many as fit in a megabyte or so. */
const read = new Map<string, Came>()
function cameAs(marks: string): Came {
  const before = read.get(marks)
  if (before !== undefined) return before
  const [campaign = '', source = '', medium = '', term = '', content = '', referrer = ''] = marks.split('|').map(decoded)
  const came = { utm: { source, medium, campaign, term, content }, referrer }
  if (read.size > 2000) read.clear()
  if (marks.length < 400) read.set(marks, came)
  return came
}

/** The visit after this page, and its cookie if that changed. */
export function visitAfter(visit: Visit | null, page: DocumentId, minute: number, came: Came): Visit {
  if (visit === null) return { startedAt: minute, lastAt: minute, pages: [page], ...came }
  const pages = visit.pages.includes(page) ? visit.pages : [...visit.pages, page].slice(-PAGES_KEPT)
  return { ...visit, lastAt: minute, pages }
}

/** What every cookie of ours says besides; `secure` where the site is only asked over TLS. */
const cookieAttributes = (secure: boolean) => `; Path=/; HttpOnly; SameSite=Lax${secure ? '; Secure' : ''}`

export function writeVisit(visit: Visit, secure = false): string {
  const pages = visit.pages.join('~')
  return `visit=${visit.startedAt.toString(36)}.${visit.lastAt.toString(36)}.${pages}.${marksText(visit)}${cookieAttributes(secure)}`
}

/** As they can be read back: as much of each as has room when it is written out. Those at the end that say nothing are left out. */
function marksText({ utm, referrer }: Came, most = MARK_KEPT): string {
  if (utm === noUtm && referrer === '') return ''
  const { campaign, source, medium, term, content } = utm
  const text = [campaign, source, medium, term, content, referrer]
    .map((mark) => encodeURIComponent(shortened(mark, most)))
    .join('|')
    .replace(/\|+$/, '')
  return text.length <= MARKS_ROOM ? text : marksText({ utm, referrer }, Math.floor(most / 3))
}

/** What a browser remembers from one visit to the next. */
export interface Past {
  /** The one going on counted. */
  readonly visits: number
  readonly pages: readonly PastPage[]
}

export interface PastPage {
  readonly page: DocumentId
  /** In how many of them. */
  readonly visits: number
  /** Days since 1970, in UTC. */
  readonly day: number
}

/** Signed for the visitor it was given to, so that nobody can say of themselves what only the site knows. */
export function readPast(cookie: string | undefined, visitor: string, signer: Signer): Past | null {
  const match = cookie === undefined ? null : /^(([0-9a-z]{1,4})\.([a-z0-9_~-]{0,2600}))\.([\w-]{22})$/.exec(cookie)
  if (match === null || !signer.fits(pastText(visitor, match[1] ?? ''), match[4] ?? '')) return null
  const pages = (match[3] ?? '').split('~').flatMap((text): PastPage[] => {
    const [page = '', visits = '1', day = '0'] = text.split('_')
    return page === '' ? [] : [{ page: page as DocumentId, visits: parseInt(visits, 36) || 1, day: parseInt(day, 36) || 0 }]
  })
  return { visits: parseInt(match[2] ?? '', 36), pages }
}

export function writePast({ visits, pages }: Past, visitor: string, signer: Signer, secure = false): string {
  const text = `${Math.min(visits, 9999).toString(36)}.${pages.slice(-PAST_PAGES_KEPT).map(pastPageText).join('~')}`
  return `past=${text}.${signer.sign(pastText(visitor, text))}; Max-Age=${YEAR}${cookieAttributes(secure)}`
}

const pastPageText = ({ page, visits, day }: PastPage) =>
  `${page}_${Math.min(visits, MOST_VISITS_OF_PAGE).toString(36)}_${day.toString(36)}`

const pastText = (visitor: string, text: string) => `past ${visitor} ${text}`

const REACHED_KEPT = 40

/** Signed for the visitor, as `past` is. */
export function readReached(cookie: string | undefined, visitor: string, signer: Signer): readonly GoalId[] {
  const match = cookie === undefined ? null : /^([a-z0-9~-]{0,1700})\.([\w-]{22})$/.exec(cookie)
  if (match === null || !signer.fits(reachedText(visitor, match[1] ?? ''), match[2] ?? '')) return []
  return (match[1] ?? '').split('~').filter(Boolean) as GoalId[]
}

export function writeReached(goals: readonly GoalId[], visitor: string, signer: Signer, secure = false): string {
  const text = goals.slice(-REACHED_KEPT).join('~')
  return `reached=${text}.${signer.sign(reachedText(visitor, text))}; Max-Age=${YEAR}${cookieAttributes(secure)}`
}

const reachedText = (visitor: string, text: string) => `reached ${visitor} ${text}`

/** So long what the site said of somebody holds, unless it says it again. */
const ABOUT_KEPT = 30 * 86_400

/** Signed for the visitor, as `past` is; what may not be said (any more) is passed over where it is read. */
export function readAbout(
  cookie: string | undefined,
  visitor: string,
  signer: Signer,
  allowed: readonly Attribute[],
): Map<string, string> {
  const match = cookie === undefined ? null : /^([a-z0-9~.-]{0,1300})\.([\w-]{22})$/.exec(cookie)
  if (match === null || !signer.fits(aboutText(visitor, match[1] ?? ''), match[2] ?? '')) return new Map()
  const said = (match[1] ?? '').split('.').map((pair) => pair.split('~'))
  return allowedOf(
    said.map(([name = '', value = '']) => [name, value] as const),
    allowed,
  )
}

export function writeAbout(about: ReadonlyMap<string, string>, visitor: string, signer: Signer, secure = false): string {
  const text = [...about].map(([name, value]) => `${name}~${value}`).join('.')
  return `about=${text}.${signer.sign(aboutText(visitor, text))}; Max-Age=${ABOUT_KEPT}${cookieAttributes(secure)}`
}

const aboutText = (visitor: string, text: string) => `about ${visitor} ${text}`

export function writeVisitor(id: string, secure = false): string {
  return `visitor=${id}; Max-Age=${YEAR}${cookieAttributes(secure)}`
}

/** What this browser is given, by test; and which of it a newsletter carried here, so that it is shown but not counted. */
export interface Kept {
  readonly kept: ReadonlyMap<TestId, VersionId>
  readonly carried: ReadonlySet<TestId>
  readonly ofVisit: ReadonlySet<TestId>
}

export function readKept(cookie: string | undefined): Kept {
  if (cookie === undefined) return NONE_KEPT
  const before = keptAs.get(cookie)
  if (before !== undefined) return before
  const found = keptIn(cookie)
  if (keptAs.size > 5000) keptAs.clear()
  if (cookie.length < 400) keptAs.set(cookie, found)
  return found
}

const NONE_KEPT: Kept = { kept: new Map(), carried: new Set(), ofVisit: new Set() }
/** Many are given the same versions: what that is is read once. */
const keptAs = new Map<string, Kept>()

function keptIn(cookie: string): Kept {
  const kept = new Map<TestId, VersionId>()
  const carried = new Set<TestId>()
  const ofVisit = new Set<TestId>()
  PAIRS.lastIndex = 0
  for (let match = PAIRS.exec(cookie); match !== null; match = PAIRS.exec(cookie)) {
    const test = match[1] as TestId
    kept.set(test, match[2] as VersionId)
    if (match[3] === '~c') carried.add(test)
    if (match[3] === '~v') ofVisit.add(test)
  }
  return { kept, carried, ofVisit }
}
const PAIRS = /(?<=^|\.)([a-z0-9-]{1,40})~([a-z0-9-]{1,40})(~[cv])?(?=\.|$)/g

/** The newest last, the oldest dropped. */
export function writeKept({ kept, carried, ofVisit }: Kept, secure = false): string {
  let pairs = ''
  let left = kept.size
  for (const [test, version] of kept) {
    if (left-- > TESTS_KEPT) continue
    pairs += `${pairs === '' ? '' : '.'}${test}~${version}${carried.has(test) ? '~c' : ofVisit.has(test) ? '~v' : ''}`
  }
  return `kept=${pairs}; Max-Age=${YEAR}${cookieAttributes(secure)}`
}

function decoded(text: string): string {
  try {
    return decodeURIComponent(text)
  } catch {
    return ''
  }
}
