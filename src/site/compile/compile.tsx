import { createHash } from 'node:crypto'
import {
  comparisonsIn,
  numberOf,
  resolved,
  type Condition,
  type Draw,
  type Ladder,
  type Moment,
  type Visitor,
} from '@/core/decide'
import type { Signer } from '@/core/letter'
import { calendarOf, isTimeZone } from '@/core/time'
import { signerWith } from '@/serving/signer'
import { leavingOut, type LeavesOut } from '../serve/left-out'
import { nodeAt, type ContentDocument } from '@/core/document'
import { drawOf, keptKey, ladderOf, noteOfSegments, notedSegments, routeOf, type Personalization } from '@/core/experiment'
import { kindOf, type Goal } from '@/core/goals'
import type { DocumentId, GoalId, NodeId, RoundId, TestId, VersionId } from '@/core/ids'
import { shortened } from '@/core/text'
import { digestOfScript } from '@/serving/script-digest'
import type { Release, ReleaseFault } from '@/core/release'
import { asAsked, isOwnAddress, keptAddress } from '@/core/page-address'
import { propsOf } from '@/components/component-type'
import { askedForm, type AskedForm } from '@/components/form/asked'
import type { SiteView } from '@/components/look'
import { page as pageType } from '@/components/page/fields'
import { Part } from '@/components/part'
import { siteView } from '@/components/site-view'
import { stylesByPart } from '@/components/style/reach'
import { everyBuffer, joined, type Chunk } from './chunk'
import { cut } from './cut'
import { FOOT, head, styleAddressOf } from './head'
import { Inputs } from './inputs'
import { consentNotice } from './consent-notice'
import { stylesOf, watchedOn, whatIsOn, type Assets, type Site } from './on-a-page'
import { isWhole, routesOf, varyingOf, type Varying } from './varying'

/** Forms of pages that were opened before the last releases are still taken as they were shown. */
const OLD_FORMS = 2000

export interface CompiledPage {
  readonly document: DocumentId
  readonly pageType: string
  readonly path: string
  /** The address that search engines keep. */
  readonly canonical: string
  readonly chunks: readonly Chunk[]
  readonly draws: readonly Draw[]
  /** Of each draw’s round, where something is remembered of it. */
  readonly roundNumbers: readonly number[]
  /** Whether any of them is kept for a visit or a view alone. */
  readonly byVisits: boolean
  readonly ladders: readonly Ladder[]
  /** Of each ladder, in which rounds it is counted; `null` where nothing of it is. */
  readonly gains: readonly (Gain | null)[]
  /** Whether anything that is given here is written down. */
  readonly counts: boolean
  /** Where visitors are sent instead, whatever is decided, or by what is decided. */
  readonly route: string | null
  readonly routes: readonly { readonly key: string; readonly to: ReadonlyMap<VersionId, string> }[]
  /** Hashes of the scripts that versions bring, for the content security policy. */
  readonly scripts: readonly string[]
  /** Rules of the styles on this page, by their addresses. */
  readonly styles: ReadonlyMap<string, Buffer>
  /** Every form that somebody may be shown here, by the address that it is sent to. */
  readonly forms: ReadonlyMap<string, AskedForm>
  /** Strong validator of a page on which nothing varies; `null` where something does. */
  readonly etag: string | null
}

/** The round of each rule, in their order, and that of all together where there is one; each with a number of its own. */
export interface Gain {
  readonly rules: readonly { readonly round: RoundId; readonly number: number }[]
  readonly together: { readonly round: RoundId; readonly number: number } | null
}

