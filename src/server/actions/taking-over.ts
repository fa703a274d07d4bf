import type { Knex } from 'knex'
import type { Input, Output } from '@/contract/contract'
import { describe, fitOf, type ContentDocument } from '@/core/document'
import { ORIGINAL } from '@/core/decide'
import { armName, armsEver } from '@/core/experiment'
import type { DocumentId, VersionId } from '@/core/ids'
import { titleOf } from '@/components/references'
import { vocabularyOf } from '@/components/types'
import { firstPublished, publishedAt, readPublished, readSurroundings } from '../stores/documents'
import { readSettings } from '../stores/settings'
import { roundsOf, type TestRow } from '../stores/tests'
import { changesIn } from './test-changes'
import { placesFor } from './test-facts'

type Changes = Awaited<ReturnType<typeof changesIn>>

/** What taking a version over does to the site, edit by edit, and what leaves it. */
export async function takingOver(db: Knex, row: TestRow, version: VersionId): Promise<Output<'test.preview'>> {
  const changes = (await changesIn(db, row, version)) ?? []
  const ids = changes.map(({ document }) => document)
  const [published, [round], surroundings, { identity }] = await Promise.all([
    readPublished(db, ids),
    roundsOf(db, row.number),
    readSurroundings(db),
    readSettings(db),
  ])
  const vocabulary = vocabularyOf(surroundings, identity)
  const edits: Output<'test.preview'>['edits'] = []
  for (const { document, edits: own } of changes) {
    const now = published.get(document)
    if (now === undefined) continue
    const asItBegan = round === undefined ? null : await publishedAt(db, document, round.started_at)
    const then = asItBegan ?? (await firstPublished(db, document)) ?? now
    for (const { index, edit, fit, since } of fitOf(then, now, own))
      edits.push({
        ...{ document, index, fit, words: describe(now, edit, vocabulary) },
        since: since.map((one) => describe(then, one, vocabulary)),
      })
  }
  const arms = round === undefined ? row.design.arms : armsEver(round.epochs)
  const versions = round?.snapshot.versions ?? []
  return {
    edits,
    documents: await Promise.all(ids.map((id) => whereShown(db, id, published.get(id)))),
    leaving: arms
      .filter((arm) => arm.version !== version && arm.version !== ORIGINAL)
      .map((arm) => armName({ ...(round?.snapshot.design ?? row.design), arms }, versions, arm.version)),
  }
}

async function whereShown(db: Knex, id: DocumentId, document: ContentDocument | undefined) {
  const title = document === undefined ? 'a page that is not published' : titleOf(document)
  return { id, title, places: (await placesFor(db, id, document)).length }
}

/** A variant without some of its edits. */
export function leavingOut(changes: Changes, without: Input<'test.decide'>['without']): Changes {
  return (
    changes?.map(({ document, edits }) => ({
      document,
      edits: edits.filter((_, index) => !without?.some((one) => one.document === document && one.index === index)),
    })) ?? null
  )
}
