import type { ReactElement, ReactNode } from 'react'
import type { ContentDocument } from '@/core/document'
import type { DocumentId, NodeId } from '@/core/ids'
import type { ComponentType, Fields, PropsOf } from './component-type'

/** What a look may know of the site around it. */
export interface SiteView {
  /** Where a link field leads: `page:` targets become the page's address. */
  addressOf(link: string): string
  pictureAddress(name: string): string
  formAddress(document: DocumentId, node: NodeId): string
  document(id: string): ContentDocument | null
}

/** Goes on a look's outermost element, so that the node can be found in the page. */
export interface Mark {
  readonly 'data-n': NodeId
  /** “round/version” of each test this node is the varying part of. */
  readonly 'data-e'?: string
}

export interface LookProps<Props> {
  readonly props: Props
  readonly mark: Mark
  readonly node: NodeId
  readonly document: DocumentId
  readonly site: SiteView
  readonly children: ReactNode
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
