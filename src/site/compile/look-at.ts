import type { CheerioAPI } from 'cheerio'
import { ORIGINAL } from '@/core/decide'
import { apply } from '@/core/document'
import { routeOf, type SameByRule, type Shown, type ShownLink, type ShownPage } from '@/core/experiment'
import type { DocumentId, TestId, VersionId } from '@/core/ids'
import type { Release } from '@/core/release'
import { newCircle } from '@/core/release-faults'
import { readAddress } from '@/core/page-address'
import { methodsOfRoute } from '@/core/site-routes'
import { assemblyOf } from '../serve/assemble'
import type { Chunk } from './chunk'
import { compile, type CompiledPage, type CompiledSite } from './compile'
import { given, gotInstead, leading, seenPage, varies } from './seen-page'
import { waysFrom } from './ways'

interface Looking {
  /** What would be served, the test's round among its rounds. */
  readonly release: Release
  readonly test: TestId
  readonly pages: readonly DocumentId[]
  /** Where the site is, so that its own absolute addresses are known. */
  readonly origin: string
  /** To which visitors came lately, or that are new: ways lead on through these alone. `null`: nobody was counted yet. */
  readonly walked?: readonly DocumentId[] | null
}

/** So many, and more were left out: of those nothing is said. */
const MOST_PAGES_LOOKED_AT = 12

/** Stands for the address of a page that is not published. */
const NOWHERE = '#not-published'

/** Looks at pages as the visitors of every version of a test get them: at the bytes that are sent, not at documents. */
export function lookAt({ release, test, pages, walked = null, origin }: Looking): Shown {
  const site = compile(release, { script: '', style: '' }, undefined, [], {
    only: new Set([...pages, ...targetsOf(release, pages, test)]),
    nowhere: NOWHERE,
  })
  const round = release.rounds.find((one) => one.test === test)
  const arms = round?.design.arms.map(({ version }) => version) ?? [ORIGINAL]
  const known = new Set(
    release.documents.flatMap(({ kind, nodes, root }) => (kind === 'page' ? [String(nodes[root]?.props.path)] : [])),
  )
  const answers = answering(new Set([...known, ...release.redirects.map(({ from }) => from)]), origin)
  const looked = pages.flatMap((id) => site.byId.get(id) ?? [])
  return {
    pages: looked.flatMap((page) => arms.map((version) => shownPage(page, version, { site, test, answers }))),
    hides: hiddenOrHiding(looked, test),
    sameByRule: round === undefined ? [] : sameByRule(looked, round, release),
    circle: newCircle(release, { ...release, rounds: release.rounds.filter((one) => one.test !== test) }),
    ways:
      round === undefined
        ? []
        : waysFrom(looked, round, { site, release, origin, walked: walked === null ? null : new Set(walked) }),
    same: round === undefined || pages.length >= MOST_PAGES_LOOKED_AT ? [] : sameOnAll(looked, round),
    fault: null,
  }
}

/** The pages to which these send their visitors, by themselves or in some version. */
function targetsOf(release: Release, pages: readonly DocumentId[], test: TestId): DocumentId[] {
  const versions = release.rounds.find((one) => one.test === test)?.versions ?? []
  return release.documents
    .filter(({ id }) => pages.includes(id))
    .flatMap((page) => [page, ...versions.map(({ edits }) => apply(page, edits).document)].flatMap((one) => routeOf(one) ?? []))
}

type Parts = ReturnType<CheerioAPI>
type Round = Release['rounds'][number]

interface Around {
  readonly site: CompiledSite
  readonly test: TestId
  readonly answers: (address: string, page: CheerioAPI) => boolean
}

function shownPage(page: CompiledPage, version: VersionId, { site, test, answers }: Around): ShownPage {
  const got = gotInstead(page, version, test, site)
  const dom = seenPage(got, test, version)
  const words = (part: Parts) => part.text().trim() !== '' || part.find('img, video, iframe, svg').length > 0
  const parts = dom('[data-n]').toArray()
  const ids = (fits: (part: Parts) => boolean) =>
    new Set(parts.flatMap((part) => (fits(dom(part)) ? (dom(part).attr('data-n') ?? []) : [])))
  const handle = 'a[href], button, summary, input'
  const pressable = (part: Parts) =>
    [...part.find(handle).toArray(), ...part.closest(handle).toArray()].some((one) => dom(one).is('input') || words(dom(one)))
  const links = leading(dom, got, site).map(({ address, words: said }): ShownLink => ({
    address,
    words: said.slice(0, 80),
    answers: answers(address, dom),
  }))
  const main = dom('main')
  return {
    page: page.document,
    version,
    blank: main.length > 0 && !words(main) && main.find('input, select, textarea').length === 0,
    placed: ids(() => true),
    seen: ids(words),
    pressed: ids(pressable),
    sent: ids(
      (part) =>
        part.is('form') &&
        part
          .find('button')
          .toArray()
          .some((button) => words(dom(button))),
    ),
    markers: new Set(
      dom('[data-m]')
        .toArray()
        .flatMap((part) => (pressable(dom(part)) ? (dom(part).attr('data-m') ?? []) : [])),
    ),
    links,
  }
}