export interface CompiledSite {
  readonly pages: ReadonlyMap<string, CompiledPage>
  readonly byId: ReadonlyMap<DocumentId, CompiledPage>
  readonly view: SiteView
  readonly release: Release
  /** Addresses that pages had before. */
  readonly redirects: ReadonlyMap<string, string>
  readonly styles: ReadonlyMap<string, Buffer>
  /** Forms by their addresses: those that are shown now, and those of pages that may still be open. */
  readonly forms: ReadonlyMap<string, AskedForm>
  /** Whom no test and no count is for. */
  readonly leavesOut: LeavesOut
  /** The site’s clock. */
  momentOf(now: number): Moment
  /** What visitors’ browsers carry is signed by it. */
  readonly signer: Signer
  /** Whether any rule asks how often somebody came, and for pages of earlier visits: else no browser is given them to keep. */
  readonly remembersVisits: boolean
  readonly remembersPages: boolean
  /** Goals that some rule asks for: browsers are told when they have been reached. */
  readonly goalsAsked: readonly GoalId[]
  /** Those of them that happen elsewhere too, or that no page can tell: counting tells who reached them. */
  readonly goalsHeard: readonly GoalId[]
  /** Which segments fit somebody, as it is written down with what they are given. */
  segmentsOf(visitor: Visitor): readonly string[]
  /** Whether a component of this id is shown anywhere, in any version. */
  knows(node: NodeId): boolean
  /** What tests give for the visit alone, under what it is kept. */
  readonly keptForVisit: ReadonlySet<TestId>
  /** How many pages were compiled, and not taken over from the site before. */
  readonly compiled: number
  readonly inputs: ReadonlyMap<DocumentId, string>
  /** Pages that could not be compiled: they stay as they last could be, or are left out where they never could. */
  readonly faults: readonly ReleaseFault[]
}

/** For looking at some pages before they are served. */
interface CompileOnly {
  readonly only?: ReadonlySet<DocumentId>
  /** The address of a page that is not published. */
  readonly nowhere?: string
}

/**
 * Cuts every published page into chunks and slots. A page whose inputs are as they were in the site before is taken
 * over from it. Pure but for the rendering of the looks.
 */
export function compile(
  release: Release,
  assets: Assets,
  before?: CompiledSite,
  unread: readonly ReleaseFault[] = [],
  { only, nowhere }: CompileOnly = {},
): CompiledSite {
  const view = siteView(release.documents, {
    runs: scriptsThatRun(release),
    nowhere,
    identity: release.identity,
    pictures: release.pictures,
  })
  const site: Site = { release, view, assets, varying: varyingOf(release), styles: stylesOf(release) }
  const inputs = new Inputs(site)
  const asked = conditionsIn(release)
  const goalsAsked = [...new Set(asked.flatMap(goalsIn))]
  const seen = new Map<DocumentId, string>()
  const pages = new Map<string, CompiledPage>()
  const faults = [...unread]
  let compiled = 0
  for (const document of release.documents) {
    if (document.kind !== 'page' || only?.has(document.id) === false) continue
    try {
      const input = inputs.of(document)
      const known = before?.inputs.get(document.id) === input ? before.byId.get(document.id) : undefined
      if (known === undefined) compiled++
      const page = known ?? compilePage(document, site)
      if (isOwnAddress(page.path)) throw new Error(`the site itself answers at its address ${page.path}`)
      const other = pages.get(asAsked(page.path))
      if (other !== undefined) throw new Error(`its address ${page.path} is that of “${other.document}”`)
      pages.set(asAsked(page.path), page)
      seen.set(document.id, input)
    } catch (reason) {
      faults.push({ id: document.id, words: shortened(reason instanceof Error ? reason.message : String(reason), 300) })
      const last = before?.byId.get(document.id)
      if (last !== undefined && !isOwnAddress(last.path) && !pages.has(asAsked(last.path))) pages.set(asAsked(last.path), last)
    }
  }
  return {
    pages,
    leavesOut: leavingOut(release.leavingOut, release.consent),
    momentOf: clockIn(release.timeZone),
    signer: signerWith(release.letterKey),
    remembersVisits: asked.some(asksForEarlierVisits) || asked.some(asksForEarlierPages),
    remembersPages: asked.some(asksForEarlierPages),
    goalsAsked,
    goalsHeard: goalsAsked.filter((id) => release.goals.some((goal) => goal.id === id && isHeardOf(goal))),
    knows: knowing(release),
    segmentsOf: noteOfSegments(release.segments),
    keptForVisit: new Set(release.rounds.filter(({ design }) => design.keeping === 'visit').map(keptKey)),
    byId: new Map([...pages.values()].map((page) => [page.document, page])),
    view,
    release,
    redirects: new Map(
      release.redirects.flatMap(({ from, document }) =>
        pages.has(asAsked(from)) || isOwnAddress(from) ? [] : [[asAsked(from), view.addressOf(`page:${document}`)] as const],
      ),
    ),
    styles: new Map([...pages.values()].flatMap(({ styles }) => [...styles])),
    forms: new Map([...[...(before?.forms ?? [])].slice(-OLD_FORMS), ...[...pages.values()].flatMap(({ forms }) => [...forms])]),
    compiled,
    inputs: seen,
    faults,
  }
}

