import { devices } from '@/core/decide'
import { releaseSchema } from '@/core/release'
import { publishedPages, menus, callsToAction } from '@/demo/site-pages'
import { compile, type CompiledSite } from '@/site/compile/compile'

/** What is on the front page of the site, and how many tests there are on its other pages. */
export interface Varied {
  readonly tests: number
  readonly rules: number
  readonly elsewhere: number
}

/** A test with three variants of one heading or paragraph. */
function roundOn(document: string, node: string, number: number) {
  const variants = [1, 2, 3].map((variant) => `v-${number}-${variant}`)
  return {
    id: `t-${number}-r1`,
    test: `t-${number}`,
    number: 1,
    design: {
      name: `Test ${number}`,
      problem: '',
      change: '',
      expected: '',
      document,
      node,
      arms: ['original', ...variants].map((version) => ({ version, weight: 2500 })),
      share: 10_000,
      primary: null,
      watched: [],
      smallestEffect: 0.05,
    },
    versions: variants.map((id) => ({
      id,
      name: id,
      edits: [{ kind: 'set', node, prop: 'words', value: `What ${id} says` }],
    })),
    goals: [],
    salt: `t-${number}`,
    plannedTotal: 1000,
    paused: false,
  }
}

const rulesOn = (document: string, node: string, rules: number) => ({
  id: 'p-1',
  document,
  node,
  holdout: 1000,
  primary: 'reserved',
  round: rules < 2 ? null : 'g-all',
  rules: Array.from({ length: rules }, (_, index) => ({
    round: `g-${index}`,
    version: {
      id: `rule-${index}`,
      name: `Kind ${index}`,
      edits: [{ kind: 'set', node, prop: 'words', value: `For kind ${index}` }],
    },
    condition: {
      kind: 'all',
      of: [
        { kind: 'device', device: devices[index % 2] },
        { kind: 'weekday', days: [1, 2, 3] },
      ],
    },
  })),
})

/** The demonstration’s site with so many tests and rules on its front page. */
export function frontPageWith({ tests, rules, elsewhere }: Varied): CompiledSite {
  const wordsOn = (id: string) =>
    Object.entries(publishedPages.find((page) => page.id === id)?.nodes ?? {}).flatMap(([node, { type, props }]) =>
      typeof props.words === 'string' && (type === 'heading' || type === 'text') ? [node] : [],
    )
  const home = wordsOn('home')
  if (home.length < tests + 1) throw new Error(`the front page has ${home.length} headings: too few for ${tests} tests and rules`)
  const others = publishedPages.flatMap(({ id }) => (id === 'home' ? [] : wordsOn(id).map((node) => [id, node] as const)))
  return compile(
    releaseSchema.parse({
      documents: [...publishedPages, ...menus, ...callsToAction],
      rounds: [
        ...home.slice(0, tests).map((node, index) => roundOn('home', node, index + 1)),
        ...others.slice(0, elsewhere).map(([id, node], index) => roundOn(id, node, index + 101)),
      ],
      personalizations: rules === 0 ? [] : [rulesOn('home', home[tests] ?? '', rules)],
      goals: [],
    }),
    { script: '/look/count.js', style: '/look/site.css' },
  )
}
