import type { Knex } from 'knex'
import type { Output } from '@/contract/contract'
import { ORIGINAL } from '@/core/decide'
import { armName } from '@/core/experiment'
import { titleOf } from '@/components/references'
import { lookApart } from '../formats/look-thread'
import { readPublished } from '../stores/documents'
import { liveNow } from '../stores/releases'
import { testId, type TestRow } from '../stores/tests'
import { versionsOfTest } from '../stores/versions'
import { asVersion, placesFor } from './test-facts'
import { asIfStarted } from './test-shown'

/** Each is a whole page: more are not drawn for one look. */
const MOST = 8

/** The first page on which a test shows, as each of its versions would show it. */
export async function drawnVersions(db: Knex, row: TestRow): Promise<Output<'test.drawn'>> {
  const { design } = row
  const home = (await readPublished(db, [design.document])).get(design.document)
  const [page] = await placesFor(db, design.document, home)
  const live = await liveNow(db)
  const shownOn = live.documents.find(({ id, kind }) => id === page && kind === 'page')
  if (shownOn === undefined) return { page: '', shows: [] }
  const test = testId(row.number)
  const versions = (await versionsOfTest(db, row.number)).map(asVersion)
  const round = { ...asIfStarted(test, design, versions), paused: false }
  const release = { ...live, rounds: [...live.rounds.filter((one) => one.test !== test), round] }
  const arms = [ORIGINAL, ...design.arms.map(({ version }) => version).filter((version) => version !== ORIGINAL)].slice(0, MOST)
  const shows = await Promise.all(
    arms.map(async (version) => ({
      version,
      name: armName(design, versions, version),
      html: await lookApart('version', { release, page: shownOn.id, shown: { key: test, version } }, false),
    })),
  )
  return { page: titleOf(shownOn), shows }
}
