import type { IncomingHttpHeaders } from 'node:http'
import { compile } from 'proxy-addr'
import type { Consent, LeavingOut, LeftOut } from '@/core/decide'
import { isBotAgent } from './agent'
import { cookieIn } from './cookies'

/**
 * Why whoever sends this is left out; `null` where they are not.
 *
 * @param address asked for only where addresses are listed
 */
export type LeavesOut = (headers: IncomingHttpHeaders, address: () => string) => LeftOut | null

/** Global Privacy Control: https://www.w3.org/TR/gpc/. Prefetches announce themselves with Sec-Purpose (HTML standard). */
export function leavingOut({ bots, studioUsers, prefetches, addresses }: LeavingOut, consent: Pick<Consent, 'asked'>): LeavesOut {
  const isListed = addresses.length === 0 ? null : compile([...addresses])
  return (headers, address) => {
    if (isLooking(headers.cookie)) return 'looking'
    if (headers['sec-gpc'] === '1') return 'noConsent'
    if (consent.asked && answerTo(headers.cookie) !== 'yes') return 'withheld'
    if (studioUsers && cookieIn(headers.cookie, 'sprig_editor') !== undefined) return 'studioUser'
    if (prefetches && (headers['sec-purpose']?.includes('prefetch') === true || headers.purpose === 'prefetch')) return 'prefetch'
    if (isListed !== null && isIn(isListed, address())) return 'address'
    return bots && isBotAgent(headers['user-agent'] ?? '') ? 'bot' : null
  }
}

/** Whoever came by a link from the studio, to look at what others are given. */
export function isLooking(cookie: string | undefined): boolean {
  return cookieIn(cookie, 'see') !== undefined
}

/** What a visitor said when they were asked; `null` where they have not said anything yet. */
export function answerTo(cookie: string | undefined): 'yes' | 'no' | null {
  const said = cookieIn(cookie, 'consent')
  return said === 'yes' || said === 'no' ? said : null
}

/** What is no address is in no list. */
function isIn(isListed: ReturnType<typeof compile>, address: string): boolean {
  try {
    return isListed(address, 0)
  } catch {
    return false
  }
}
