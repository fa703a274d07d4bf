import { ORIGINAL } from '@/core/decide'
import type { FormEntry, Happening, StampedEvent } from '@/core/events'
import type { Round } from '@/core/experiment'
import { doing, libraryOf } from '@/core/goals'
import type { DocumentId, VersionId } from '@/core/ids'
import { lotOf, lotsOf, pick, rateOn, seenShare, type Mishap, type SimulatedVisitor } from '@/core/simulate'
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
}

export interface Mix {
  /** The share that comes back on another day, and the share that are bots. */
  readonly returning: number
  readonly bots: number
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
    cameBack: number
    readonly wrong: readonly (Wrong & { times: number })[]
  }
  close(): Promise<void>
}

const DAY = 86_400_000
/** Milliseconds: a page is answered before it is noted who was given what. */
const WRITTEN_WITHIN = 25
/** Where visitors come from: search, a newsletter, another site, or nowhere that is told. */
const origins: readonly (readonly [{ readonly referrer: string; readonly query: string }, number])[] = [
  [{ referrer: '', query: '' }, 0.45],
  [{ referrer: 'https://search.example/', query: '' }, 0.3],
  [{ referrer: '', query: '?utm_source=newsletter&utm_medium=email' }, 0.15],
  [{ referrer: 'https://strings.example/forum', query: '' }, 0.1],
]

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
    readonly mix: Mix
    readonly startsAt: Date
    readonly seed: number
  },
): Promise<PageRehearsal> {
  let clock = 0
  let address = ''
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
        addressOf: () => address,
        regionOf: homeOf,
      }),
    )
  const site = await siteThat((events) => void taken.push(...events))
  const wrong = new Map<string, Wrong & { times: number }>()
  const found = { pages: 0, shown: 0, bots: 0, cameBack: 0 }
  const pages = new Map<string, ParsedPage>()
  const lots = lotsOf(of.seed ^ 0x5bd1)
  const fail = (version: VersionId | null, words: string) => {
    const key = `${version ?? ''} ${words}`
    const one = wrong.get(key) ?? { version, words, times: 0 }
    wrong.set(key, { ...one, times: one.times + 1 })
  }
  clock = of.startsAt.getTime()
  const begin = await whereItShows(compiled, of.round, await siteThat(() => undefined), pages)
  const around = { ...of, site, compiled, pages, found, fail, begin }
  const walk = (visitor: SimulatedVisitor, bot: boolean) =>
    new Walk({ ...around, origin: pick(origins, lots()) }, visitor, bot, (at) => (clock = at))
  return {
    send: async (visitor) => {
      // Drawn for each in turn, so that the same crowd has the same bots.
      const [bot, again] = [lots() < of.mix.bots, lots() < of.mix.returning]
      address = visitor.id
      await walk(visitor, bot).go(again)
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
      const page = await new SimulatedBrowser(site, 'computer', read).open(path)
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
  readonly found: { pages: number; shown: number; bots: number; cameBack: number }
  readonly fail: (version: VersionId | null, words: string) => void
  /** The path that visitors begin on. */
  readonly begin: string | null
  readonly origin: { readonly referrer: string; readonly query: string }
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
    private readonly isBot: boolean,
    private readonly setClock: (at: number) => void,
  ) {
    this.#browser = new SimulatedBrowser(around.site, isBot ? 'bot' : visitor.device, around.pages)
  }

  async go(comesBack: boolean): Promise<void> {
    const { begin, truths, found, fail, startsAt } = this.around
    if (begin === null) return fail(null, 'the page of the test is not published')
    this.#at(0)
    if (this.isBot) return this.#asBot(begin)
    await this.#open(`${begin}${this.around.origin.query}`, this.around.origin.referrer)
    if (this.#page === null) return fail(null, `the page ${begin} did not come`)
    if (this.#version === null) return
    found.shown++
    const version = this.#version
    const [truth, original] = [truths.get(version), truths.get(ORIGINAL)]
    const day = Math.floor((this.visitor.arrivesAt.getTime() - startsAt.getTime()) / DAY)
    const rate = rateOn(truth?.mishap ?? 'none', truth?.rate ?? 0, original?.rate ?? 0, day)
    if (this.visitor.luck < rate) await this.#reach()
    if (!comesBack) return
    this.#at(DAY + this.visitor.ponders)
    found.cameBack++
    await this.#open(begin)
    if (this.#version !== version) fail(version, 'somebody who came back was shown another version')
  }

  /** A bot is shown the original, keeps nothing and is counted nowhere. */
  async #asBot(path: string): Promise<void> {
    const { found, fail } = this.around
    found.bots++
    await this.#open(path)
    if (this.#version !== null && this.#version !== ORIGINAL) fail(this.#version, 'a bot was drawn')
    if (this.#browser.keepsSomething) fail(null, 'a bot was given something to keep')
  }

  async #open(path: string, referrer = ''): Promise<void> {
    const { found, round } = this.around
    this.#page = await this.#browser.open(path, referrer)
    found.pages++
    if (this.#page === null || this.isBot) return
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

  /** Reaches the goal that decides, one thing after the other, as its page lets it. */
  async #reach(): Promise<void> {
    const { round, fail } = this.around
    const primary = round.goals.find(({ id }) => id === round.design.primary)
    if (primary === undefined) return
    const where = { document: (this.#page?.document ?? '') as DocumentId, path: '', pageType: '' }
    this.#later(this.visitor.ponders)
    for (const happening of doing(primary, libraryOf(round.goals), {
      ...where,
      order: this.visitor.id.slice(0, 12),
      value: 20,
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
