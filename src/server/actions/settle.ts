import type { Knex } from 'knex'
import { ORIGINAL } from '@/core/decide'
import { apply, describe, type Edit } from '@/core/document'
import { armName, armsEver, changesOf, partsOf, wholeReading } from '@/core/experiment'
import type { DocumentId, VersionId } from '@/core/ids'
import { testedWords } from '@/components/part-words'
import { vocabulary } from '@/components/types'
import type { LiveTransaction } from '../database/go-live'
import { Failure } from '../failure'
import { holdDocument, publishBody, readPublished, saveDraft, stateOf } from '../stores/documents'
import { makeRelease } from '../stores/releases'
import { roundsOf, type RoundRow, type StoredDecision, type TestRow } from '../stores/tests'
import { bodyFor, carryOut, nextRounds, restingOn } from './resting'
import { resultOf } from './result-of'

/** Decisions of earlier runs that a test keeps. */
const MOST_EARLIER = 20

interface Change {
  readonly document: DocumentId
  readonly edits: readonly Edit[]
}

interface Choice {
  readonly version: VersionId
  readonly reason: string
  readonly lesson: string
  /** Of the chosen variant, document by document; `null` for the original. */
  readonly changes: readonly Change[] | null
  readonly author: string
}

/**
 * Settles a test: everybody sees the chosen version from now on, as a new revision in one release; what is left of the
 * test leaves the page, and all that taking it back needs is kept with the decision.
 */
export async function settle(trx: LiveTransaction, row: TestRow, choice: Choice): Promise<{ release: number; unfit: string[] }> {
  const [round] = await roundsOf(trx, row.number)
  if (round === undefined) throw new Failure('blocked', 'This test has never run, so there is nothing to decide.')
  const found = await resultOf(trx, round, 0, null)
  if (found === null) throw new Failure('blocked', 'This test has no goal that decides, so there is nothing to decide by.')
  const reading = wholeReading(found.result)
  const own = found.view.variants.find(({ version }) => version === choice.version)?.reading ?? reading
  const expected =
    choice.changes === null ? own === 'worse' || own === 'noDifference' : own === 'better' || own === 'noDifference'
  if (!expected && choice.reason.trim() === '') {
    throw new Failure(
      'input',
      'The result does not say this by itself. Write down why you decide so all the same; it is kept in the notebook.',
    )
  }
  const written = await writtenDown(trx, round)
  const taken = choice.changes === null ? { unfit: [], undo: [] } : await takeOver(trx, row, choice.changes, choice.author)
  const name = choice.changes === null ? 'Original' : armName(round.snapshot.design, round.snapshot.versions, choice.version)
  const decision: StoredDecision = {
    kind: choice.changes === null ? 'keep' : 'take',
    version: choice.changes === null ? ORIGINAL : choice.version,
    versionName: name,
    reason: choice.reason,
    lesson: choice.lesson,
    sentence: found.view.sentence,
    reading: own,
    by: choice.author,
    at: new Date().toISOString(),
    undone: false,
    goal: found.goal.name,
    arms: found.view.rates.map(({ version, name: armName, exposed, converters, rate }) => ({
      version,
      name: armName,
      exposed,
      converters,
      rate,
    })),
    undo: taken.undo,
    ...written,
  }
  await trx('tests')
    .where({ number: row.number })
    .update({
      decision: JSON.stringify(decision),
      settled_at: new Date(),
      // One that was taken back is replaced; one of an earlier run stays on record.
      earlier: JSON.stringify(
        row.decision === null || row.decision.undone ? row.earlier : [row.decision, ...row.earlier].slice(0, MOST_EARLIER),
      ),
    })
  await trx('versions').where({ test_number: row.number }).update({ settled: 1 })
  const release = await makeRelease(
    trx,
    choice.changes === null ? `kept the original after “${row.name}”` : `took ‘${name}’ over after “${row.name}”`,
    choice.author,
  )
  return { release, unfit: taken.unfit }
}

