import type { GoalId, VersionId } from '../ids'

/** The names that sentences need. */
export interface Names {
  version(id: VersionId): string
  goal(id: GoalId): string
  page(id: string): string
}
