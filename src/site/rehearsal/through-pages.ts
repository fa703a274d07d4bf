import { leftOutWords, ORIGINAL, type LeftOut } from '@/core/decide'
import type { FormEntry, Happening, StampedEvent } from '@/core/events'
import type { Round } from '@/core/experiment'
import { doing, libraryOf } from '@/core/goals'
import type { DocumentId, GoalId, VersionId } from '@/core/ids'
import {
  lotFor,
  lotOf,
  orderWorth,
  origins,
  rateOn,
  seenShare,
  type Mishap,
  type SimulatedVisitor,
  type WorthNoise,
} from '@/core/simulate'
import { eventIdOf } from '@/serving/event-id'
import { homeOf } from '@/serving/regions'
import type { CompiledSite } from '../compile/compile'
import { makeSite } from '../site'
import { onLoopback, type Loopback } from './loopback'
import type { ParsedPage } from './parsed-page'
import { SimulatedBrowser } from './simulated-browser'

/** The true rate of a version, and what is the matter with it. */
export interface Truth {
  readonly rate: number
  readonly mishap: Mishap
  /** Of goals that are counted besides. */
  readonly others?: readonly { readonly goal: GoalId; readonly rate: number }[]
}

/** What did not go as a visitor would expect it, of which version, in words. */
export interface Wrong {
  readonly version: VersionId | null
  readonly words: string
}

/** Made-up visitors who come through a site as it would be with a test on it. */
export interface PageRehearsal {
  send(visitor: SimulatedVisitor): Promise<void>
  /** What the site has taken in since it was last asked, as of the rehearsal. */
  take(): Promise<StampedEvent[]>
  readonly found: {
    pages: number
    shown: number
    bots: number
    studioUsers: number
    withheld: number
    cameBack: number
    readonly wrong: readonly (Wrong & { times: number })[]
  }
  close(): Promise<void>
}

const DAY = 86_400_000
/** Milliseconds: a page is answered before it is noted who was given what. */
const WRITTEN_WITHIN = 25
/**
 * A rehearsal through the site itself: pages are compiled, decided on and served as to any visitor, forms are taken and
 * reports collected by the same code; only what it would write goes to the rehearsal, and its clock is that of the visitor.
 *
 * @param compiled the site with the round on it @param startsAt of the first day
 */
export async function throughPages(
  compiled: CompiledSite,
  of: {
    readonly round: Round
    readonly crowd: number
    readonly truths: ReadonlyMap<VersionId, Truth>
    readonly startsAt: Date
    readonly worth: { readonly mean: number; readonly noise: WorthNoise }
  },
): Promise<PageRehearsal> {
  let clock = 0
  let now: SimulatedVisitor | null = null
  let taken: StampedEvent[] = []
  const siteThat = (writes: (events: readonly StampedEvent[]) => void) =>
    onLoopback(
      makeSite({
        current: () => compiled,
        ...{ assets: new Map(), media: new Map() },
        writeEvents: (events) => Promise.resolve(writes(events)),
        keepEntry: (entry) => Promise.resolve(writes(accepted(entry))),
        now: () => clock,
        log: () => undefined,
        addressOf: () => now?.id ?? '',
        regionOf: (id) => now?.home ?? homeOf(id),
      }),
    )
  const site = await siteThat((events) => void taken.push(...events))
  const wrong = new Map<string, Wrong & { times: number }>()
  const found = { pages: 0, shown: 0, bots: 0, studioUsers: 0, withheld: 0, cameBack: 0 }
  const pages = new Map<string, ParsedPage>()
  const fail = (version: VersionId | null, words: string) => {
    const key = `${version ?? ''} ${words}`
    const one = wrong.get(key) ?? { version, words, times: 0 }
    wrong.set(key, { ...one, times: one.times + 1 })
  }
  clock = of.startsAt.getTime()
  const begin = await whereItShows(compiled, of.round, await siteThat(() => undefined), pages)
  const around = { ...of, site, compiled, pages, found, fail, begin }
  return {
    send: async (visitor) => {
      now = visitor
      await new Walk(around, visitor, (at) => (clock = at)).go()
    },
    take: async () => {
      await new Promise((written) => setTimeout(written, WRITTEN_WITHIN))
      const events = taken.map((event) => ({ ...event, crowd: of.crowd }))
      taken = []
      return events
    },
    get found() {
      return { ...found, wrong: [...wrong.values()].sort((one, other) => other.times - one.times) }
    },
    close: () => site.close(),
  }
}

