import type { DocumentId, TestId, VersionId } from '../ids'

export const devices = ['phone', 'tablet', 'computer'] as const
export type Device = (typeof devices)[number]

/** What is known of a visitor when a page is asked for. */
export interface Visitor {
  /** 128 random bits in hexadecimal; `null` where no id may be kept (Sec-GPC). */
  readonly id: string | null
  readonly device: Device
  /** UTM campaign of the first page of this visit. */
  readonly campaign: string | null
  /** Pages shown earlier in this visit. */
  readonly pagesSeen: readonly { readonly page: DocumentId; readonly pageType: string }[]
  /** What this browser was given before, by test. */
  readonly kept: ReadonlyMap<TestId, VersionId>
  /** Why this visitor is left out of every test and count, if so. */
  readonly leftOut: LeftOut | null
}

export type LeftOut = 'bot' | 'studioUser' | 'prefetch' | 'noConsent'
