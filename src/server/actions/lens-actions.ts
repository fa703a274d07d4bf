import type { Knex } from 'knex'
import type { LensPart, Output } from '@/contract/contract'
import { decide, ORIGINAL, resolved, type Decision } from '@/core/decide'
import { nodeAt, type ContentDocument } from '@/core/document'
import { armName, drawOf, ladderOf, levelsOf, partsOf } from '@/core/experiment'
import type { DocumentId, VersionId } from '@/core/ids'
import { asVisitor, type MadeUp } from '@/core/lens'
import type { Release } from '@/core/release'
import { partWords } from '@/components/part-words'
import { titleOf } from '@/components/references'
import { inTransaction } from '../database/connect'
import { Failure, missing } from '../failure'
import { lookApart } from '../formats/look-thread'
import { listLensVisitors, removeLensVisitor, saveLensVisitor } from '../stores/lens-visitors'
import { newestReleaseNumber, readRelease } from '../stores/releases'
import { readCalendar } from '../stores/settings'
import type { Area } from './handler'
import { miniatureView } from './miniatures'

/** Looking at the site as somebody made up: what they get, and why. By the newest release, as the site itself. */
export const lensActions: Area<'lens'> = {
  'lens.look': async ({ db }, { page: wanted, visitor: madeUp }) => {
    const { number, release } = await releaseNow(db)
    const pages = pagesIn(release)
    const front = pages.find(({ path }) => path === '/') ?? pages[0]
    const asked = wanted === null ? front : pages.find(({ id }) => id === wanted)
    if (asked === undefined) throw missing('A published page of this name')
    const visitor = asVisitor(madeUp, pageTypesIn(release))
    const task = { number, page: asked.id, visitor }
    const first = await lookApart('lens', { ...task, release: null }, true)
    const found = first.kind === 'unknown' ? await lookApart('lens', { ...task, release }, true) : first
    if (found.kind !== 'page') throw new Failure('missing', 'This page cannot be shown. Publish it again, then look.')
    const page = pages.find(({ id }) => id === found.page) ?? asked
    return {
      ...{ page, html: found.html, isSentOn: page.id !== asked.id },
      parts: found.decisions.flatMap((decision) => partsOfDecision(release, decision)),
    }
  },

  'lens.around': async ({ db }) => {
    const { release } = await releaseNow(db)
    const { day, hour } = (await readCalendar(db)).clockOf(new Date())
    return { pages: pagesIn(release), attributes: [...release.attributes], today: day, hour }
  },

  'lens.matrix': async ({ db }, { visitors }) => {
    const { release } = await releaseNow(db)
    const rows = visitors.map(({ name, visitor }) => ({ name, decisions: decisionsFor(release, visitor) }))
    const columns = [...(rows[0]?.decisions ?? [])].flatMap((decision) => columnOf(release, decision))
    return {
      columns,
      rows: rows.map(({ name, decisions }) => ({
        name,
        cells: columns.flatMap(({ key }) => {
          const decision = decisions.find((one) => one.key === key)
          return decision === undefined ? [] : [{ version: decision.version, reason: reasonOf(decision) }]
        }),
      })),
    }
  },

  'lens.saved': async ({ db }) => ({
    visitors: (await listLensVisitors(db)).map(({ id, name, visitor, made_at: at, made_by: by }) => ({
      ...{ id, name, visitor, by },
      at: at.toISOString(),
    })),
  }),

  'lens.save': ({ db, account }, { name, visitor }) =>
    inTransaction(db, async (trx) => ({ id: await saveLensVisitor(trx, name, visitor, account.name) })),

  'lens.remove': ({ db }, { id }) =>
    inTransaction(db, async (trx) => {
      await removeLensVisitor(trx, id)
      return {}
    }),
}

let kept: { readonly number: number; readonly release: Release } | null = null

/** What the site serves, or will in a moment. */
async function releaseNow(db: Knex): Promise<{ readonly number: number; readonly release: Release }> {
  const number = await newestReleaseNumber(db)
  if (number === null) throw new Failure('blocked', 'Nothing is published yet, so there is nothing to look at.')
  if (kept?.number === number) return kept
  const read = await readRelease(db, number)
  if (read === null) throw new Failure('busy', 'The site has just been published. Look again in a moment.')
  kept = { number, release: read.release }
  return kept
}

type Page = Output<'lens.around'>['pages'][number]

