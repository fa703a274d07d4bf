import { count, percent } from '@/core/numbers'

export { count }

/** Moments and counts as they are read. */
const day = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })
const moment = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })

export const dayWords = (iso: string) => day.format(new Date(iso))
export const momentWords = (iso: string) => moment.format(new Date(iso))

export function moneyWords(amount: number, currency: string): string {
  return new Intl.NumberFormat('en-GB', { style: 'currency', currency }).format(amount)
}

/** A share of what there was, or a dash where there was nothing. */
export function shareWords(part: number, whole: number): string {
  return whole === 0 ? '–' : percent(part / whole)
}

export function plural(value: number, one: string, many: string): string {
  return `${count(value)} ${value === 1 ? one : many}`
}

/** “3 minutes ago”; the exact moment belongs in the title beside it. */
export function agoWords(iso: string): string {
  const minutes = Math.round((Date.now() - new Date(iso).getTime()) / 60_000)
  if (minutes < 1) return 'just now'
  if (minutes < 60) return `${plural(minutes, 'minute', 'minutes')} ago`
  if (minutes < 60 * 24) return `${plural(Math.round(minutes / 60), 'hour', 'hours')} ago`
  return dayWords(iso)
}

export const statusWords = {
  draft: 'draft',
  running: 'running',
  paused: 'paused',
  ended: 'ended, not decided',
  settled: 'settled',
} as const
export const stateWords = { draft: 'not published', published: 'published', changed: 'changed since published' } as const

/** How it stands with what was typed. */
export const savingWords: { readonly [Of in 'saved' | 'saving' | 'waiting' | 'refused']: string } = {
  saved: 'saved',
  saving: 'saving …',
  waiting: 'not saved yet, sent again by itself',
  refused: 'not saved',
}
