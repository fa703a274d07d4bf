import { documentSchema, type ContentDocument, type Edit } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { releaseSchema, type Release } from '@/core/release'
import { answerPage } from '../serve/answer-page'
import { compile } from './compile'

const leaf = (type: string, props: Record<string, string>) => ({ type, props, children: [] })
const page: ContentDocument = documentSchema.parse({
  id: 'front',
  kind: 'page',
  root: 'root',
  nodes: {
    root: { type: 'page', props: { title: 'A <b> & c', path: '/', pageType: 'Page' }, children: ['main'] },
    main: { type: 'mainPart', props: {}, children: ['hero', 'foot'] },
    hero: { type: 'section', props: {}, children: ['title', 'lead'] },
    title: leaf('heading', { words: 'Hello' }),
    lead: leaf('heading', { words: 'Below' }),
    foot: { type: 'section', props: {}, children: [] },
  },
})
const words = (node: string, value: string): Edit => ({ kind: 'set', node: node as NodeId, prop: 'words', value })
const half = [
  { version: 'original', weight: 5000 },
  { version: 'v', weight: 5000 },
]
const round = (test: string, node: string, edits: Edit[], more: object = {}) => ({
  id: `${test}-r1`,
  test,
  number: 1,
  design: {
    name: test,
    problem: '',
    change: '',
    expected: '',
    document: 'front',
    node,
    arms: half,
    share: 10_000,
    primary: null,
    watched: [],
    smallestEffect: 0.05,
  },
  versions: [{ id: 'v', name: 'V', edits }],
  goals: [],
  salt: test,
  plannedTotal: 1000,
  paused: false,
  ...more,
})
const release = (parts: Partial<Record<keyof Release, unknown[]>>) =>
  releaseSchema.parse({ documents: [page], rounds: [], personalizations: [], goals: [], ...parts })
const site = (parts: Parameters<typeof release>[0]) => compile(release(parts), { script: '/count.js', style: '/site.css' })

const agent = 'Mozilla/5.0 (X11; Linux x86_64) Chrome/140 Safari/537'
function htmlFor(compiled: ReturnType<typeof compile>, visitor: number | null, cookies = '', headers: object = {}): string {
  const front = compiled.pages.get('/')
  if (front === undefined) throw new Error('the page was not compiled')
  const cookie = visitor === null ? cookies : `visitor=${visitor.toString(16).padStart(32, '0')}; ${cookies}`
  const asked = { headers: { 'user-agent': agent, cookie, ...headers }, query: '', now: 1_700_000_000_000, secure: false }
  return answerPage(compiled, front, { ...asked, address: () => '', regionOf: () => null }).body?.toString() ?? ''
}
/** What a hundred visitors are shown, without repetition. */
const shown = (compiled: ReturnType<typeof compile>, part = /<h2[^>]*>([^<]*)</g) =>
  [
    ...new Set(
      Array.from({ length: 100 }, (_, n) => [...htmlFor(compiled, n).matchAll(part)].map((match) => match[1]).join('|')),
    ),
  ].sort()

