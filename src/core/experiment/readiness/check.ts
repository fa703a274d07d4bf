import type { ContentDocument } from '../../document'
import type { Goal } from '../../goals'
import type { DocumentId, TestId, VersionId } from '../../ids'
import { ORIGINAL } from '../../decide'
import { levelsOf, partsOf, type Design, type TestedPart, type Version } from '../design'
import type { Lots } from '../apart'
import type { Forecast } from '../forecast'
import type { Names } from '../names'
import type { Shown } from '../shown'

export interface ReadinessFacts {
  readonly design: Design
  readonly versions: readonly Version[]
  readonly goals: readonly Goal[]
  /** The published body of each published document. */
  readonly published: ReadonlyMap<DocumentId, ContentDocument>
  /** On how many published pages each document that is no page is shown. */
  readonly places: ReadonlyMap<DocumentId, number>
  /** Tests that are running or paused, this one left out. */
  readonly others: readonly {
    readonly test: TestId
    readonly name: string
    readonly touches: readonly TestedPart[]
  }[]
  /** What visitors get, read from the compiled pages: the test's own and those that its goals count on. */
  readonly shown: Shown
  /** Whether scripts may run on the site, and which versions bring one. */
  readonly scripts: { readonly allowed: boolean; readonly versions: readonly VersionId[] }
  readonly forecast: Forecast | null
  /** What other tests of the same group that run have taken of its visitors. */
  readonly takenOfGroup: Lots
  /** The other tests of the same group that have or will want a part of its visitors; `share` in basis points. */
  readonly ofGroup: readonly { readonly name: string; readonly share: number; readonly isLive: boolean }[]
  /** By the site’s clock, as in 2026-12-01T09:00. */
  readonly now: string
}

/** A step that settles a finding, by code; the subject is what it works on. */
export interface Settling {
  readonly label: string
  readonly step:
    | 'leaveOut'
    | 'allowScripts'
    | 'evenSplit'
    | 'wholeShare'
    | 'freeShare'
    | 'fairShare'
    | 'everybody'
    | 'publishPage'
    | 'openGoal'
    | 'putMarker'
    | 'openPage'
    | 'pauseOther'
    | 'writeQuestion'
    | 'chooseGoal'
  readonly subject: string | null
}

/** What is wrong, where, what to do about it; and the step that does it, where one press can. */
export interface Said {
  readonly words: string
  readonly settle: Settling | null
}

/** All that one check has to say for itself, in one place: each of its findings is known by a code and its subject. */
export interface ReadinessCheck<Found extends { readonly code: string }> {
  /** When nothing was found. */
  readonly passed: string
  /** What must be settled before a start. */
  readonly blocks: (facts: ReadinessFacts) => readonly Found[]
  /** What may be left, at a price. */
  readonly advises: (facts: ReadinessFacts) => readonly Found[]
  readonly words: { readonly [Code in Found['code']]: (finding: Extract<Found, { code: Code }>, names: Names) => Said }
}

export const none = (): readonly never[] => []

export const openPage: Settling = { label: 'Open the page', step: 'openPage', subject: null }
export const leaveOut = (version: VersionId): Settling => ({ label: 'Leave it out', step: 'leaveOut', subject: version })

/** The versions that some arm shows, each with the document its edits are for. */
export function variantsOf({ design, versions }: ReadinessFacts): { version: Version; document: DocumentId }[] {
  return partsOf(design).flatMap(({ document }, part) => {
    const shown = new Set(design.arms.map((arm) => levelsOf(design, arm.version)[part]))
    return versions.filter(({ id }) => id !== ORIGINAL && shown.has(id)).map((version) => ({ version, document }))
  })
}
