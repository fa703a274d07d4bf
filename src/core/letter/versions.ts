import { decide, isForEverybody, ORIGINAL, stranger } from '../decide'
import { apply, type ContentDocument, type Edit } from '../document'
import { changesOf, drawOf, partsOf, type Round } from '../experiment'
import type { DocumentId, RoundId, TestId, VersionId } from '../ids'

/** The version of a call to action that one recipient gets: of the test on it, or the original where none runs. */
export interface CallVersion {
  readonly call: DocumentId
  readonly test: TestId | null
  readonly round: RoundId | null
  readonly version: VersionId
}

type Running = Round & { readonly paused: boolean }

/**
 * Drawn like on a page, by the recipient’s visitor id, so that the letter and the site show the same person the same.
 * Whoever takes no part gets the original and carries nothing.
 */
export function versionsFor(recipient: string, calls: readonly DocumentId[], rounds: readonly Running[]): CallVersion[] {
  return calls.map((call): CallVersion => {
    const round = roundOn(call, rounds)
    const none = { call, test: null, round: null, version: ORIGINAL }
    // Of whoever reads a letter nobody knows what they come with: a test for some is none of theirs.
    if (round === undefined || !isForEverybody(round.design.audience)) return none
    const [decision] = decide({ draws: [drawOf(round, round)], ladders: [] }, { ...stranger, id: recipient })
    return decision?.counted === true ? { call, test: round.test, round: round.id, version: decision.version } : none
  })
}

/** The test that varies this call to action, if one runs. */
export function roundOn(call: DocumentId, rounds: readonly Running[]): Running | undefined {
  return rounds.find(({ design, paused }) => !paused && partsOf(design).some(({ document }) => document === call))
}

/** What each version in a test changes in a call to action, the original first. */
export function versionsOn(call: DocumentId, round: Round): { readonly version: VersionId; readonly edits: readonly Edit[] }[] {
  const { design, versions } = round
  return design.arms.map(({ version }) => ({
    version,
    edits: changesOf(design, versions, version).find(({ document }) => document === call)?.edits ?? [],
  }))
}

/** A call to action as a version of the test on it has it. */
export function callAs(call: ContentDocument, round: Round | undefined, version: VersionId): ContentDocument {
  if (round === undefined || version === ORIGINAL) return call
  return apply(call, versionsOn(call.id, round).find((one) => one.version === version)?.edits ?? []).document
}