/** Pages that are looked at, and how often each, before the first is taken: who takes part is drawn anew each time. */
const [MOST_LOOKED_AT, LOOKS] = [12, 20]

/**
 * The page that visitors begin on: the first on which something of the test is shown. Nobody counts who looks for it.
 *
 * @returns `null` where none of its pages is published
 */
async function whereItShows(
  compiled: CompiledSite,
  { id, pages, design }: Round,
  site: Loopback,
  read: Map<string, ParsedPage>,
): Promise<string | null> {
  const paths = [...pages, design.document].flatMap((document) => compiled.byId.get(document)?.path ?? [])
  for (const path of paths.slice(0, MOST_LOOKED_AT))
    for (let look = 0; look < LOOKS; look++) {
      const browser = new SimulatedBrowser(site, 'computer', read)
      if (compiled.leavesOut(browser.headers(), () => '') === 'withheld') await browser.agree()
      const page = await browser.open(path)
      if (page?.varying.some((name) => name.startsWith(`${id}/`)) !== true) continue
      await site.close()
      return path
    }
  await site.close()
  return paths[0] ?? null
}

/** As the service behind a form takes it, at once. */
function accepted({ id, visitor, at, document, node }: FormEntry): StampedEvent[] {
  return visitor === null ? [] : [{ id, crowd: 0, visitor, at, kind: 'form', document, nodes: [node] }]
}

interface Around {
  readonly round: Round
  readonly crowd: number
  readonly truths: ReadonlyMap<VersionId, Truth>
  readonly startsAt: Date
  readonly site: Loopback
  readonly compiled: CompiledSite
  readonly pages: Map<string, ParsedPage>
  readonly worth: { readonly mean: number; readonly noise: WorthNoise }
  readonly found: { pages: number; shown: number; bots: number; studioUsers: number; withheld: number; cameBack: number }
  readonly fail: (version: VersionId | null, words: string) => void
  /** The path that visitors begin on. */
  readonly begin: string | null
}

/** The way of one visitor. */
class Walk {
  readonly #browser: SimulatedBrowser
  #step = 0
  #page: ParsedPage | null = null
  #version: VersionId | null = null

  constructor(
    private readonly around: Around,
    private readonly visitor: SimulatedVisitor,
    private readonly setClock: (at: number) => void,
  ) {
    const { who, device } = visitor
    this.#browser = new SimulatedBrowser(around.site, who === 'bot' ? 'bot' : device, around.pages, who === 'studioUser')
  }

