import { createHash } from 'node:crypto'
import type { Knex } from 'knex'
import type { ContentDocument } from '@/core/document'
import { goalsOf, levelsInUse, partsOf, type Design, type Round, type Shown, type Version } from '@/core/experiment'
import { libraryOf, withParts, type Goal } from '@/core/goals'
import type { DocumentId, RoundId, TestId } from '@/core/ids'
import { markersIn } from '@/components/types'
import { siteOrigin } from '@/serving/addresses'
import { lookApart } from '../formats/look-thread'
import { pagesShowing } from '../stores/document-index'
import { walkedLately } from '../stores/last-days'
import { liveNow, newestReleaseNumber } from '../stores/releases'

/** A menu stands on every page and looks the same there: enough of them to judge by. */
const MOST_PAGES = 12
const MOST_KEPT = 200
/** By all that what is shown depends on; `found` when it has been looked at. */
interface Look {
  readonly looking: Promise<Shown>
  /** Somebody waits for it. */
  readonly urgent: boolean
  found?: Shown
}
const kept = new Map<string, Look>()
export const NOTHING_SHOWN: Shown = { pages: [], hides: [], sameByRule: [], ways: [], same: [], circle: null, fault: null }
/** Nothing yet: it is being looked at. */
export const AWAITED: Shown = { ...NOTHING_SHOWN }

/** Whatever was seen before; as soon as can be, for the next who asks where it takes more than a moment; some time; or not at all. */
export type When = 'fresh' | 'soon' | 'later' | 'never'
/** How long whoever opens a sheet waits for its looks. */
const A_MOMENT = 1000

export interface ShownParts {
  readonly test: TestId
  readonly design: Design
  readonly versions: readonly Version[]
  readonly goals: readonly Goal[]
  readonly published: ReadonlyMap<DocumentId, ContentDocument>
  /** The published pages on which the test shows. */
  readonly places: readonly DocumentId[]
}

/** What visitors would get of a test's pages, and of those that its goals count on. Looked at again only after a change. */
export async function shownOf(db: Knex, parts: ShownParts, when: When): Promise<Shown> {
  const { test, design } = parts
  if (when === 'never') return NOTHING_SHOWN
  const used = new Set(partsOf(design).flatMap((_, part) => levelsInUse(design, part)))
  const versions = parts.versions.filter(({ id }) => used.has(id))
  const pages = await pagesToLookAt(db, parts)
  if (pages.length === 0) return NOTHING_SHOWN
  const walked = await walkedLately(db)
  const what = [await newestReleaseNumber(db), walked, test, partsOf(design), design.arms, versions, pages]
  const key = createHash('sha1').update(JSON.stringify(what)).digest('base64url')
  const known = when === 'fresh' ? undefined : kept.get(key)
  if (known?.found !== undefined) return known.found
  if (known !== undefined && when === 'later') return NOTHING_SHOWN
  // One that is to be looked at some time is looked at now where somebody waits for it.
  if (known?.urgent === true) return inAMoment(known.looking)
  const look = async (): Promise<Shown> => {
    const live = await liveNow(db)
    const round = { ...asIfStarted(test, design, versions), paused: false }
    const release = { ...live, rounds: [...live.rounds.filter((one) => one.test !== test), round] }
    return lookApart('pages', { release, test, pages, walked, origin: siteOrigin() }, when !== 'later')
  }
  const looking = look().catch((reason: unknown): Shown => {
    if (when !== 'fresh') kept.delete(key)
    return { ...NOTHING_SHOWN, fault: reason instanceof Error ? reason.message : String(reason) }
  })
  // Made in a transaction that may yet be given up: nobody else goes by it.
  if (when === 'fresh') return looking
  const entry: Look = { looking, urgent: when === 'soon' }
  kept.set(key, entry)
  void looking.then((found) => (entry.found = found))
  const [oldest] = kept.keys()
  if (kept.size > MOST_KEPT && oldest !== undefined) kept.delete(oldest)
  return when === 'later' ? NOTHING_SHOWN : inAMoment(looking)
}

/** What was found, or nothing yet. */
async function inAMoment(looking: Promise<Shown>): Promise<Shown> {
  let timer: NodeJS.Timeout | undefined
  const nothing = new Promise<Shown>((done) => (timer = setTimeout(() => done(AWAITED), A_MOMENT)))
  try {
    return await Promise.race([looking, nothing])
  } finally {
    clearTimeout(timer)
  }
}

/** A test as it would be, were it started now. */
export function asIfStarted(test: TestId, design: Design, versions: readonly Version[]): Round {
  return {
    id: `${test}-r0` as RoundId,
    test,
    number: 1,
    design,
    versions: [...versions],
    goals: [],
    salt: test,
    lots: null,
    drawnAgain: 0,
    generation: 0,
    plannedTotal: 1,
    pages: [],
    segments: [],
    because: '',
  }
}

/** Those first on which the test meets its goals. */
async function pagesToLookAt(db: Knex, { design, goals, published, places }: ShownParts): Promise<DocumentId[]> {
  const counting = new Set<DocumentId>()
  for (const { wiring } of withParts(goalsOf(design), libraryOf(goals))) {
    if (wiring.kind === 'marker')
      for (const document of published.values()) {
        if (markersIn(document).has(wiring.marker)) for (const page of await pagesOf(db, document)) counting.add(page)
      }
    const document = 'document' in wiring && wiring.kind !== 'page' ? published.get(wiring.document) : undefined
    if (document !== undefined) for (const page of await pagesOf(db, document)) counting.add(page)
  }
  const both = places.filter((page) => counting.has(page))
  return [...new Set([...both.slice(0, 6), ...[...counting].slice(0, 3), ...places, ...counting])].slice(0, MOST_PAGES)
}

async function pagesOf(db: Knex, { id, kind }: ContentDocument): Promise<DocumentId[]> {
  return kind === 'page' ? [id] : (await pagesShowing(db, id)).slice(0, MOST_PAGES).map((page) => page.id)
}
