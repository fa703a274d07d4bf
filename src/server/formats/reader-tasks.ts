import type { Exchange, OutlineFile } from '@/core/formats'
import type { ReadPage } from '@/components/html/read'
import type { ArchivedSite } from './archive-file'

/** What can be read in a thread of its own. */
export type ReaderTask =
  | {
      readonly kind: 'html'
      readonly text: string
      /** Pages of this site by their addresses. */ readonly pages: ReadonlyMap<string, string>
    }
  | { readonly kind: 'opml'; readonly text: string }
  | { readonly kind: 'exchange'; readonly text: string }
  | { readonly kind: 'archive'; readonly path: string }

interface Results {
  readonly html: ReadPage
  readonly opml: OutlineFile
  readonly exchange: Exchange
  readonly archive: ArchivedSite
}
export type Read<Kind extends ReaderTask['kind']> = Results[Kind]

export type ReaderAnswer = { readonly read: Results[keyof Results] } | { readonly fault: string }
