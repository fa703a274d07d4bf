import type * as z from 'zod'
import type { DocumentId } from '../../ids'
import type { Visitor } from '../visitor'

/** How the pages of the site are called, and what there is of them to begin with. */
export interface SitePages {
  readonly titleOf: (page: DocumentId) => string
  readonly pages: readonly DocumentId[]
  readonly pageTypes: readonly string[]
}

/** All that a kind of comparison has to say for itself, in one place. */
export interface ComparisonKind<C> {
  /** As it is chosen, before what it is compared with. */
  readonly label: string
  /** What it says behind that, if anything. */
  readonly after: string
  /** The whole of it, behind “for: ”. */
  readonly words: (comparison: C, site: SitePages) => string
  readonly holds: (comparison: C, visitor: Visitor) => boolean
  readonly begins: (site: SitePages) => C | null
}

/** A kind with the schema of what it keeps. */
export function comparisonKind<Schema extends z.ZodType<{ kind: string }>>(
  schema: Schema,
  kind: ComparisonKind<Readonly<z.infer<Schema>>>,
): ComparisonKind<Readonly<z.infer<Schema>>> & { readonly schema: Schema } {
  return { schema, ...kind }
}
