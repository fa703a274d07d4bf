import type { Knex } from 'knex'
import { ORIGINAL } from '@/core/decide'
import { combinationId, combinations, evenWeights, levelsInUse, partsOf, type Design } from '@/core/experiment'
import type { VersionId } from '@/core/ids'
import { Failure } from '../failure'
import { indexTest, type TestRow } from '../stores/tests'
import { versionsOfTest } from '../stores/versions'

/** For one part its versions; for several every combination of theirs. */
export function armsOf(levels: readonly (readonly VersionId[])[]): Design['arms'] {
  const [only] = levels
  const arms =
    levels.length === 1 ? (only ?? []).map((version) => ({ version, levels: [] as VersionId[] })) : combinations(levels)
  const weights = evenWeights(arms.length)
  return arms.map((arm, index) => ({ ...arm, weight: weights[index] ?? 0 }))
}

/** Writes a design after checking that it stays on its part, and lets go of and takes in versions as it names them. */
export async function keepDesign(trx: Knex.Transaction, row: TestRow, design: Design): Promise<void> {
  const before = row.design
  if (design.document !== before.document || design.node !== before.node)
    throw new Failure('input', 'A test stays on the part it was made for. Make another test for another part.')
  const parts = partsOf(design)
  const wrong = design.arms.find(({ levels }) => levels.length !== (parts.length === 1 ? 0 : parts.length))
  if (wrong !== undefined) throw new Failure('input', 'A combination has to name what each part shows. Open the test again.')
  if (design.arms.some(({ version, levels }) => levels.length > 0 && combinationId(levels) !== version))
    throw new Failure('input', 'A combination does not have its own name. Open the test again.')
  const used = new Set(parts.flatMap((_, part) => levelsInUse(design, part)).filter((id) => id !== ORIGINAL))
  const versions = await versionsOfTest(trx, row.number)
  const dropped = versions.map(({ id }) => id).filter((id) => !used.has(id))
  const added = [...used].filter((id) => !versions.some((version) => version.id === id))
  await trx('versions').whereIn('id', dropped).update({ test_number: null })
  if (added.length > 0) {
    const taken = await trx('versions')
      .whereIn('id', added)
      .whereIn(
        ['document_id', 'node_id'],
        parts.map(({ document, node }) => [document, node]),
      )
      .where({ manner: 'chance', settled: 0 })
      .whereNull('test_number')
      .update({ test_number: row.number })
    if (taken !== added.length)
      throw new Failure('conflict', 'A variant you added belongs to another test or has been removed. Open the test again.')
  }
  await indexTest(trx, row.number, design)
  await trx('tests')
    .where({ number: row.number })
    .update({ design: JSON.stringify(design), name: design.name, lock_version: row.lock_version + 1 })
}