/** Versions to which the same is sent as to an earlier one, on every page where the test shows. */
function sameOnAll(pages: readonly CompiledPage[], { id, test, design }: Round): Shown['same'] {
  const reports = new RegExp(`${id}/[\\w-]+`, 'g')
  const met = pages.filter((page) => varies(page, test))
  if (met.length === 0) return []
  const first = new Map<string, VersionId>()
  return design.arms.flatMap(({ version }) => {
    const sent = met.map((page) => [
      page.routes.find(({ key }) => key === test)?.to.get(version) ?? '',
      assemblyOf(page.chunks)
        .whole([given(test, version)])
        .toString()
        .replace(reports, ''),
    ])
    const all = JSON.stringify(sent)
    const as = first.get(all)
    if (as === undefined) first.set(all, version)
    return as === undefined ? [] : [{ version, as }]
  })
}

/** Whether something of this site answers at an address; elsewhere it is taken for granted. */
function answering(paths: ReadonlySet<string>, origin: string): Around['answers'] {
  return (address, page) => {
    if (address === '' || address === '#' || address === NOWHERE) return false
    if (address.startsWith('#')) return page(`[id="${address.slice(1).replace(/["\\]/g, '')}"]`).length > 0
    const own = address.startsWith(`${origin}/`) ? address.slice(origin.length) : address
    if (!own.startsWith('/') || own.startsWith('//')) return true
    const path = readAddress(/^[^?#]*/.exec(own)?.[0] ?? '')
    return path !== null && (paths.has(path) || methodsOfRoute(path) !== null)
  }
}

/** Versions of a round that look like the original wherever it meets a rule’s version, to whom that is shown. */
function sameByRule(pages: readonly CompiledPage[], round: Round, { personalizations }: Release): SameByRule[] {
  const reports = new RegExp(`${round.id}/[\\w-]+`, 'g')
  return personalizations.flatMap((ruled) => {
    const met = pages.filter(({ draws, ladders }) => draws.length > 0 && ladders.some(({ id }) => id === ruled.id))
    return ruled.rules.flatMap(({ version: { id, name }, condition }) => {
      const bytes = (page: CompiledPage, version: VersionId) =>
        assemblyOf(page.chunks)
          .whole([given(ruled.id, id), given(round.test, version)])
          .toString()
          .replace(reports, '')
      const originals = met.map((page) => bytes(page, ORIGINAL))
      const isSame = (version: VersionId) => met.every((page, at) => bytes(page, version) === originals[at])
      return met.length === 0
        ? []
        : round.design.arms.flatMap(({ version }) =>
            version !== ORIGINAL && isSame(version) ? [{ version, rule: name, condition }] : [],
          )
    })
  })
}

/** Tests that meet this one on a page and do not meet it in every version of either. */
function hiddenOrHiding(pages: readonly CompiledPage[], test: TestId): TestId[] {
  const found = new Set<TestId>()
  for (const { chunks } of pages) {
    const slots = slotsIn(chunks)
    for (const key of new Set(slots.map((slot) => slot.key))) {
      if (key === test || !/^t-\d+$/.test(key)) continue
      if (isLost(slots, test, key) || isLost(slots, key, test)) found.add(key as TestId)
    }
  }
  return [...found]
}

type Nested = ReturnType<typeof slotsIn>[number]

/** Every slot with what is decided around it, by key. */
function slotsIn(chunks: readonly Chunk[], around: ReadonlyMap<string, string> = new Map()) {
  const found: { readonly key: string; readonly around: ReadonlyMap<string, string>; readonly versions: readonly string[] }[] = []
  for (const chunk of chunks) {
    if (Buffer.isBuffer(chunk)) continue
    found.push({ key: chunk.key, around, versions: [...chunk.alternatives.keys()] })
    for (const [version, inner] of chunk.alternatives) found.push(...slotsIn(inner, new Map(around).set(chunk.key, version)))
  }
  return found
}

/** Whether something that varies by `inner` stands in some versions of `outer` and not in others. */
function isLost(slots: readonly Nested[], outer: string, inner: string): boolean {
  const versions = new Set(slots.filter(({ key }) => key === outer).flatMap((slot) => slot.versions))
  const within = slots.filter(({ key, around }) => key === inner && around.has(outer))
  // One that stands beside it, whatever is decided, is lost to nobody.
  if (within.length === 0 || slots.some(({ key, around }) => key === inner && !around.has(outer))) return false
  const met = new Set(within.map(({ around }) => around.get(outer)))
  return [...versions].some((version) => !met.has(version))
}
