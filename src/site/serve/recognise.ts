import { randomFillSync } from 'node:crypto'
import type { IncomingHttpHeaders } from 'node:http'
import { isbot } from 'isbot'
import type { Device, LeftOut, Visitor } from '@/core/decide'
import type { DocumentId, TestId } from '@/core/ids'
import { readCookies, readKept, readVisit, readVisitorId, type Visit } from './cookies'

export interface Recognised {
  readonly visitor: Visitor
  readonly visit: Visit | null
  /** Tests of which a newsletter brought the version here. */
  readonly carried: ReadonlySet<TestId>
  readonly isNew: boolean
}

/** Who is asking, from the request alone. Without a way to tell page types, the pages seen are left out: no rule asks for them. */
export function recognise(
  headers: IncomingHttpHeaders,
  minute: number,
  pageTypeOf: ((page: DocumentId) => string | undefined) | null,
  campaign: string | null,
): Recognised {
  const cookies = readCookies(headers.cookie)
  const agent = headers['user-agent'] ?? ''
  const leftOut = leftOutBecause(headers, cookies, agent)
  const known = readVisitorId(cookies.get('visitor'))
  const { kept, carried } = readKept(cookies.get('kept'))
  const visit = readVisit(cookies.get('visit'), minute)
  return {
    visitor: {
      id: leftOut === 'noConsent' ? null : (known ?? newVisitorId()),
      device: agentOf(agent).device,
      campaign: visit === null ? campaign : visit.campaign,
      pagesSeen:
        visit === null || pageTypeOf === null ? [] : visit.pages.map((page) => ({ page, pageType: pageTypeOf(page) ?? '' })),
      kept,
      leftOut,
    },
    visit,
    carried,
    isNew: known === null,
  }
}

/** Global Privacy Control: https://www.w3.org/TR/gpc/. Prefetches announce themselves with Sec-Purpose (HTML standard). */
export function leftOutBecause(
  headers: IncomingHttpHeaders,
  cookies: ReadonlyMap<string, string>,
  agent: string,
): LeftOut | null {
  if (headers['sec-gpc'] === '1') return 'noConsent'
  if (cookies.has('sprig_editor')) return 'studioUser'
  if (headers['sec-purpose']?.includes('prefetch') || headers.purpose === 'prefetch') return 'prefetch'
  return agentOf(agent).isBot ? 'bot' : null
}

interface Agent {
  readonly isBot: boolean
  readonly device: Device
}

/** The patterns are long and few agents make most requests: answers are kept for as many as fit in a megabyte or so. */
const judged = new Map<string, Agent>()
function agentOf(text: string): Agent {
  const before = judged.get(text)
  if (before !== undefined) return before
  const answer = { isBot: text === '' || isbot(text), device: deviceOf(text) }
  if (judged.size > 5000) judged.clear()
  if (text.length < 400) judged.set(text, answer)
  return answer
}

export function deviceFor(headers: IncomingHttpHeaders): Device {
  return agentOf(headers['user-agent'] ?? '').device
}

/** The language that a browser asks for first (RFC 9110, 12.5.4), without its region; `null` where it asks for none. */
export function languageFor(headers: IncomingHttpHeaders): string | null {
  return /^\s*([a-z]{2,3})(?![a-z])/i.exec(headers['accept-language'] ?? '')?.[1]?.toLowerCase() ?? null
}

function deviceOf(agent: string): Device {
  if (/iPad|Tablet|PlayBook|Silk(?!.*Mobile)|Android(?!.*Mobile)/i.test(agent)) return 'tablet'
  return /Mobi|iPhone|iPod|Android/i.test(agent) ? 'phone' : 'computer'
}

/** Random bytes are drawn for many visitors at once: a system call for each would cost more than the page. */
const pool = Buffer.alloc(16 * 256)
let drawn = pool.length
export function newVisitorId(): string {
  if (drawn === pool.length) {
    randomFillSync(pool)
    drawn = 0
  }
  drawn += 16
  return pool.toString('hex', drawn - 16, drawn)
}
