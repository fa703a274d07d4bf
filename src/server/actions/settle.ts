import type { Knex } from 'knex'
import { ORIGINAL } from '@/core/decide'
import { apply, describe, type Edit } from '@/core/document'
import type { VersionId } from '@/core/ids'
import { vocabulary } from '@/components/types'
import { Failure } from '../failure'
import { holdDocument, publishBody, readPublished, saveDraft, stateOf } from '../stores/documents'
import { makeRelease } from '../stores/releases'
import { roundsOf, type StoredDecision, type TestRow } from '../stores/tests'
import { resultOf, wholeReading } from './result-of'

interface Choice {
  readonly version: VersionId
  readonly reason: string
  readonly lesson: string
  /** Of the chosen variant; `null` for the original. */
  readonly edits: readonly Edit[] | null
  readonly author: string
}

/**
 * Settles a test: everybody sees the chosen version from now on, as a new revision in one release; what is left of the
 * test leaves the page, and all that taking it back needs is kept with the decision.
 */
export async function settle(trx: Knex.Transaction, row: TestRow, choice: Choice): Promise<{ release: number; unfit: string[] }> {
  const [round] = await roundsOf(trx, row.number)
  if (round === undefined) throw new Failure('blocked', 'This test has never run, so there is nothing to decide.')
  const found = await resultOf(trx, round, 0, null)
  if (found === null) throw new Failure('blocked', 'This test has no goal that decides, so there is nothing to decide by.')
  const { reading } = wholeReading(found.result)
  const own = found.view.variants.find(({ version }) => version === choice.version)?.reading ?? reading
  const expected = choice.edits === null ? own === 'worse' || own === 'noDifference' : own === 'better' || own === 'noDifference'
  if (!expected && choice.reason.trim() === '') {
    throw new Failure(
      'input',
      'The result does not say this by itself. Write down why you decide so all the same; it is kept in the notebook.',
    )
  }
  const taken =
    choice.edits === null
      ? { unfit: [], undoPublished: [], undoDraft: [] }
      : await takeOver(trx, row, choice.edits, choice.author)
  const name =
    choice.edits === null ? 'Original' : (round.snapshot.versions.find(({ id }) => id === choice.version)?.name ?? 'a variant')
  const decision: StoredDecision = {
    kind: choice.edits === null ? 'keep' : 'take',
    version: choice.edits === null ? ORIGINAL : choice.version,
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
    undoPublished: [...taken.undoPublished],
    undoDraft: [...taken.undoDraft],
  }
  await trx('tests')
    .where({ number: row.number })
    .update({ decision: JSON.stringify(decision), settled_at: new Date() })
  await trx('versions').where({ test_number: row.number }).update({ settled: 1 })
  const release = await makeRelease(
    trx,
    choice.edits === null ? `kept the original after “${row.name}”` : `took ‘${name}’ over after “${row.name}”`,
    choice.author,
  )
  return { release, unfit: taken.unfit }
}

async function takeOver(trx: Knex.Transaction, row: TestRow, edits: readonly Edit[], author: string) {
  const document = row.design.document
  const page = await holdDocument(trx, document)
  const published = (await readPublished(trx, [document])).get(document)
  if (published === undefined) throw new Failure('blocked', 'The page is not published any more. Publish it first.')
  const live = apply(published, edits)
  const draft = apply(page.draft, edits)
  if (live.undo.length === 0)
    throw new Failure(
      'conflict',
      'Nothing of this variant fits the page as it is published now. Change the page by hand instead.',
    )
  const inStep = stateOf(page) === 'published'
  const lock = await saveDraft(trx, page, draft.document, edits, author)
  await publishBody(trx, document, live.document, {
    note: `Taken over from the test “${row.name}”`,
    author,
    lock: inStep ? lock : null,
  })
  return {
    unfit: live.refused.map(({ edit }) => describe(published, edit, vocabulary)),
    undoPublished: live.undo,
    undoDraft: draft.undo,
  }
}

/** Takes a decision back: the page as it was, the test waiting for a decision again, the entry marked. */
export async function takeBack(
  trx: Knex.Transaction,
  row: TestRow,
  author: string,
): Promise<{ release: number; unfit: string[] }> {
  const { decision } = row
  if (decision === null) throw new Failure('conflict', 'There is no decision to take back.')
  const document = row.design.document
  let unfit: string[] = []
  if (decision.kind === 'take') {
    const page = await holdDocument(trx, document)
    const published = (await readPublished(trx, [document])).get(document)
    if (published === undefined)
      throw new Failure('blocked', 'The page is not published any more, so there is nothing to take back.')
    const live = apply(published, decision.undoPublished)
    const inStep = stateOf(page) === 'published'
    const lock = await saveDraft(trx, page, apply(page.draft, decision.undoDraft).document, decision.undoDraft, author)
    await publishBody(trx, document, live.document, {
      note: `Took back ‘${decision.versionName}’ of the test “${row.name}”`,
      author,
      lock: inStep ? lock : null,
    })
    unfit = live.refused.map(({ edit }) => describe(published, edit, vocabulary))
  }
  await trx('tests')
    .where({ number: row.number })
    .update({ decision: JSON.stringify({ ...decision, undone: true }), settled_at: null })
  await trx('versions').where({ test_number: row.number }).update({ settled: 0 })
  return { release: await makeRelease(trx, `took back the decision on “${row.name}”`, author), unfit }
}
