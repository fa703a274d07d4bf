import type { Knex } from 'knex'
import { ORIGINAL } from '@/core/decide'
import { armsEver, changesOf } from '@/core/experiment'
import type { VersionId } from '@/core/ids'
import { Failure } from '../failure'
import { roundsOf, type TestRow } from '../stores/tests'
import { versionsOfTest } from '../stores/versions'
import { asVersion } from './test-facts'

/** What an arm changes, as it was measured; `null` for the original. */
export async function changesIn(db: Knex, row: TestRow, version: VersionId): Promise<ReturnType<typeof changesOf> | null> {
  if (version === ORIGINAL) return null
  const [round] = await roundsOf(db, row.number)
  const design = round?.snapshot.design ?? row.design
  const known = round === undefined ? design.arms : armsEver(round.epochs)
  if (!known.some((arm) => arm.version === version))
    throw new Failure('input', 'That variant does not belong to this test. Open the test again.')
  return changesOf(
    { ...design, arms: [...known] },
    round?.snapshot.versions ?? (await versionsOfTest(db, row.number)).map(asVersion),
    version,
  )
}
