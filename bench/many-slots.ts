import { releaseSchema } from '@/core/release'
import { compile, type CompiledSite } from '@/site/compile/compile'
import { answerPage } from '@/site/serve/answer-page'
import { documentOf, heading, pageOf, section, text } from '@/demo/build-page'

const agent = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/140.0 Safari/537.36'
const ASKED = 4000
const TURNS = 7
const assets = { script: '/look/count.js', style: '/look/site.css' }
const median = (values: number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0

/** A page with twenty headings, so many of them under a test with four variants each. */
function pageUnder(tests: number): CompiledSite {
  const page = pageOf({
    id: 'many',
    path: '/',
    title: 'Many',
    description: '',
    body: [
      section(
        'plain',
        Array.from({ length: 20 }, (_, index) => heading(`Heading ${index}`, 'h2', {}, `part-${index}`)),
      ),
    ],
  })
  const rounds = Array.from({ length: tests }, (_, test) => ({
    id: `t-${test + 1}-r1`,
    test: `t-${test + 1}`,
    number: 1,
    design: {
      name: 'x',
      problem: '',
      change: '',
      expected: '',
      document: 'many',
      node: `many-part-${test}`,
      arms: [
        { version: 'original', weight: 2000 },
        ...[1, 2, 3, 4].map((variant) => ({ version: `v-${test}-${variant}`, weight: 2000 })),
      ],
      share: 10_000,
      primary: null,
      watched: [],
      smallestEffect: 0.05,
    },
    versions: [1, 2, 3, 4].map((variant) => ({
      id: `v-${test}-${variant}`,
      name: `V${variant}`,
      edits: [{ kind: 'set', node: `many-part-${test}`, prop: 'words', value: `Heading ${test}, variant ${variant}` }],
    })),
    goals: [],
    salt: `t-${test + 1}`,
    plannedTotal: 1000,
    paused: false,
  }))
  return compile(releaseSchema.parse({ documents: [page], rounds, personalizations: [], goals: [] }), assets)
}

/** What deciding and assembling cost for visitors who are all different, against the same page with nothing varying. */
const around = { query: '', now: 1_700_000_000_000, secure: false, address: () => '', regionOf: () => null }

export function benchManySlots(): void {
  const counts = [1, 5, 10, 20]
  const none = pageUnder(0)
  const sites = counts.map(pageUnder)
  const ask = (site: CompiledSite) => {
    const page = site.pages.get('/')
    if (page === undefined) throw new Error('the page was not compiled')
    const began = performance.now()
    for (let visitor = 0; visitor < ASKED; visitor++) {
      const cookie = `visitor=${visitor.toString(16).padStart(32, '0')}`
      answerPage(site, page, { headers: { 'user-agent': agent, cookie }, ...around })
    }
    return (performance.now() - began) / ASKED
  }
  const times = new Map<CompiledSite, number[]>()
  for (const site of [none, ...sites]) ask(site)
  for (let turn = 0; turn < TURNS; turn++)
    for (const site of [none, ...sites]) times.set(site, [...(times.get(site) ?? []), ask(site)])
  const base = median(times.get(none) ?? [])
  const one = median(times.get(sites[0] ?? none) ?? []) - base
  for (const [index, site] of sites.entries()) {
    const cost = median(times.get(site) ?? [])
    const slots = site.pages.get('/')?.chunks.filter((chunk) => !Buffer.isBuffer(chunk)).length
    console.log(
      `slots: ${String(counts[index]).padStart(2)} parts × 4 variants, ${slots} slots: ${(cost / base).toFixed(1)} × a page with none, ${((cost - base) / one).toFixed(1)} × the cost of one part (5 to the power of ${counts[index]} combinations)`,
    )
  }
}

/** Five hundred pages: compiled from nothing, and again after one was changed. */
export function benchCompile(): void {
  const menu = documentOf('main-menu', 'menu', { type: 'menuTree', props: { title: 'Main' }, inside: [] })
  const pages = Array.from({ length: 500 }, (_, index) =>
    pageOf({
      id: `page-${index}`,
      path: `/page-${index}`,
      title: `Page ${index}`,
      description: 'One of many',
      body: Array.from({ length: 6 }, (_, part) =>
        section('plain', [
          heading(`Section ${part}`),
          text('Some words that a page says. '.repeat(12)),
          text('And some more. '.repeat(8)),
        ]),
      ),
    }),
  )
  const release = (documents: typeof pages) =>
    releaseSchema.parse({ documents: [...documents, menu], rounds: [], personalizations: [], goals: [] })
  const timed = (of: () => CompiledSite) => {
    const began = performance.now()
    const site = of()
    return { site, seconds: (performance.now() - began) / 1000 }
  }
  const whole = timed(() => compile(release(pages), assets))
  const [first, ...others] = pages
  if (first === undefined) throw new Error('there are no pages')
  const nodes = Object.fromEntries(
    Object.entries(first.nodes).map(([id, node]) => [
      id,
      node.type === 'heading' ? { ...node, props: { ...node.props, words: 'Changed' } } : node,
    ]),
  )
  const again = timed(() => compile(release([{ ...first, nodes }, ...others]), assets, whole.site))
  console.log(
    `compile: ${whole.site.compiled} pages in ${whole.seconds.toFixed(2)} s (aim 5); after one changed ${again.site.compiled} compiled, ${(again.seconds / whole.seconds).toFixed(2)} of the time`,
  )
}
