import type * as z from 'zod'
import type { Utm } from '../../decide'
import type { DocumentId, NodeId } from '../../ids'

/** What is kept of an event in columns of their own, and what it says besides. */
export interface EventColumns {
  readonly document_id: string | null
  readonly round_id: string | null
  readonly version: string | null
  /** Ids of nodes, the nearest first, with spaces between them. */
  readonly nodes: string | null
  readonly about: object | null
}

/** What only the server knows of a report: the page as it is served, and how the visit began. */
export interface Received {
  readonly document: DocumentId
  readonly path: string
  readonly pageType: string
  /** `null` where this is not the first page of a visit. */
  readonly arrival: Arrival | null
  /** Whether the site shows a component of this id: a page may say any. */
  readonly knows: (node: NodeId) => boolean
}

/** How a visit began, as its first request says it and the site remembers it. */
export interface Arrival {
  readonly device: string
  readonly language: string | null
  readonly region: string | null
  readonly utm?: Utm
  readonly referrer?: string
  /** What the site itself says of the visitor, of what it may say. */
  readonly attributes?: ReadonlyMap<string, string>
}

/** An event kind whose parts fit each other; the schemas keep their own types. */
export function eventKind<
  Schema extends z.ZodType<{ kind: string }>,
  RowSchema extends z.ZodType,
  WireSchema extends z.ZodType<{ k: string }>,
>(kind: {
  readonly schema: Schema
  readonly row: {
    readonly schema: RowSchema
    readonly write: (event: Readonly<z.infer<Schema>>) => Partial<EventColumns>
    readonly read: (row: z.infer<RowSchema>) => z.infer<Schema>
  }
  readonly wire: {
    readonly schema: WireSchema
    readonly read: (said: z.infer<WireSchema>, received: Received) => z.infer<Schema>
  }
}): typeof kind {
  return kind
}

/** One that no page reports. */
export function inwardKind<Schema extends z.ZodType<{ kind: string }>, RowSchema extends z.ZodType>(kind: {
  readonly schema: Schema
  readonly row: {
    readonly schema: RowSchema
    readonly write: (event: Readonly<z.infer<Schema>>) => Partial<EventColumns>
    readonly read: (row: z.infer<RowSchema>) => z.infer<Schema>
  }
}): typeof kind {
  return kind
}