/** What was tested and what each variant changed, in words that can be read when the page is another. */
async function writtenDown(trx: Knex.Transaction, { snapshot, epochs }: RoundRow) {
  const { design, versions } = snapshot
  const parts = partsOf(design)
  const published = await readPublished(
    trx,
    parts.map(({ document }) => document),
  )
  const wordsOf = ({ document, edits }: Change) => {
    const home = published.get(document)
    return home === undefined ? [] : edits.map((edit) => describe(home, edit, vocabulary))
  }
  const arms = armsEver(epochs)
  return {
    tested: testedWords(parts, published),
    changed: arms
      .filter(({ version }) => version !== ORIGINAL)
      .map(({ version }) => ({
        name: armName({ ...design, arms }, versions, version),
        words: changesOf({ ...design, arms }, versions, version).flatMap(wordsOf),
      })),
  }
}

async function takeOver(
  trx: LiveTransaction,
  row: TestRow,
  changes: readonly Change[],
  author: string,
): Promise<{ unfit: string[]; undo: StoredDecision['undo'] }> {
  const note = `Taken over from the test “${row.name}”`
  const taken = []
  // Documents are held in one order, so that two decisions at once cannot wait for each other.
  for (const { document, edits } of [...changes].sort((one, other) => one.document.localeCompare(other.document)))
    taken.push({ document, ...(await putLive(trx, document, { published: edits, draft: edits }, note, author)) })
  if (taken.every(({ published }) => published.length === 0))
    throw new Failure('conflict', 'Nothing of this variant fits what is published now. Change it by hand instead.')
  return {
    unfit: taken.flatMap(({ unfit }) => unfit),
    undo: taken.map(({ document, published, draft }) => ({ document, published: [...published], draft: [...draft] })),
  }
}

/** Puts edits onto what is published and onto the draft. @returns the edits that take them back, and what did not fit */
async function putLive(
  trx: LiveTransaction,
  document: DocumentId,
  edits: { published: readonly Edit[]; draft: readonly Edit[] },
  note: string,
  author: string,
): Promise<{ published: readonly Edit[]; draft: readonly Edit[]; unfit: string[] }> {
  const row = await holdDocument(trx, document)
  const published = (await readPublished(trx, [document])).get(document)
  if (published === undefined) throw new Failure('blocked', `“${row.title}” is not published any more. Publish it first.`)
  const live = apply(published, edits.published)
  const draft = apply(row.draft, edits.draft)
  const unfit = live.refused.map(({ edit }) => describe(published, edit, vocabulary))
  if (live.undo.length === 0) return { published: [], draft: [], unfit }
  const inStep = stateOf(row) === 'published'
  const resting = await restingOn(trx, published, live.document)
  const rounds = nextRounds(resting)
  await bodyFor(resting, rounds, published, live.document)
  const lock = await saveDraft(trx, row, draft.document, edits.draft, author)
  await publishBody(trx, document, live.document, { note, author, lock: inStep ? lock : null })
  await carryOut(trx, resting, rounds, author)
  return { published: live.undo, draft: draft.undo, unfit }
}

/** Takes a decision back: the page as it was, the test waiting for a decision again, the entry marked. */
export async function takeBack(
  trx: LiveTransaction,
  row: TestRow,
  author: string,
): Promise<{ release: number; unfit: string[] }> {
  const { decision } = row
  if (decision === null) throw new Failure('conflict', 'There is no decision to take back.')
  const note = `Took back ‘${decision.versionName}’ of the test “${row.name}”`
  const unfit: string[] = []
  for (const { document, published, draft } of decision.undo)
    unfit.push(...(await putLive(trx, document, { published, draft }, note, author)).unfit)
  await trx('tests')
    .where({ number: row.number })
    .update({ decision: JSON.stringify({ ...decision, undone: true }), settled_at: null })
  await trx('versions').where({ test_number: row.number }).update({ settled: 0 })
  return { release: await makeRelease(trx, `took back the decision on “${row.name}”`, author), unfit }
}
