import type { Exchange } from '@/components/exchange/write'
import type { OutlineFile } from '@/core/formats'
import type { Around } from '@/components/html/building'
import type { ReadPage } from '@/components/html/read'
import type { PartAlone } from '@/components/miniature'
import type { Decision, Visitor } from '@/core/decide'
import type { Shown } from '@/core/experiment'
import type { DocumentId, TestId, VersionId } from '@/core/ids'
import type { Release } from '@/core/release'
import type { ArchivedSite } from './archived-site'
import type { OrderColumns, OrderTable } from './order-table'

/** Pages to be looked at as visitors get them in every version of a test. */
export interface Looking {
  /** What would be served, the test's round among its rounds. */
  readonly release: Release
  readonly test: TestId
  readonly pages: readonly DocumentId[]
  /** To which visitors came lately, or that are new: ways lead on through these alone. `null`: nobody was counted yet. */
  readonly walked: readonly DocumentId[] | null
  /** Where the site is, so that its own absolute addresses are known. */
  readonly origin: string
}

/** A page of a release, as somebody would be sent it. */
export interface LensTask {
  readonly number: number
  /** `null` where it has been told before. */
  readonly release: Release | null
  readonly page: DocumentId
  readonly visitor: Visitor
}

/** A page with one version of one part on it, and everything else as the original. */
export interface VersionTask {
  readonly release: Release
  readonly page: DocumentId
  /** `null`: nothing but originals. */
  readonly shown: { readonly key: string; readonly version: VersionId } | null
}

export type ThroughLens =
  /** Another release is at hand than the one that is asked for. */
  | { readonly kind: 'unknown' }
  | { readonly kind: 'missing' }
  | {
      readonly kind: 'page'
      /** The page that is shown: another one where visitors are sent on. */
      readonly page: DocumentId
      readonly html: string
      /** All that varies on it. */
      readonly decisions: readonly Decision[]
    }

/** What can be read in a thread of its own. */
export type ReaderTask =
  | {
      readonly kind: 'html'
      readonly text: string
      readonly around: Around
    }
  | { readonly kind: 'opml'; readonly text: string }
  | { readonly kind: 'exchange'; readonly text: string }
  | { readonly kind: 'archive'; readonly path: string }
  | { readonly kind: 'orders'; readonly bytes: Uint8Array }
  | { readonly kind: 'orderColumns'; readonly bytes: Uint8Array }

interface Results {
  readonly html: ReadPage
  readonly opml: OutlineFile
  readonly exchange: { readonly content: Exchange; readonly notes: readonly string[] }
  readonly archive: ArchivedSite
  readonly orders: OrderTable
  readonly orderColumns: OrderColumns
}
export type Read<Kind extends ReaderTask['kind']> = Results[Kind]

/** What a thread that draws is asked for, one after the other, and what it finds. */
export interface Looks {
  readonly pages: { readonly asked: Looking; readonly found: Shown }
  readonly miniature: { readonly asked: PartAlone; readonly found: string }
  readonly lens: { readonly asked: LensTask; readonly found: ThroughLens }
  readonly version: { readonly asked: VersionTask; readonly found: string }
}
export type LookTask = {
  readonly [Kind in keyof Looks]: { readonly kind: Kind; readonly asked: Looks[Kind]['asked'] }
}[keyof Looks]
export type LookAnswer = { readonly found: Looks[keyof Looks]['found'] } | { readonly fault: string }

export type ReaderAnswer = { readonly read: Results[keyof Results] } | { readonly fault: string }
