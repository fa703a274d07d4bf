import { documentSchema, type ContentDocument } from '@/core/document'
import { roundSchema } from '@/core/experiment'
import { releaseSchema } from '@/core/release'
import { compile, type CompiledSite } from './compile/compile'
import type { Assets } from './compile/on-a-page'
import { makeSite, type SiteParts } from './site'

/** What the site sees of an ordinary browser. */
export const agent = 'Mozilla/5.0 (X11; Linux) Chrome/140'
/** Its clock stands still. */
export const NOW = 1_700_000_000_000

type Nodes = Readonly<Record<string, { readonly type: string; readonly props?: object; readonly children?: readonly string[] }>>

/** The page at “/” with one section that holds these parts; `inside` are those within them. */
export function frontPage(parts: Nodes, inside: Nodes = {}): ContentDocument {
  const whole = Object.entries({ ...parts, ...inside }).map(([id, node]) => [id, { props: {}, children: [], ...node }])
  return documentSchema.parse({
    id: 'front',
    kind: 'page',
    root: 'root',
    nodes: {
      root: { type: 'page', props: { title: 'Front', path: '/' }, children: ['main'] },
      main: { type: 'mainPart', props: {}, children: ['part'] },
      part: { type: 'section', props: {}, children: Object.keys(parts) },
      ...Object.fromEntries(whole),
    },
  })
}

/** A page that says hello. */
export const greeting = frontPage({ title: { type: 'heading', props: { words: 'Hello' } } })

/** A version of it that says something else. */
export const saying = (words: string, id = 'warm') => ({
  id,
  name: 'Warm',
  edits: [{ kind: 'set', node: 'title', prop: 'words', value: words }],
})

/** A round of a test of the greeting: half are greeted warmly. */
export function greetingRound(test = 't-1', design: object = {}) {
  const round = roundSchema.parse({
    id: `${test}-r1`,
    test,
    number: 1,
    design: {
      name: 'Greeting',
      ...{ problem: '', change: '', expected: '' },
      document: 'front',
      node: 'title',
      arms: [
        { version: 'original', weight: 5000 },
        { version: 'warm', weight: 5000 },
      ],
      share: 10_000,
      primary: null,
      watched: [],
      smallestEffect: 0.05,
      ...design,
    },
    versions: [saying('Welcome')],
    goals: [],
    salt: test,
    plannedTotal: 100,
  })
  return { ...round, paused: false }
}

/** The greeting by rules, in their order. */
export const greetingRules = (...rules: readonly { readonly version: object; readonly condition: object }[]) => ({
  ...{ id: 'front.title', document: 'front', node: 'title', holdout: 0 },
  rules,
})

export function compiledWith(release: object, assets: Partial<Assets> = {}): CompiledSite {
  const none = { documents: [greeting], rounds: [], personalizations: [], goals: [], letterKey: 'ab'.repeat(32) }
  return compile(releaseSchema.parse({ ...none, ...release }), { script: '', style: '', ...assets })
}

/** A site with all that it wrote, and what it says to a browser that carries these cookies. */
export function siteOf(release: object | CompiledSite | null, parts: Partial<SiteParts> = {}) {
  const written: unknown[] = []
  const compiled = release === null ? null : 'byId' in release ? release : compiledWith(release)
  const site = makeSite({
    current: () => compiled,
    assets: new Map(),
    media: new Map(),
    writeEvents: (events) => Promise.resolve(void written.push(...events)),
    keepEntry: () => Promise.resolve(),
    now: () => NOW,
    log: () => undefined,
    ...parts,
  })
  const get = (url: string, headers: Record<string, string> = {}) =>
    site.inject({ url, headers: { 'user-agent': agent, ...headers } })
  const post = (url: string, payload: string, headers: Record<string, string> = {}) =>
    site.inject({ method: 'POST', url, payload, headers: { 'content-type': 'text/plain', 'user-agent': agent, ...headers } })
  /** The words of the first heading. */
  const heading = async (headers: Record<string, string> = {}, url = '/') =>
    /<h\d[^>]*>([^<]*)/.exec((await get(url, headers)).body)?.[1]
  return { site, written, get, post, heading }
}