function pagesIn({ documents }: Release): Page[] {
  return documents.flatMap((document) => {
    if (document.kind !== 'page') return []
    const { path, pageType } = nodeAt(document, document.root).props
    return [{ id: document.id, title: titleOf(document), path: String(path ?? ''), pageType: String(pageType ?? '') }]
  })
}

function pageTypesIn(release: Release): (page: DocumentId) => string {
  const types = new Map(pagesIn(release).map(({ id, pageType }) => [id, pageType]))
  return (page) => types.get(page) ?? ''
}

/** All that is decided for somebody anywhere on the site. */
function decisionsFor(release: Release, madeUp: MadeUp): Decision[] {
  const visitor = asVisitor(madeUp, pageTypesIn(release))
  // Each part as on its own page; what stands on many is on none of them here.
  const on = (document: DocumentId) => {
    const page = pagesIn(release).find(({ id }) => id === document)
    return { ...visitor, at: page === undefined ? null : { page: page.id, pageType: page.pageType } }
  }
  return [
    ...release.personalizations.flatMap((one) =>
      decide({ draws: [], ladders: [ladderOf(one, release.segments)] }, on(one.document)),
    ),
    ...release.rounds.flatMap((round) => decide({ draws: [drawOf(round, round)], ladders: [] }, on(round.design.document))),
  ]
}

function reasonOf({ reason }: Decision): LensPart['reason'] {
  return { code: reason.code, rule: 'rule' in reason ? reason.rule : null }
}

/** The parts that a decision is about: of a test of combinations each of them. */
function partsOfDecision(release: Release, decision: Decision): LensPart[] {
  const { key, version } = decision
  const shared = { key, reason: reasonOf(decision) }
  const named = (document: DocumentId, node: ContentDocument['root']) => {
    const home = release.documents.find(({ id }) => id === document)
    return home === undefined ? null : { document, node, title: titleOf(home), part: partWords(home, node) }
  }
  const ruled = release.personalizations.find(({ id }) => id === key)
  if (ruled !== undefined) {
    const place = named(ruled.document, ruled.node)
    const rules = ruled.rules.map(({ version: of, condition }) => ({
      ...{ version: of.id, name: of.name, asks: resolved(condition, release.segments) },
    }))
    const versionName = rules.find((rule) => rule.version === version)?.name ?? 'Original'
    return place === null ? [] : [{ ...shared, ...place, version, versionName, test: null, holdout: ruled.holdout, rules }]
  }
  const round = release.rounds.find(({ test }) => test === key)
  if (round === undefined) return []
  const { design, versions, segments, paused, test } = round
  const levels = levelsOf(design, version)
  const about = { id: test, name: design.name, share: design.share, paused, asks: resolved(design.audience, segments) }
  return partsOf(design).flatMap(({ document, node }, at): LensPart[] => {
    const place = named(document, node)
    const level = levels[at] ?? ORIGINAL
    const versionName = armName({ ...design, further: [] }, versions, level)
    return place === null ? [] : [{ ...shared, ...place, version: level, versionName, test: about, holdout: 0, rules: [] }]
  })
}

/** A part with every version that somebody could be shown of it; of combinations the first part stands for all. */
function columnOf(release: Release, decision: Decision): Output<'lens.matrix'>['columns'] {
  const [first] = partsOfDecision(release, decision)
  const home = release.documents.find(({ id }) => id === first?.document)
  if (first === undefined || home === undefined) return []
  const { key, document, node, title, part, test } = first
  const round = release.rounds.find((one) => one.test === key)
  const edits = (version: VersionId) =>
    round === undefined
      ? (release.personalizations.find(({ id }) => id === key)?.rules.find((rule) => rule.version.id === version)?.version
          .edits ?? [])
      : (round.versions.find(({ id }) => id === (levelsOf(round.design, version)[0] ?? ORIGINAL))?.edits ?? [])
  const named: readonly { version: VersionId; name: string }[] =
    round === undefined
      ? [{ version: ORIGINAL, name: 'Original' }, ...first.rules]
      : round.design.arms.map(({ version }) => ({ version, name: armName(round.design, round.versions, version) }))
  const level = (version: VersionId) => (round === undefined ? version : (levelsOf(round.design, version)[0] ?? ORIGINAL))
  const versions = named.map(({ version, name }) => ({
    ...{ version, name },
    miniature: miniatureView(
      { document, node, ...(level(version) === ORIGINAL ? {} : { version: level(version) }) },
      home,
      edits(version),
    ),
  }))
  return [{ key, document, title, part, test: test?.name ?? null, versions }]
}
