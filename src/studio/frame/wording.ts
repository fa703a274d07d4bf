import type { DocumentKind } from '@/core/document'
import { count, percent, plural } from '@/core/numbers'
import { isTimeZone } from '@/core/time/zone'

export { statusWords } from '@/core/experiment'
export { count, plural }

/** By the site’s clock, wherever somebody reads it; it is told once, with the first screen. */
let zone = 'UTC'
let moment = momentFormat()
let dayOfMoment = dayFormat(zone)
const dayAlone = dayFormat('UTC')

export function tellClock(timeZone: string): void {
  // A browser may know fewer zones than the server: its times are then UTC, and the screen stands all the same.
  const known = isTimeZone(timeZone) ? timeZone : 'UTC'
  if (known === zone) return
  zone = known
  moment = momentFormat()
  dayOfMoment = dayFormat(zone)
}

function momentFormat() {
  return new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit', timeZone: zone })
}

function dayFormat(timeZone: string) {
  return new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric', timeZone })
}

/** The name of the clock that all times are by. */
export const siteZone = () => zone

/** The day of a moment; or a day alone, which no clock moves. */
export const dayWords = (iso: string) => (iso.length === 10 ? dayAlone : dayOfMoment).format(new Date(iso))
export const momentWords = (iso: string) => moment.format(new Date(iso))

/** A time by the site’s clock, as it is written: “9 Dec, 09:00”. */
export function clockWords(clock: string): string {
  const at = new Date(`${clock}:00Z`)
  return Number.isNaN(at.getTime()) ? clock : clockFormat.format(at)
}
const clockFormat = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
  timeZone: 'UTC',
})

export function moneyWords(amount: number, currency: string): string {
  return new Intl.NumberFormat('en-GB', { style: 'currency', currency }).format(amount)
}

/** A share of what there was, or a dash where there was nothing. */
export function shareWords(part: number, whole: number): string {
  return whole === 0 ? '–' : percent(part / whole)
}

/** “3 minutes ago”; the exact moment belongs in the title beside it. */
export function agoWords(iso: string): string {
  const minutes = Math.round((Date.now() - new Date(iso).getTime()) / 60_000)
  if (minutes < 1) return 'just now'
  if (minutes < 60) return `${plural(minutes, 'minute', 'minutes')} ago`
  if (minutes < 60 * 24) return `${plural(Math.round(minutes / 60), 'hour', 'hours')} ago`
  return dayWords(iso)
}

/** What documents of each kind are called. */
export const documentWords: { readonly [Kind in DocumentKind]: string } = {
  page: 'page',
  menu: 'menu',
  callToAction: 'call to action',
  shared: 'shared component',
  style: 'style',
  template: 'template',
  letter: 'newsletter',
}

export const stateWords = { draft: 'not published', published: 'published', changed: 'changed since published' } as const

/** How it stands with what was typed. */
export const savingWords: { readonly [Of in 'saved' | 'saving' | 'waiting' | 'refused']: string } = {
  saved: 'saved',
  saving: 'saving …',
  waiting: 'not saved yet, sent again by itself',
  refused: 'not saved',
}