  async go(): Promise<void> {
    const { begin, truths, found, fail, startsAt, compiled } = this.around
    const { returns, who, origin, agrees } = this.visitor
    if (begin === null) return fail(null, 'the page of the test is not published')
    this.#at(0)
    if (agrees && this.#leftOutFor(compiled) === 'withheld') await this.#browser.agree()
    const reason = this.#leftOutFor(compiled)
    if (reason !== null) return this.#leftOut(begin, reason)
    const { host, utm } = origins[origin]
    await this.#open(`${begin}${utm === '' ? '' : `?utm_source=${utm}`}`, host === '' ? '' : `https://${host}/`)
    if (this.#page === null) return fail(null, `the page ${begin} did not come`)
    if (this.#version === null) return
    found.shown++
    const version = this.#version
    const [truth, original] = [truths.get(version), truths.get(ORIGINAL)]
    const day = Math.floor((this.visitor.arrivesAt.getTime() - startsAt.getTime()) / DAY)
    const rate = rateOn(truth?.mishap ?? 'none', truth?.rate ?? 0, original?.rate ?? 0, day)
    if (who !== 'visitor') return
    if (this.visitor.luck < rate) await this.#reach(this.around.round.design.primary)
    for (const { goal, rate: share } of truth?.others ?? []) if (lotFor(this.visitor.id, goal) < share) await this.#reach(goal)
    if (!returns) return
    this.#at(DAY + this.visitor.ponders)
    found.cameBack++
    await this.#open(begin)
    if (this.#version !== version) fail(version, 'somebody who came back was shown another version')
  }

  /** Why the site says that it leaves this one out. */
  #leftOutFor({ leavesOut }: CompiledSite): LeftOut | null {
    return leavesOut(this.#browser.headers(), () => this.visitor.id)
  }

  /** Whoever is left out is shown the original, keeps nothing and is counted nowhere. */
  async #leftOut(path: string, reason: LeftOut): Promise<void> {
    const { found, fail } = this.around
    if (reason === 'bot') found.bots++
    if (reason === 'studioUser') found.studioUsers++
    if (reason === 'withheld') found.withheld++
    await this.#open(path)
    // Who has not agreed may be drawn for this visit, without being known again.
    if (reason !== 'withheld' && this.#version !== null && this.#version !== ORIGINAL)
      fail(this.#version, `one of those who are left out was drawn: ${leftOutWords[reason]}`)
    if (this.#browser.keepsSomething)
      fail(null, `one of those who are left out was given something to keep: ${leftOutWords[reason]}`)
  }

  async #open(path: string, referrer = ''): Promise<void> {
    const { found, round } = this.around
    this.#page = await this.#browser.open(path, referrer)
    found.pages++
    if (this.#page === null) return
    const { varying, document } = this.#page
    const shown = varying.find((name) => name.startsWith(`${round.id}/`))
    if (shown !== undefined) this.#version = shown.slice(round.id.length + 1) as VersionId
    const truth = this.#version === null ? undefined : this.around.truths.get(this.#version)
    const isLost = lotOf(this.visitor.id) >= seenShare(truth?.mishap ?? 'none')
    const host = referrer === '' ? {} : { h: new URL(referrer).host }
    const source = path.includes('utm_source=newsletter') ? { u: 'newsletter' } : {}
    await this.#report(document, [{ k: 'page', ...host, ...source }])
    this.#later(2000)
    if (shown !== undefined && !isLost) await this.#report(document, varying.map(seen))
  }

  async #report(document: string, events: readonly object[]): Promise<void> {
    const made = events.map((event) => ({ i: this.#id(), ...event }))
    if (made.length > 0 && !(await this.#browser.report(document, made))) this.around.fail(this.#version, 'a report was refused')
  }

  /** Reaches a goal, one thing after the other, as its page lets it. */
  async #reach(id: GoalId | null): Promise<void> {
    const { round, fail, worth } = this.around
    const goal = round.goals.find((one) => one.id === id)
    if (goal === undefined) return
    const where = { document: (this.#page?.document ?? '') as DocumentId, path: '', pageType: '' }
    this.#later(this.visitor.ponders)
    for (const happening of doing(goal, libraryOf(round.goals), {
      ...where,
      order: this.visitor.id.slice(0, 12),
      value: orderWorth(worth, this.visitor.id),
    })) {
      const trouble = await ways[happening.kind](this.#hand(), happening as never)
      if (trouble !== null) return fail(this.#version, trouble)
      this.#later(10_000)
    }
  }

  #hand(): Hand {
    return {
      page: this.#page,
      pathOf: (document) => this.around.compiled.byId.get(document)?.path ?? null,
      open: async (path) => {
        await this.#open(path)
        return this.#page
      },
      report: (events) => this.#report(this.#page?.document ?? '', events),
      send: (action, fields) => this.#browser.send(action, fields),
    }
  }

  #id(): string {
    return eventIdOf(`pages ${this.around.crowd} ${this.visitor.id} ${this.#step++}`)
  }

  #now = 0
  #at(after: number): void {
    this.#now = this.visitor.arrivesAt.getTime() + after
    this.setClock(this.#now)
  }
  #later(milliseconds: number): void {
    this.#now += milliseconds
    this.setClock(this.#now)
  }
}

const seen = (name: string) => {
  const [r, v] = name.split('/')
  return { k: 'seen', r, v }
}

/** What a step of a goal has in hand. */
interface Hand {
  readonly page: ParsedPage | null
  readonly pathOf: (document: DocumentId) => string | null
  readonly open: (path: string) => Promise<ParsedPage | null>
  readonly report: (events: readonly object[]) => Promise<void>
  readonly send: (action: string, fields: ReadonlyMap<string, string>) => Promise<string | null>
}

type Way<Kind extends Happening['kind']> = (hand: Hand, happening: Extract<Happening, { kind: Kind }>) => Promise<string | null>

const nothingToDo = () => Promise.resolve(null)
const notFromHere = (what: string) => () => Promise.resolve(`${what} comes from elsewhere, which pages cannot rehearse`)

/** On the page that it is about, wherever the visitor is. */
async function pageWith({ page, pathOf, open }: Hand, document: DocumentId): Promise<ParsedPage | null> {
  if (page?.document === document) return page
  const path = pathOf(document)
  return path === null ? page : open(path)
}

/** How each thing that a goal asks for is done on a page; in words what was in the way. One that is forgotten does not compile. */
const ways: { readonly [Kind in Happening['kind']]: Way<Kind> } = {
  page: async (hand, { document }) => {
    const path = hand.pathOf(document)
    if (path === null) return 'the page that the goal is about is not published'
    return (await hand.open(path)) === null ? `the page ${path} did not come` : null
  },
  click: async (hand, { document, nodes: [node], markers: [marker] }) => {
    const page = await pageWith(hand, document)
    const pressed = node !== undefined ? page?.pressOn({ node }) : marker !== undefined ? page?.pressOn({ marker }) : null
    if (pressed == null) return 'what is to be pressed is not on the page'
    await hand.report([
      { k: 'click', n: pressed.nodes, ...(pressed.markers.length === 0 ? {} : { m: pressed.markers }), p: [5, 5] },
    ])
    return null
  },
  form: async (hand, { document, nodes: [node] }) => {
    const page = await pageWith(hand, document)
    const form = node === undefined ? null : page?.formAt(document, node)
    if (form == null) return 'the form is not on the page'
    const next = await hand.send(form.action, form.fields)
    if (next === null) return 'the form was not taken'
    // To another site nobody is followed.
    if (!next.startsWith('/')) return null
    return (await hand.open(next)) === null ? `the page after the form, ${next}, did not come` : null
  },
  outbound: async (hand, { address }) => {
    if (hand.page?.linksTo(address) !== true) return `no link to ${address} is on the page`
    await hand.report([{ k: 'out', a: address }])
    return null
  },
  read: async (hand, { document, node }) => {
    const page = await pageWith(hand, document)
    if (page?.has(node) !== true || !page.tells('data-r').includes(node)) return 'what is to be read is not on the page'
    await hand.report([{ k: 'read', n: node }])
    return null
  },
  stay: async (hand, { seconds }) => {
    if (hand.page?.tells('data-t').includes(String(seconds)) !== true) return 'the page does not tell how long somebody stayed'
    await hand.report([{ k: 'stay', s: seconds }])
    return null
  },
  event: async (hand, { name, value }) => {
    await hand.report([{ k: 'event', w: name, ...(value === undefined || value === null ? {} : { x: value }) }])
    return null
  },
  order: notFromHere('an order'),
  letter: notFromHere('a newsletter'),
  call: nothingToDo,
  speed: nothingToDo,
  assigned: nothingToDo,
  seen: nothingToDo,
}
