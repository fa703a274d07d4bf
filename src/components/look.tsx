import type { ReactElement, ReactNode } from 'react'
import type { ContentDocument } from '@/core/document'
import type { Identity } from '@/core/identity'
import type { DocumentId, NodeId } from '@/core/ids'
import type { PictureSizes } from '@/core/picture-sizes'
import type { ComponentType, Fields, PropsOf } from './component-type'
import type { Rank } from './heading/rank'

/** What a look may know of the site around it. */
export interface SiteView {
  /** Where a link field leads: `page:` targets become the page's address, with the place on it where one is named. */
  addressOf(link: string): string
  /** Where the site begins. */
  readonly front: string
  pictureAddress(name: string): string
  filmAddress(name: string): string
  /** How large a picture is and in which widths it can be had, where that is known. */
  sizesOf(name: string): PictureSizes | null
  /** Where the form at this place is sent. */
  formAddress(document: ContentDocument, node: NodeId): string
  document(id: string): ContentDocument | null
  /** The pages of one type, in the order of the site. */
  pagesOfType(pageType: string): readonly ContentDocument[]
  /** What the site calls itself. */
  readonly identity: Identity
  /** Whether this script may run: only where an administrator put it in and allows scripts, and never in the studio. */
  runs(code: string): boolean
}

/** Goes on a look's outermost element, so that the node can be found in the page. */
export interface Mark {
  readonly 'data-n': NodeId
  /** “round/version” of each test this node is the varying part of. */
  readonly 'data-e'?: string
  /** The styles that are for this part. */
  readonly 'data-s'?: string
  /** The marker it carries. */
  readonly 'data-m'?: string
}

export interface LookProps<Props> {
  readonly props: Props
  readonly mark: Mark
  readonly node: NodeId
  readonly document: DocumentId
  readonly site: SiteView
  readonly children: ReactNode
  /** Where it stands among its siblings. */
  place(): { readonly parent: NodeId | null; readonly first: boolean }
  /** The rank of a title that comes with it: one below the heading before it. */
  rank(): Rank
  /** Where a form at this place is sent. */
  formAddress(): string
  /** Another document whole, at this place: a shared component. */
  embed(document: ContentDocument): ReactNode
  /** Another page as it is listed here. What is shown of it may vary by itself. */
  listed(page: ContentDocument, card: (page: ContentDocument, mark: Mark) => ReactElement): ReactNode
}

export type Look = (props: LookProps<PropsOf<Fields>>) => ReactElement

/**
 * How a component type looks: static markup on the site, live in the studio's page frame, by the same code. A plain
 * function of its arguments, without hooks. Type-checked against the fields here, kept in one list by type name.
 */
export function look<Type>(
  of: (props: LookProps<Type extends ComponentType<infer Of> ? PropsOf<Of> : never>) => ReactElement,
): Look {
  return of as Look
}
