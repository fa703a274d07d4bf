import type * as z from 'zod'
import type { DocumentId, GoalId, NodeId } from '../../ids'
import type { Happening, VisitorEvent } from '../../events'

/** What a page says of itself, as far as goals ask. */
export interface PageFacts {
  readonly path: string
  readonly pageType: string
}

/** What has to be done with a component for a goal. */
export type Doing = 'pressed' | 'sent' | 'seen'

/** What must be there on the site before a goal can be reached: by it places, lacks and readiness are worked out. */
export type Need =
  /** Something of this page or shared document, with which this can be done. */
  | { readonly kind: 'component'; readonly document: DocumentId; readonly node: NodeId; readonly doing: Doing }
  | { readonly kind: 'marker'; readonly marker: string }
  | { readonly kind: 'page'; readonly document: DocumentId }
  /** Any page that fits; `lack` says that there is none. */
  | { readonly kind: 'somePage'; readonly fits: (page: PageFacts) => boolean; readonly lack: string }
  /** Other goals: one of them, or all of them in this order. */
  | { readonly kind: 'goals'; readonly of: readonly GoalId[]; readonly all: boolean }
  /** It happens on any page, or is reported from elsewhere. */
  | { readonly kind: 'nothing' }

export const nothing: Need = { kind: 'nothing' }

/** How things are called by people. */
export interface GoalNames {
  readonly titleOf: (document: DocumentId) => string
  readonly goalNamed: (goal: GoalId) => string
}

/** Where a simulated visitor is, for what can happen on any page. */
export interface Whereabouts {
  readonly document: DocumentId
  readonly path: string
  readonly pageType: string
  readonly order: string
  readonly value: number
}

/** What a new goal can be begun with. */
export interface Beginnings {
  readonly pages: readonly (PageFacts & { readonly id: DocumentId })[]
  /** Goals that it could be made of. */
  readonly others: readonly GoalId[]
}

/** All that a kind of goal has to say for itself, in one place. */
export interface GoalKind<W> {
  /** As it is chosen. */
  readonly label: string
  /** Behind “it counts when”. */
  readonly words: (wiring: W, names: GoalNames) => string
  /**
   * Whether this event is what it counts, whoever did it and whatever they were shown.
   *
   * @param part whether the event is what another goal counts
   */
  readonly reaches: (wiring: W, event: VisitorEvent, part: (goal: GoalId) => boolean) => boolean
  /** What a simulated visitor does who reaches it, in order. */
  readonly doing: (wiring: W, at: Whereabouts, part: (goal: GoalId) => readonly Happening[]) => readonly Happening[]
  readonly needs: (wiring: W) => Need
  /** Seconds on one page that pages are to report. */
  readonly seconds?: (wiring: W) => number
  /** Whether a page, or a form on it, can tell at once that it was reached, by what is done on it. */
  readonly toldByPage: boolean
  /** What it counts can say what it was worth, and comes from elsewhere, too. */
  readonly reported: boolean
  /** As a new goal of this kind begins; `null` where something has to be pointed at first. */
  readonly begins: (from: Beginnings) => W | null
}

/** A kind with the schema of what it keeps. */
export function goalKind<Schema extends z.ZodType<{ kind: string }>>(
  schema: Schema,
  kind: GoalKind<Readonly<z.infer<Schema>>>,
): GoalKind<Readonly<z.infer<Schema>>> & { readonly schema: Schema } {
  return { schema, ...kind }
}