/** The same for a quarter of an hour: clocks differ from each other by whole ones. */
function clockIn(zone: string): (now: number) => Moment {
  const calendar = calendarOf(isTimeZone(zone) ? zone : 'UTC')
  let [quarter, moment] = [-1, calendar.clockOf(new Date(0))]
  return (now) => {
    const current = Math.floor(now / 900_000)
    if (current !== quarter) [quarter, moment] = [current, calendar.clockOf(new Date(now))]
    return moment
  }
}

function conditionsIn({ rounds, personalizations, segments }: Release): Condition[] {
  return [
    ...rounds.map(({ design, segments: own }) => resolved(design.audience, own)),
    ...personalizations.flatMap(({ rules }) => rules.map(({ condition }) => resolved(condition, segments))),
    ...notedSegments(segments).map(({ condition }) => condition),
  ]
}

function asksForEarlierVisits(condition: Condition): boolean {
  return comparisonsIn(condition).some(({ kind }) => kind === 'visits' || kind === 'returning')
}

function goalsIn(condition: Condition): GoalId[] {
  return comparisonsIn(condition).flatMap((one) => (one.kind === 'goalReached' ? [one.goal] : []))
}

function knowing({ documents, rounds, personalizations }: Release): (node: NodeId) => boolean {
  const versions = [
    ...rounds.flatMap((round) => round.versions),
    ...personalizations.flatMap(({ rules }) => rules.map(({ version }) => version)),
  ]
  const inserted = versions.flatMap(({ edits }) =>
    edits.flatMap((edit) => (edit.kind === 'insert' ? Object.keys(edit.tree.nodes) : [])),
  )
  const known = new Set<string>([...documents.flatMap(({ nodes }) => Object.keys(nodes)), ...inserted])
  return (node) => known.has(node)
}

function isHeardOf({ wiring }: Goal): boolean {
  const { toldByPage, reported } = kindOf(wiring)
  return reported || !toldByPage
}

function asksForEarlierPages(condition: Condition): boolean {
  return comparisonsIn(condition).some((one) => one.kind === 'seenOften' || ('within' in one && one.within === 'ever'))
}

