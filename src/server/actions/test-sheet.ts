import type { Knex } from 'knex'
import type { Output, TestView } from '@/contract/contract'
import { findingWords, kindsOf, levelsInUse, partsOf, passedWords, type Version } from '@/core/experiment'
import { countsAlike, type Goal } from '@/core/goals'
import { describe } from '@/core/document'
import type { TestId } from '@/core/ids'
import { titleOf } from '@/components/references'
import { partWords, testedWords } from '@/components/part-words'
import { vocabularyOf } from '@/components/types'
import type { Database } from '../database/connect'
import { listPages, readDocument, readSurroundings, type DocumentRow } from '../stores/documents'
import { miniatureView } from './miniatures'
import { readSettings } from '../stores/settings'
import { listRehearsals } from '../stores/rehearsals'
import { pastTests } from '../stores/past-tests'
import { listGroups, newsOf, readTest, roundsOf, type RoundRow, type TestRow } from '../stores/tests'
import { listVersions, livePersonalizations } from '../stores/versions'
import { decisionView } from './test-lines'
import { asVersion, drawsNobody, namesFor, ofGroup, testFacts } from './test-facts'

/** The whole of what the sheet of a test shows. */
export async function openTest(db: Database, id: TestId): Promise<Output<'test.open'>> {
  const row = await readTest(db, id)
  const parts = partsOf(row.design)
  const [homes, surroundings, facts, rounds, rehearsals, settings, all, live] = await Promise.all([
    Promise.all(parts.map(({ document }) => readDocument(db, document))),
    readSurroundings(db),
    // Only what may be started wants to be looked at.
    testFacts(db, row, row.status === 'draft' || row.status === 'paused' ? 'soon' : 'never'),
    roundsOf(db, row.number),
    listRehearsals(db, row.number),
    readSettings(db),
    Promise.all(parts.map(({ document }) => listVersions(db, document))),
    livePersonalizations(db),
  ])
  const pages = await listPages(db)
  const titles = new Map<string, string>([
    ...pages.map((one): [string, string] => [one.id, one.title]),
    ...homes.map((home): [string, string] => [home.id, home.title]),
  ])
  const counted = rounds[0]?.snapshot.goals ?? []
  // While it runs, and ever after, it counts by its goals as they were when its round began.
  const asCounted = row.status === 'draft' || row.status === 'paused' ? [] : counted
  const goals = facts.goals.map((goal) => asCounted.find(({ id: own }) => own === goal.id) ?? goal)
  const versions = row.status === 'settled' ? (rounds[0]?.snapshot.versions ?? []) : facts.versions
  const names = namesFor(row.design, versions, goals, titles)
  const said = (finding: Parameters<typeof findingWords>[0]) => ({ code: finding.code, ...findingWords(finding, names) })
  const [home] = homes
  const words = vocabularyOf([...surroundings, ...homes.map(({ draft }) => draft)], settings.identity)
  /** A version with its part: the one whose document it changes. */
  const drawn = (version: Version, part: number) => {
    const { document, node } = parts[part] ?? row.design
    const draft = homes[part]?.draft
    if (draft === undefined) return []
    return [
      {
        ...version,
        words: version.edits.map((edit) => describe(draft, edit, words)),
        miniature: miniatureView({ document, node, version: version.id, test: id }, draft, version.edits),
      },
    ]
  }
  const partOf = (version: Version) =>
    Math.max(
      0,
      parts.findIndex((_, part) => levelsInUse(row.design, part).includes(version.id)),
    )
  return {
    id,
    status: row.status,
    lock: row.lock_version,
    design: row.design,
    versions: versions.flatMap((version) => drawn(version, partOf(version))),
    page: { title: home?.title ?? '', path: home?.path ?? '' },
    parts: parts.flatMap(({ document, node }, part) => {
      const draft = homes[part]?.draft
      if (draft === undefined) return []
      return [
        {
          words: partWords(draft, node),
          title: titleOf(draft),
          kind: draft.kind,
          places: facts.places.get(document)?.length ?? 0,
          miniature: miniatureView({ document, node }, draft, []),
        },
      ]
    }),
    ruled: live
      .filter((one) => parts.some(({ document, node }) => one.document === document && one.node === node))
      .map(({ document, node, rules }) => ({ document, node, rules: rules.map(({ version }) => version.name) })),
    free: parts.flatMap(({ node }, part) =>
      (all[part] ?? [])
        .filter((version) => version.node_id === node && version.manner === 'chance' && version.test_number === null)
        .flatMap((version) => drawn(asVersion(version), part).map((one) => ({ ...one, part }))),
    ),
    goals: [...goals],
    asBefore: row.status === 'running' ? changedSince(counted, facts.goals).map(({ name }) => name) : [],
    drawsNobody: row.status === 'running' ? await drawsNobody(db, row.design) : null,
    currency: settings.currency,
    pages: pages.map(({ id: page, title, path, published }) => ({ id: page, title, path, published })),
    pageTypes: [...new Set(pages.map(({ pageType }) => pageType))].sort(),
    groups: await listGroups(db),
    ofGroup: [...(await ofGroup(db, row))],
    traffic: { ...facts.traffic, recent: [...facts.traffic.recent] },
    blocks: facts.readiness.blocks.map(said),
    advises: facts.readiness.advises.map(said),
    // Nothing is said to be in order before it was looked at.
    passed: facts.isAwaited ? [] : facts.readiness.passed.map(passedWords),
    looking: facts.isAwaited,
    rounds: rounds.map(roundView),
    rehearsals,
    decision: row.decision === null ? null : decisionView(row.decision),
    earlier: row.earlier.map(decisionView),
    ...{ notes: row.notes, tags: row.tags, past: await pastOf(db, row, homes) },
    news: newsOf(row),
  }
}

/** Goals that are not as they were counted. */
export function changedSince(counted: readonly Goal[], goals: readonly Goal[]): Goal[] {
  return goals.filter((goal) => {
    const then = counted.find(({ id }) => id === goal.id)
    return then !== undefined && !countsAlike(then, goal)
  })
}

/** What settled tests of the same kind did, for whoever plans by it. */
async function pastOf(db: Knex, row: TestRow, homes: readonly DocumentRow[]): Promise<TestView['past']> {
  if (row.status !== 'draft') return null
  const tested = testedWords(partsOf(row.design), new Map(homes.map(({ draft }) => [draft.id, draft])))
  const found = kindsOf(await pastTests(db)).find(({ kind }) => kind === tested)
  if (found === undefined || found.prior === null) return null
  const { kind, tests, paid, prior } = found
  return { kind, tests, paid, prior }
}

function roundView({ snapshot, epochs, started_at, ended_at }: RoundRow): TestView['rounds'][number] {
  return {
    id: snapshot.id,
    number: snapshot.number,
    startedAt: started_at.toISOString(),
    endedAt: ended_at?.toISOString() ?? null,
    because: snapshot.because,
    epochs: epochs.slice(1).map(({ since, because }) => ({ since: since.toISOString(), because })),
  }
}