describe('a page', () => {
  test('on which nothing varies is one piece with a strong validator, its title escaped', () => {
    const compiled = site({})
    expect(compiled.pages.get('/')).toMatchObject({ chunks: [expect.any(Buffer)], etag: expect.stringMatching(/^"[\w-]+"$/) })
    expect(htmlFor(compiled, 1)).toContain('<title>A &lt;b&gt; &amp; c</title>')
  })

  test('under a test is sent with the original or the variant in it, marked alike for counting', () => {
    const compiled = site({ rounds: [round('t-1', 'title', [words('title', 'Other')])] })
    expect(shown(compiled)).toEqual(['Hello|Below', 'Other|Below'])
    expect(shown(compiled, /data-e="([^"]*)"/g)).toEqual(['t-1-r1/original', 't-1-r1/v'])
    expect(compiled.pages.get('/')?.etag).toBeNull()
  })

  test('costs a slot for each part, not for each combination', () => {
    const compiled = site({
      rounds: [round('t-1', 'title', [words('title', 'Other')]), round('t-2', 'lead', [words('lead', 'Under')])],
    })
    expect(shown(compiled)).toEqual(['Hello|Below', 'Hello|Under', 'Other|Below', 'Other|Under'])
    expect(compiled.pages.get('/')?.chunks.filter((chunk) => !Buffer.isBuffer(chunk))).toHaveLength(2)
  })

  test('nests a slot inside the alternatives of another', () => {
    const hidden: Edit = { kind: 'remove', node: 'lead' as NodeId }
    const compiled = site({ rounds: [round('t-1', 'hero', [hidden]), round('t-2', 'title', [words('title', 'Other')])] })
    expect(shown(compiled)).toEqual(['Hello', 'Hello|Below', 'Other', 'Other|Below'])
  })

  test('keeps a place for a hidden part, so that its absence can be reported', () => {
    const compiled = site({ rounds: [round('t-1', 'lead', [{ kind: 'remove', node: 'lead' as NodeId }])] })
    expect(shown(compiled, /<span class="hidden-part" data-e="([^"]*)"/g)).toEqual(['', 't-1-r1/v'])
  })

  test('shows who is outside the share the original without a mark', () => {
    const design = { ...round('t-1', 'title', []).design, share: 0 }
    const compiled = site({ rounds: [round('t-1', 'title', [words('title', 'Other')], { design })] })
    expect([shown(compiled), shown(compiled, /data-e="([^"]*)"/g)]).toEqual([['Hello|Below'], ['']])
  })
})

describe('a rule and a test on the same part', () => {
  const personalization = {
    id: 'front.title',
    document: 'front',
    node: 'title',
    rules: [
      { version: { id: 'p', name: 'P', edits: [words('title', 'For phones')] }, condition: { kind: 'device', device: 'phone' } },
    ],
    holdout: 0,
  }
  const sized: Edit = { kind: 'set', node: 'title' as NodeId, prop: 'size', value: 'small' }
  const compiled = site({ personalizations: [personalization], rounds: [round('t-1', 'title', [sized])] })
  const looks = (headers: object) =>
    [
      ...new Set(
        Array.from({ length: 60 }, (_, n) =>
          /<h2 class="heading (\w+)[^>]*>([^<]*)</
            .exec(htmlFor(compiled, n, '', headers))
            ?.slice(1)
            .join(' '),
        ),
      ),
    ].sort()

  test('the rule picks the base, the test’s edits apply on it', () => {
    expect(looks({})).toEqual(['large Hello', 'small Hello'])
    expect(looks({ 'user-agent': 'Mozilla/5.0 (iPhone; CPU iPhone OS 18) Mobile Safari' })).toEqual([
      'large For phones',
      'small For phones',
    ])
  })
})

describe('rules that are counted', () => {
  const rule = (id: string, device: string, round: string) => ({
    version: { id, name: id, edits: [words('title', `For ${device}s`)] },
    condition: { kind: 'device', device },
    round,
  })
  const front = { id: 'front.title', document: 'front', node: 'title', holdout: 2000, round: 'g-all', primary: 'reserved' }
  const compiled = site({
    personalizations: [{ ...front, rules: [rule('p', 'phone', 'g-p'), rule('d', 'computer', 'g-d')] }],
  })
  const phone = 'Mozilla/5.0 (iPhone; CPU iPhone OS 18) Mobile Safari'
  const answerTo = (visitor: number | null, userAgent: string, isNoted = () => false) => {
    const page = compiled.pages.get('/')
    if (page === undefined) throw new Error('the page was not compiled')
    const cookie = visitor === null ? '' : `visitor=${visitor.toString(16).padStart(32, '0')}`
    const asked = { headers: { 'user-agent': userAgent, cookie }, query: '', now: 1_700_000_000_000, secure: false, isNoted }
    return answerPage(compiled, page, { ...asked, address: () => '', regionOf: () => null })
  }
  const markOf = (visitor: number, userAgent: string) =>
    /data-e="([^"]*)"[^>]*>([^<]*)</.exec(answerTo(visitor, userAgent).body?.toString() ?? '')?.slice(1)

  test('report what was seen of the rule and of all together, the original as well where it is shown on purpose', () => {
    const marks = (userAgent: string) =>
      [...new Set(Array.from({ length: 60 }, (_, n) => markOf(n, userAgent)?.join(': ')))].sort()
    expect(marks(phone)).toEqual(['g-p/original g-all/original: Hello', 'g-p/p g-all/by-rule: For phones'])
    expect(marks(agent)).toEqual(['g-d/d g-all/by-rule: For computers', 'g-d/original g-all/original: Hello'])
    // Nobody’s rule: nothing is reported.
    expect(markOf(1, 'Mozilla/5.0 (iPad; CPU OS 18) Safari')).toBeUndefined()
  })

  test('hold the same visitors out of each of them, about as many as are wanted', () => {
    const held = (userAgent: string) => Array.from({ length: 2000 }, (_, n) => markOf(n, userAgent)?.[1] === 'Hello')
    expect(held(phone)).toEqual(held(agent))
    const share = held(phone).filter(Boolean).length / 2000
    expect(share).toBeGreaterThan(0.17)
    expect(share).toBeLessThan(0.23)
  })

  test('are noted once for whom they were given', () => {
    const noted = (visitor: number) =>
      answerTo(visitor, phone).news.assignments.map(({ round: of, version }) => `${of}/${version}`)
    const all = Array.from({ length: 40 }, (_, n) => noted(n).join(' '))
    expect([...new Set(all)].sort()).toEqual(['g-p/original g-all/original', 'g-p/p g-all/by-rule'])
    expect(answerTo(1, phone, () => true).news.assignments).toEqual([])
    // Whoever leaves for another kind of device is given another rule, once more.
    const { assignments } = answerTo(1, phone).news
    const numbers = new Set(assignments.map(({ number }) => number))
    expect(answerTo(1, agent).news.assignments.some(({ number }) => numbers.has(number))).toBe(true)
    expect(answerTo(1, agent).news.assignments.every(({ number }) => numbers.has(number))).toBe(false)
  })
})

