import { load, type CheerioAPI } from 'cheerio'
import * as csstree from 'css-tree'
import { ORIGINAL, type Decision } from '@/core/decide'
import { apply, type ContentDocument } from '@/core/document'
import { routeOf, type SameByRule, type Shown, type ShownLink, type ShownPage } from '@/core/experiment'
import type { DocumentId, TestId, VersionId } from '@/core/ids'
import type { Release } from '@/core/release'
import { newCircle } from '@/core/release-faults'
import { linksOf, listedTypes, referencesOf } from '@/components/references'
import { asAsked, readAddress } from '@/core/page-address'
import { methodsOfRoute } from '@/core/site-routes'
import { assemblyOf } from '../serve/assemble'
import type { Chunk } from './chunk'
import { compile, type CompiledPage, type CompiledSite } from './compile'

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

/** Where what is shown of a page leads: its links, and its forms when they are sent. */
function leading(dom: CheerioAPI, page: CompiledPage, site: CompiledSite): { address: string; words: string }[] {
  const links = dom('body a[href]')
    .toArray()
    .map((link) => ({ address: dom(link).attr('href') ?? '', words: dom(link).text().trim() }))
  const forms = dom('form[action]')
    .toArray()
    .flatMap((form) => {
      const next = page.forms.get(dom(form).attr('action') ?? '')?.next ?? ''
      const button = dom(form).find('button').text().trim()
      return next === '' || button === '' ? [] : [{ address: site.view.addressOf(next), words: button }]
    })
  return [...links, ...forms]
}

/** A page as the visitors of a version get it, without what nobody can see. */
function seenPage(page: CompiledPage, test: TestId, version: VersionId): CheerioAPI {
  const dom = load(
    assemblyOf(page.chunks)
      .whole([given(test, version)])
      .toString(),
  )
  for (const selector of hidingSelectors(page, dom)) dropMatching(dom, selector)
  dom('.hidden-part, [hidden], template, script').remove()
  return dom
}

/** Whether visitors are drawn there, and not only known again. */
const varies = ({ draws }: CompiledPage, test: TestId) => draws.some((draw) => draw.test === test && draw.keptOnly !== true)

/** The page that is shown in a version: who is sent to another page gets that one. */
function gotInstead(page: CompiledPage, version: VersionId, test: TestId, site: CompiledSite): CompiledPage {
  const route = page.routes.find(({ key }) => key === test)?.to.get(version) ?? page.route
  if (route === null) return page
  return [...site.pages.values()].find(({ path }) => asAsked(path) === route.split('#')[0]) ?? page
}

interface Walking {
  readonly site: CompiledSite
  readonly release: Release
  readonly origin: string
  readonly walked: ReadonlySet<DocumentId> | null
}

/**
 * The pages that can be come to from where the test shows. On pages where it shows, by what is shown of them in the version;
 * from all others by all that their documents link to, with what they show of others: a way that may be there is taken to be,
 * as far as visitors have come lately.
 */
function waysFrom(
  pages: readonly CompiledPage[],
  { test, design }: Round,
  { site, release, origin, walked }: Walking,
): Shown['ways'] {
  const varying = new Map(pages.filter((page) => varies(page, test)).map((page) => [page.document, page]))
  if (varying.size === 0) return []
  const byPath = new Map(
    release.documents.flatMap(({ id, kind, nodes, root }) =>
      kind === 'page' ? [[String(nodes[root]?.props.path), id] as const] : [],
    ),
  )
  const moved = new Map(release.redirects.map(({ from, document }) => [from, document]))
  const pageAt = (address: string): DocumentId[] => {
    const own = address.startsWith(`${origin}/`) ? address.slice(origin.length) : address
    const path = own.startsWith('/') ? (readAddress(/^[^?#]*/.exec(own)?.[0] ?? '') ?? '') : ''
    return [byPath.get(path) ?? moved.get(path)].filter((id) => id !== undefined)
  }
  const documents = new Map(release.documents.map((document) => [document.id, document]))
  const byDocument = new Map<DocumentId, readonly DocumentId[]>()
  const linkedFrom = (id: DocumentId): readonly DocumentId[] => {
    const known = byDocument.get(id)
    if (known !== undefined) return known
    byDocument.set(id, [])
    const document = documents.get(id)
    const found = document === undefined ? [] : leadsTo(document, documents)
    byDocument.set(id, found)
    return found
  }
  return design.arms.map(({ version }) => {
    const come = new Set<DocumentId>()
    const waiting = [...varying.keys()]
    for (let id = waiting.pop(); id !== undefined; id = waiting.pop()) {
      const page = varying.get(id)
      const got = page === undefined ? undefined : gotInstead(page, version, test, site)
      const next =
        got === undefined
          ? linkedFrom(id)
          : [got.document, ...leading(seenPage(got, test, version), got, site).flatMap(({ address }) => pageAt(address))]
      for (const to of next) {
        if (come.has(to)) continue
        come.add(to)
        if (walked === null || walked.has(to)) waiting.push(to)
      }
    }
    return { version, pages: come }
  })
}

/** The pages to which a document leads: by its own links, forms and lists, and those of what it shows. */
function leadsTo(document: ContentDocument, documents: ReadonlyMap<string, ContentDocument>): DocumentId[] {
  const found = new Set<DocumentId>()
  const met = new Set<string>()
  const waiting = [document]
  for (let one = waiting.pop(); one !== undefined; one = waiting.pop()) {
    if (met.has(one.id)) continue
    met.add(one.id)
    for (const id of linksOf(one)) found.add(id)
    const types = listedTypes(one)
    for (const other of types.length === 0 ? [] : documents.values())
      if (other.kind === 'page' && types.includes(String(other.nodes[other.root]?.props.pageType))) found.add(other.id)
    for (const { document: shown } of referencesOf(one))
      waiting.push(...[documents.get(shown)].filter((next) => next !== undefined))
  }
  return [...found]
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

function given(key: string, version: VersionId): Decision {
  return { key, version, counted: true, reason: { code: 'kept' } }
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

/** Selectors of the page's own styles that take something out of sight whatever the window and the pointer. */
function hidingSelectors(page: CompiledPage, dom: CheerioAPI): string[] {
  const sheets = dom('link[rel=stylesheet]')
    .toArray()
    .flatMap((link) => page.styles.get(dom(link).attr('href') ?? '')?.toString() ?? [])
  return sheets.flatMap((css) => {
    const found: string[] = []
    const sheet = csstree.parse(css)
    if (sheet.type !== 'StyleSheet') return found
    sheet.children.forEach((rule) => {
      if (rule.type !== 'Rule') return
      const hides = rule.block.children.some(
        (one) =>
          one.type === 'Declaration' &&
          ['display none', 'visibility hidden', 'opacity 0'].includes(
            `${one.property} ${csstree.generate(one.value)}`.toLowerCase(),
          ),
      )
      if (hides) found.push(csstree.generate(rule.prelude))
    })
    return found
  })
}

function dropMatching(dom: CheerioAPI, selector: string): void {
  // What holds only while something is pointed at, or is drawn beside an element, hides nothing for good.
  if (/:(hover|focus|active|checked|target|visited)|::/.test(selector)) return
  try {
    dom(selector).remove()
  } catch {
    // A selector that is not understood here hides nothing here.
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
