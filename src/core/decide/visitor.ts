import type { DocumentId, GoalId, TestId, VersionId } from '../ids'
import type { LeftOut } from './left-out'

export const devices = ['phone', 'tablet', 'computer'] as const
export type Device = (typeof devices)[number]

/** The marks that an address carries, by the last part of their names. */
export const utmFields = ['source', 'medium', 'campaign', 'term', 'content'] as const
export type UtmField = (typeof utmFields)[number]
export type Utm = { readonly [Field in UtmField]: string }
export const noUtm: Utm = { source: '', medium: '', campaign: '', term: '', content: '' }

/** How a visit began. */
export interface Beginning {
  /** As figures and results say it: what the address says of itself, else by the page before. */
  readonly source: string
  readonly utm: Utm
  /** The host of the page before; empty where there was none, or none was told. */
  readonly referrer: string
}
export const straight: Beginning = { source: 'direct', utm: noUtm, referrer: '' }

/** Of the site’s own calendar. */
export interface Moment {
  /** As in 2026-03-02 (ISO 8601). */
  readonly day: string
  /** Monday is 1, Sunday is 7 (ISO 8601). */
  readonly weekday: number
  /** 0 to 23. */
  readonly hour: number
}

/** What is known of a visitor when a page is asked for. */
export interface Visitor {
  /** 128 random bits in hexadecimal; `null` where no id may be kept (Sec-GPC). */
  readonly id: string | null
  /** Tells this visit from all others of theirs, and this view from all others of this visit; empty where nobody has to know. */
  readonly visit: string
  readonly view: string
  readonly device: Device
  /** How often they have come, this visit counted. */
  readonly visits: number
  readonly beginning: Beginning
  /** What the browser asks for first, without its region (BCP 47); `null` where it asks for none. */
  readonly language: string | null
  /** ISO 3166-2; `null` where nobody knows. */
  readonly region: string | null
  readonly moment: Moment
  /** The page that is asked for; `null` where it is for no page. */
  readonly at: SeenPage | null
  /** Pages shown earlier in this visit. */
  readonly pagesSeen: readonly SeenPage[]
  /** Pages shown in this visit or before it, as far as the browser remembers. */
  readonly pagesEver: readonly RememberedPage[]
  /** Goals that were reached in this browser, of those that some rule asks for. */
  readonly goalsReached: readonly GoalId[]
  /** What the site says of them, of what it may say. */
  readonly attributes: ReadonlyMap<string, string>
  /** What this browser was given before, by test. */
  readonly kept: ReadonlyMap<TestId, VersionId>
  /** Why this visitor is left out of every test and count, if so. */
  readonly leftOut: LeftOut | null
}

export interface SeenPage {
  readonly page: DocumentId
  readonly pageType: string
}

export interface RememberedPage extends SeenPage {
  /** In how many, as far as that is remembered. */
  readonly visits: number
  /** Since it was last seen; 0 in this visit. */
  readonly daysAgo: number
}

/** Somebody of whom nothing is known. */
export const stranger: Visitor = {
  id: null,
  visit: '',
  view: '',
  device: 'computer',
  visits: 1,
  beginning: straight,
  language: null,
  region: null,
  moment: { day: '', weekday: 1, hour: 0 },
  at: null,
  pagesSeen: [],
  pagesEver: [],
  goalsReached: [],
  attributes: new Map(),
  kept: new Map(),
  leftOut: null,
}