test('rules of a whole page change several parts at once under one name, and the page reports which', () => {
  const whole = {
    ...{ id: 'front.root', document: 'front', node: 'root', holdout: 3000, primary: 'reserved' },
    rules: [
      {
        version: { id: 'short', name: 'Short', edits: [words('title', 'Short'), { kind: 'remove', node: 'lead' }] },
        condition: { kind: 'none', of: [{ kind: 'device', device: 'phone' }] },
        round: 'g-short',
      },
    ],
  }
  const compiled = site({ personalizations: [whole] })
  const looks = Array.from({ length: 60 }, (_, n) => {
    const html = htmlFor(compiled, n)
    return `${/<html[^>]*data-e="([^"]*)"/.exec(html)?.[1]?.trim()}: ${[...html.matchAll(/<h2[^>]*>([^<]*)</g)].map(([, one]) => one).join('|')}`
  })
  expect([...new Set(looks)].sort()).toEqual(['g-short/original: Hello|Below', 'g-short/short: Short'])
  const onPhone = htmlFor(compiled, 1, '', { 'user-agent': 'Mozilla/5.0 (iPhone; CPU iPhone OS 18) Mobile Safari' })
  expect(/<html[^>]*data-e="([^"]*)"/.exec(onPhone)?.[1]).toBe('')
})

test('what stands on many pages is varied by a rule on those of one type at once', () => {
  const call = {
    id: 'call',
    kind: 'callToAction',
    root: 'call-root',
    nodes: { 'call-root': { type: 'callToActionText', props: { title: 'Come' }, children: [] } },
  }
  const pageWith = (id: string, pageType: string) =>
    documentSchema.parse({
      ...{ id, kind: 'page', root: `${id}-root` },
      nodes: {
        [`${id}-root`]: { type: 'page', props: { title: id, path: `/${id}`, pageType }, children: [`${id}-main`] },
        [`${id}-main`]: { type: 'mainPart', props: {}, children: [`${id}-part`] },
        [`${id}-part`]: { type: 'section', props: {}, children: [`${id}-call`] },
        [`${id}-call`]: { type: 'callToAction', props: { callToAction: 'call' }, children: [] },
      },
    })
  const rule = {
    version: { id: 'hold', name: 'Hold', edits: [{ kind: 'set', node: 'call-root', prop: 'title', value: 'Hold it first' }] },
    condition: { kind: 'onPageType', pageType: 'Instrument' },
  }
  const compiled = site({
    documents: [
      pageWith('harp', 'Instrument'),
      pageWith('cello', 'Instrument'),
      pageWith('plans', 'Page'),
      documentSchema.parse(call),
    ],
    personalizations: [{ id: 'call.root', document: 'call', node: 'call-root', rules: [rule], holdout: 0 }],
  })
  const shownOn = (path: string) => {
    const found = compiled.pages.get(path)
    if (found === undefined) throw new Error(`${path} was not compiled`)
    const asked = { headers: { 'user-agent': agent }, query: '', now: 1_700_000_000_000, secure: false }
    const html = answerPage(compiled, found, { ...asked, address: () => '', regionOf: () => null }).body?.toString() ?? ''
    return /Hold it first|Come/.exec(html.slice(html.indexOf('<main')))?.[0]
  }
  expect(['/harp', '/cello', '/plans'].map(shownOn)).toEqual(['Hold it first', 'Hold it first', 'Come'])
})

test('a kept variant comes back whatever the draw says', () => {
  const compiled = site({ rounds: [round('t-1', 'title', [words('title', 'Other')])] })
  for (let n = 0; n < 20; n++) expect(htmlFor(compiled, n, 'kept=t-1~v')).toContain('Other')
})

test.each<[string, object, RegExp | null]>([
  ['nothing, where no rule asks', { kind: 'device', device: 'phone' }, null],
  ['how often they came, where one does', { kind: 'none', of: [{ kind: 'returning', returning: true }] }, /^1\.\.[\w-]{22}$/],
  [
    'pages, where one asks for those of earlier visits',
    { kind: 'pageSeen', page: 'front', within: 'ever' },
    /^1\.front_1_f6j\.[\w-]{22}$/,
  ],
])('a browser is given to keep %s', (_, audience, past) => {
  const design = { ...round('t-1', 'title', []).design, audience }
  const compiled = site({ rounds: [round('t-1', 'title', [words('title', 'Other')], { design })] })
  const front = compiled.pages.get('/')
  if (front === undefined) throw new Error('the page was not compiled')
  const asked = { headers: { 'user-agent': agent }, query: '', now: 1_700_000_000_000, secure: false }
  const { cookies } = answerPage(compiled, front, { ...asked, address: () => '', regionOf: () => null })
  const given =
    cookies
      .find((line) => line.startsWith('past='))
      ?.slice('past='.length)
      .split(';')[0] ?? null
  expect(past === null ? given : past.test(given ?? '')).toBe(past === null ? null : true)
})