function compilePage(page: ContentDocument, site: Site): CompiledPage {
  const { release, assets } = site
  const forms = new Map<string, AskedForm>()
  const view = withFormsKept(site.view, forms)
  const { varying, styles } = whatIsOn(page, site)
  const arrivals = site.varying.filter((one) => leadsTo(one, page, view))
  const kept = new Map<string, Buffer>()
  const keepStyle = (css: string) => {
    const address = styleAddressOf(css)
    kept.set(address, Buffer.from(css))
    return address
  }
  const canonical = canonicalOf(page, arrivals, view)
  const own = (one: Varying) => isWhole(one, page, view)
  const chunks = joined([
    ...head({
      page,
      varying,
      whole: [...varying.filter(own), ...arrivals],
      styles,
      watch: watchedOn(page, site),
      canonical: (assets.origin ?? '') + canonical,
      identity: view.identity,
      icon: view.identity.mark === '' ? null : view.pictureAddress(view.identity.mark),
      assets,
      keepStyle,
    }),
    ...cut(
      { page, styled: stylesByPart(styles) },
      (document, rendering) => <Part document={document} node={document.root} rendering={rendering} />,
      page,
      { view, varying, seen: new Map() },
    ),
    ...consentNotice(release.consent, canonical),
    Buffer.from(FOOT),
  ])
  const drawn = new Set(varying.map(({ key }) => key))
  const arriving = new Set(arrivals.map(({ key }) => key))
  const route = routeOf(page)
  const about = propsOf(pageType, nodeAt(page, page.root))
  const fixed = chunks.length === 1 && Buffer.isBuffer(chunks[0]) ? chunks[0] : null
  const draws = release.rounds.flatMap((round) =>
    drawn.has(round.test)
      ? [drawOf(round, round)]
      : arriving.has(round.test)
        ? [drawOf(round, { ...round, keptOnly: true })]
        : [],
  )
  const ruled = release.personalizations.filter(({ id }) => drawn.has(id))
  const gains = ruled.map(gainOf)
  return {
    document: page.id,
    pageType: about.pageType,
    path: keptAddress(nodeAt(page, page.root).props.path),
    canonical,
    chunks,
    draws,
    byVisits: draws.some(({ keeping }) => keeping !== undefined),
    roundNumbers: draws.map(({ round }) => numberOf(round)),
    ladders: ruled.map((one) => ladderOf(one, release.segments)),
    gains,
    counts: draws.length > 0 || gains.some((gain) => gain !== null),
    route: route === null || route === page.id ? null : view.addressOf(`page:${route}`),
    routes: varying.flatMap((one) => {
      const to = new Map([...routesOf(page, one)].map(([version, target]) => [version, view.addressOf(`page:${target}`)]))
      return to.size === 0 ? [] : [{ key: one.key, to }]
    }),
    scripts: release.scripts ? scriptHashes(chunks) : [],
    styles: kept,
    forms,
    etag: fixed === null ? null : `"${createHash('sha256').update(fixed).digest('base64url').slice(0, 27)}"`,
  }
}

function gainOf({ rules, round }: Personalization): Gain | null {
  const numbered = (id: RoundId) => ({ round: id, number: numberOf(id) })
  const own = rules.flatMap((rule) => (rule.round === null ? [] : [numbered(rule.round)]))
  // Where nobody is held out there is nothing to compare with.
  return own.length < rules.length ? null : { rules: own, together: round === null ? null : numbered(round) }
}

/** Each form is sent to an address of what it asks, so that it is taken as it was shown, in whichever version. */
function withFormsKept(view: SiteView, forms: Map<string, AskedForm>): SiteView {
  return {
    ...view,
    formAddress(document, node) {
      const plain = view.formAddress(document, node)
      const asked = askedForm(document, node)
      if (asked === null) return plain
      const address = `${plain}/${createHash('sha256').update(JSON.stringify(asked)).digest('hex').slice(0, 16)}`
      forms.set(address, asked)
      return address
    },
  }
}

/** Whether a test of another page sends some of its visitors here. */
function leadsTo(varying: Varying, page: ContentDocument, view: SiteView): boolean {
  const from = view.document(varying.part.document)
  return from?.kind === 'page' && from.id !== page.id && [...routesOf(from, varying).values()].includes(page.id)
}

/** A page that is only another page's variant is not for search engines to keep beside it (RFC 6596). */
function canonicalOf(page: ContentDocument, arrivals: readonly Varying[], view: SiteView): string {
  const [from] = arrivals
  return view.addressOf(`page:${from === undefined ? page.id : from.part.document}`)
}

/** Only what an administrator put in, and only while scripts are allowed: by its digest, wherever and however it got there. */
function scriptsThatRun({ scripts, approvedScripts }: Release): (code: string) => boolean {
  const approved = new Set(approvedScripts)
  return (code) => scripts && approved.has(digestOfScript(code))
}

function scriptHashes(chunks: readonly Chunk[]): string[] {
  const scripts = everyBuffer(chunks).flatMap((buffer) =>
    [...buffer.toString().matchAll(/<script data-n="[^>]*>([\s\S]*?)<\/script>/g)].map(([, code]) => code ?? ''),
  )
  return [...new Set(scripts)].map((code) => `'sha256-${createHash('sha256').update(code).digest('base64')}'`)
}
