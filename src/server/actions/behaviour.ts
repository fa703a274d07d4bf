import type { Knex } from 'knex'
import type { BehaviourView, Output } from '@/contract/contract'
import { ORIGINAL } from '@/core/decide'
import { apply, type ContentDocument } from '@/core/document'
import { armsEver, behaviourOf, slowerWords, spotsOf, type DoingRow } from '@/core/experiment'
import type { DocumentId, NodeId, VersionId } from '@/core/ids'
import { speeds } from '@/core/ledger'
import { partWords } from '@/components/part-words'
import { titleOf } from '@/components/references'
import { lookApart } from '../formats/look-thread'
import { doingsOf } from '../stores/doings'
import { liveNow } from '../stores/releases'
import type { RoundRow } from '../stores/tests'
import { namesFor } from './test-facts'

/** More of what is pressed, or of where they went, nobody reads. */
const MOST_LINES = 12

const versionsOf = ({ epochs }: RoundRow): VersionId[] => armsEver(epochs).map(({ version }) => version)

/** Variants that are slower than the original, in words. */
export function slowerIn(rows: readonly DoingRow[], round: RoundRow): { versions: VersionId[]; words: string }[] {
  const { design, versions, goals } = round.snapshot
  return slowerWords(behaviourOf(rows, versionsOf(round)), namesFor(design, versions, goals))
}

export async function behaviourView(db: Knex, round: RoundRow, crowd: number): Promise<BehaviourView> {
  const { id, design, versions, goals } = round.snapshot
  const rows = await doingsOf(db, crowd, id, ['visit', 'stayed', 'next', 'read', 'pressed', ...speeds])
  const found = behaviourOf(rows, versionsOf(round)).versions
  const names = namesFor(design, versions, goals)
  const { documents } = await liveNow(db)
  const titles = new Map(documents.map((document) => [document.id, titleOf(document)]))
  const titled = (page: DocumentId) => titles.get(page) ?? 'a page that is gone'
  const home = homesOf(documents, round)
  const lines = <Line>(of: (version: (typeof found)[number]) => readonly Line[], key: (line: Line) => string) => {
    const known = new Map(found.flatMap((version) => of(version)).map((line) => [key(line), line]))
    const at = (name: string) => found.map((version) => of(version).find((line) => key(line) === name))
    return [...known].map(([name, line]) => ({ line, each: at(name) }))
  }
  const total = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0)
  const next = lines(
    (version) => version.next,
    ({ page }) => page,
  ).map(({ line: { page }, each }) => ({ page, title: titled(page), visitors: each.map((one) => one?.visitors ?? 0) }))
  const pressed = lines(
    (version) => version.pressed,
    ({ document, node }) => `${document} ${node}`,
  ).map(({ line: { document, node }, each }) => ({
    ...{ document, node, words: home.get(node) ?? 'a part that is gone' },
    visitors: each.map((one) => one?.visitors ?? 0),
    times: each.map((one) => one?.times ?? 0),
  }))
  return {
    versions: found.map(({ version, visits, bounced, read, speed }) => ({
      ...{ version, name: names.version(version), visits, bounced, read, speed },
    })),
    next: next.sort((one, other) => total(other.visitors) - total(one.visitors)).slice(0, MOST_LINES),
    pressed: pressed.sort((one, other) => total(other.visitors) - total(one.visitors)).slice(0, MOST_LINES),
    pages: [...new Set(pressed.map(({ document }) => document))].map((page) => ({ id: page, title: titled(page) })),
  }
}

/** What each component is called, those that only a version brings among them. */
function homesOf(documents: readonly ContentDocument[], { snapshot }: RoundRow): Map<NodeId, string> {
  const known = new Map<NodeId, string>()
  const learn = (document: ContentDocument) => {
    for (const node of Object.keys(document.nodes) as NodeId[]) if (!known.has(node)) known.set(node, partWords(document, node))
  }
  documents.forEach(learn)
  for (const { edits } of snapshot.versions)
    for (const document of documents)
      if (edits.some((edit) => edit.kind === 'insert' && document.nodes[edit.parent] !== undefined))
        learn(apply(document, edits).document)
  return known
}

/** A page as a version shows it now, with where it was pressed. */
export async function pressesOn(
  db: Knex,
  round: RoundRow,
  { crowd, version, page }: { crowd: number; version: VersionId; page: DocumentId },
): Promise<Output<'result.presses'>> {
  const rows = await doingsOf(db, crowd, round.snapshot.id, ['spot'], { version, document: page })
  const live = await liveNow(db)
  const isThere = live.documents.some(({ id, kind }) => id === page && kind === 'page')
  const key = round.personalization ?? round.snapshot.test
  const rounds = [...live.rounds.filter(({ test }) => test !== round.snapshot.test), { ...round.snapshot, paused: false }]
  const release = round.personalization === null ? { ...live, rounds } : live
  const shown = version === ORIGINAL ? null : { key, version }
  return {
    html: isThere ? await lookApart('version', { release, page, shown }, true) : null,
    spots: spotsOf(rows, version, page),
  }
}
