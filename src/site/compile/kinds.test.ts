import { documentSchema, type ContentDocument, type Edit } from '@/core/document'
import { combinations } from '@/core/experiment'
import type { NodeId, VersionId } from '@/core/ids'
import { readReleaseParts, releaseSchema } from '@/core/release'
import { digestOfScript } from '@/serving/script-digest'
import { answerPage } from '../serve/answer-page'
import { everyBuffer } from './chunk'
import { compile, type CompiledSite } from './compile'

type Raw = { type: string; props: Record<string, string | string[] | boolean>; children: string[] }
const node = (type: string, props: Raw['props'] = {}, children: string[] = []): Raw => ({ type, props, children })
const parsed = (id: string, kind: string, root: string, nodes: Record<string, Raw>): ContentDocument =>
  documentSchema.parse({ id, kind, root, nodes })

const menu = parsed('menu', 'menu', 'menu-root', {
  'menu-root': node('menuTree', { title: 'Main' }, ['m-1']),
  'm-1': node('menuItem', { words: 'Instruments', link: 'page:front' }),
})
const call = parsed('call', 'callToAction', 'call-root', {
  'call-root': node('callToActionText', { title: 'Reserve', buttonWords: 'Go', link: 'page:front' }),
})
const shared = parsed('share', 'shared', 'share-root', {
  'share-root': node('sharedPart', { title: 'Hours' }, ['hours']),
  hours: node('heading', { words: 'Open daily' }),
})
const style = parsed('style', 'style', 'style-root', {
  'style-root': node('style', { title: 'Buttons', reach: 'type', pattern: 'Instrument', part: 'button', css: '' }),
})
const page = (id: string, path: string, more: Raw['props'], inside: Record<string, Raw>, order: string[]) =>
  parsed(id, 'page', `${id}-root`, {
    [`${id}-root`]: node('page', { title: id, path, pageType: 'Page', ...more }, [`${id}-head`, `${id}-main`]),
    [`${id}-head`]: node('menu', { menu: 'menu', place: 'header' }),
    [`${id}-main`]: node('mainPart', {}, [`${id}-section`]),
    [`${id}-section`]: node('section', {}, order),
    ...inside,
  })
const front = page(
  'front',
  '/',
  {},
  {
    title: node('heading', { words: 'Hello' }),
    go: node('button', { words: 'Reserve it' }),
    banner: node('callToAction', { callToAction: 'call' }),
    list: node('pageList', { pageType: 'Article' }),
    here: node('shared', { shared: 'share', overrides: [] }),
  },
  ['title', 'go', 'banner', 'list', 'here'],
)
const article = page('article', '/article', { pageType: 'Article', listTitle: 'Old news', teaser: 'Quiet' }, {}, [])
const cello = page('cello', '/cello', { pageType: 'Instrument' }, { reserve: node('button', { words: 'Reserve' }) }, ['reserve'])
const other = page('other', '/other', {}, { alone: node('heading', { words: 'The other way' }) }, ['alone'])
const documents = [front, article, cello, other, menu, call, shared, style]

const set = (target: string, prop: string, value: string): Edit => ({ kind: 'set', node: target as NodeId, prop, value })
const assets = { script: '/count.js', style: '/site.css' }

function testOf(document: string, target: string, edits: Edit[], more: object = {}) {
  return {
    id: 't-1-r1',
    test: 't-1',
    number: 1,
    design: {
      name: 'T',
      problem: '',
      change: '',
      expected: '',
      document,
      node: target,
      arms: [
        { version: 'original', weight: 5000 },
        { version: 'v', weight: 5000 },
      ],
      share: 10_000,
      primary: null,
      watched: [],
      smallestEffect: 0.05,
    },
    versions: [{ id: 'v', name: 'V', edits }],
    goals: [],
    salt: 't-1',
    plannedTotal: 1000,
    paused: false,
    ...more,
  }
}
const site = (rounds: object[], more: object = {}, before?: CompiledSite) =>
  compile(releaseSchema.parse({ documents, rounds, personalizations: [], goals: [], ...more }), assets, before)

const around = { query: '', now: 1_700_000_000_000, secure: false, address: () => '', regionOf: () => null }
const agent = 'Mozilla/5.0 (X11; Linux x86_64) Chrome/140 Safari/537'
function answer(compiled: CompiledSite, path: string, visitor: number, kept = '') {
  const found = compiled.pages.get(path)
  if (found === undefined) throw new Error(`no page at ${path}`)
  const cookie = `visitor=${visitor.toString(16).padStart(32, '0')}; kept=${kept}`
  return answerPage(compiled, found, { headers: { 'user-agent': agent, cookie }, ...around })
}
const html = (compiled: CompiledSite, path: string, visitor: number, kept = '') =>
  answer(compiled, path, visitor, kept).body?.toString() ?? ''
/** What the visitors of either version find by this pattern. */
function found(compiled: CompiledSite, path: string, pattern: RegExp): string[][] {
  const all = Array.from({ length: 40 }, (_, visitor) =>
    [...html(compiled, path, visitor).matchAll(pattern)].map((match) => match[1] ?? ''),
  )
  return [...new Map(all.map((one) => [one.join('|'), one])).entries()].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, one]) => one)
}
const marks = /data-e="([^"]*)"/g

describe('a test', () => {
  test('of a menu shows in the header of every page that has it', () => {
    const compiled = site([testOf('menu', 'menu-root', [set('m-1', 'words', 'Borrow')])])
    for (const path of ['/', '/article', '/cello'])
      expect(found(compiled, path, /data-n="m-1">([^<]*)</g)).toEqual([['Borrow'], ['Instruments']])
    expect(found(compiled, '/cello', marks)).toEqual([['t-1-r1/original'], ['t-1-r1/v']])
  })

  test('of a call to action shows wherever it stands, and nowhere else', () => {
    const compiled = site([testOf('call', 'call-root', [set('call-root', 'title', 'Take it home')])])
    expect(found(compiled, '/', /<aside[^>]*><div><h2>([^<]*)</g)).toEqual([['Reserve'], ['Take it home']])
    expect(compiled.pages.get('/cello')?.etag).not.toBeNull()
  })

  test('of a shared component shows in every place, and counts the part itself', () => {
    const compiled = site([testOf('share', 'hours', [set('hours', 'words', 'Open on Sundays')])])
    expect(found(compiled, '/', /data-n="hours" data-e="([^"]*)"/g)).toEqual([['t-1-r1/original'], ['t-1-r1/v']])
    expect(found(compiled, '/', />(Open [^<]*)</g)).toEqual([['Open daily'], ['Open on Sundays']])
  })

  test('of how an article is listed shows in the list and leaves the article alone', () => {
    const compiled = site([testOf('article', 'article-root', [set('article-root', 'listTitle', 'Read this')])])
    expect(found(compiled, '/', /href="\/article">([^<]*)</g)).toEqual([['Old news'], ['Read this']])
    expect(found(compiled, '/', /<article class="card" data-n="article-root" data-e="([^"]*)"/g)).toEqual([
      ['t-1-r1/original'],
      ['t-1-r1/v'],
    ])
    expect(compiled.pages.get('/article')?.etag).not.toBeNull()
  })

  test('of a style brings its rules to the pages it is for, as a file of its own, and confined to its parts', () => {
    const compiled = site([testOf('style', 'style-root', [set('style-root', 'css', 'a{color:red}')])])
    const links = found(compiled, '/cello', /href="(\/made\/[^"]*)"/g)
    expect(links.map((one) => one.length)).toEqual([0, 1])
    expect(compiled.styles.get(links[1]?.[0] ?? '')?.toString()).toBe('[data-s~="style"] a{color:red}')
    expect(html(compiled, '/cello', 1)).toContain('data-n="reserve" data-s="style"')
    expect(found(compiled, '/cello', /<html[^>]*data-e="([^"]*)"/g)).toEqual([['t-1-r1/original '], ['t-1-r1/v ']])
    expect(compiled.pages.get('/')?.etag).not.toBeNull()
  })

  test('of a whole page varies its title and all that is on it, and counts when the page is shown', () => {
    const edits: Edit[] = [set('front-root', 'title', 'Welcome'), { kind: 'remove', node: 'list' as NodeId }]
    const compiled = site([testOf('front', 'front-root', edits)])
    expect(found(compiled, '/', /<title>([^<]*)</g)).toEqual([['Welcome'], ['front']])
    expect(found(compiled, '/', /class="(cards) /g)).toEqual([[], ['cards']])
    expect(found(compiled, '/', marks)).toEqual([['t-1-r1/original '], ['t-1-r1/v ']])
  })

  test('of several parts costs a slot for each part and shows every combination', () => {
    const [bold, brass] = ['bold', 'accent'] as [VersionId, VersionId]
    const cells = combinations([
      ['original' as VersionId, bold],
      ['original' as VersionId, brass],
    ])
    const { design } = testOf('front', 'title', [])
    const compiled = site([
      testOf('front', 'title', [], {
        design: {
          ...design,
          further: [{ document: 'front', node: 'go' }],
          arms: cells.map((cell) => ({ ...cell, weight: 2500 })),
        },
        versions: [
          { id: bold, name: 'Bold', edits: [set('title', 'words', 'Bold')] },
          { id: brass, name: 'Brass', edits: [set('go', 'words', 'Brass')] },
        ],
      }),
    ])
    expect(found(compiled, '/', /data-f="words">(Hello|Bold|Reserve it|Brass)</g)).toEqual([
      ['Bold', 'Brass'],
      ['Bold', 'Reserve it'],
      ['Hello', 'Brass'],
      ['Hello', 'Reserve it'],
    ])
    expect(compiled.pages.get('/')?.chunks.filter((chunk) => !Buffer.isBuffer(chunk))).toHaveLength(2)
    // Both parts report the same combination, so nobody is counted in two.
    for (const [one, other2] of found(compiled, '/', marks)) expect(one).toBe(other2)
  })
})

describe('one route against another', () => {
  const compiled = site([testOf('front', 'front-root', [set('front-root', 'route', 'page:other')])])
  const routed = Array.from({ length: 40 }, (_, visitor) => visitor).filter(
    (visitor) => answer(compiled, '/', visitor).status === 302,
  )

  test('sends about half of the visitors on, before anything is shown', () => {
    expect(routed.length).toBeGreaterThan(10)
    expect(routed.length).toBeLessThan(30)
    const { headers, body, news } = answer(compiled, '/', routed[0] ?? 0)
    expect([headers[headers.indexOf('location') + 1], body]).toEqual(['/other', null])
    expect(news.assignments).toMatchObject([{ version: 'v' }])
  })

  test('counts whoever was sent on the other page, and nobody who came there alone', () => {
    expect(html(compiled, '/other', routed[0] ?? 0, 't-1~v')).toContain('data-e="t-1-r1/v "')
    for (let visitor = 0; visitor < 40; visitor++) expect(html(compiled, '/other', visitor)).not.toContain('t-1-r1')
  })

  test('does not send anybody in a circle, and names the first page to search engines', () => {
    expect(answer(compiled, '/other', routed[0] ?? 0, 't-1~v').status).toBe(200)
    expect(html(compiled, '/other', 1)).toContain('<link rel="canonical" href="/">')
    expect(html(site([]), '/other', 1)).toContain('<link rel="canonical" href="/other">')
  })

  test('taken over, sends everybody, also without a visitor', () => {
    const root = front.nodes['front-root']
    const taken: ContentDocument = {
      ...front,
      nodes: {
        ...front.nodes,
        'front-root': { type: 'page', children: [], ...root, props: { ...root?.props, route: 'page:other' } },
      },
    }
    const after = compile(
      releaseSchema.parse({ documents: [taken, ...documents.slice(1)], rounds: [], personalizations: [], goals: [] }),
      assets,
    )
    expect(answer(after, '/', 1)).toMatchObject({ status: 302, headers: expect.arrayContaining(['/other']) })
  })
})

describe('a script', () => {
  const code = 'document.title = "</script>"'
  const inserted: Edit = {
    kind: 'insert',
    parent: 'front-section' as NodeId,
    after: null,
    tree: { root: 'code' as NodeId, nodes: { code: { type: 'script', props: { code }, children: [] } } },
  }

  test('runs only where scripts are allowed and an administrator put it in, under its own hash', () => {
    const approvedScripts = [digestOfScript(code)]
    expect(site([testOf('front', 'title', [inserted])], { approvedScripts }).pages.get('/')?.scripts).toEqual([])
    expect(site([testOf('front', 'title', [inserted])], { scripts: true }).pages.get('/')?.scripts).toEqual([])
    const compiled = site([testOf('front', 'title', [inserted])], { scripts: true, approvedScripts })
    expect(compiled.pages.get('/')?.scripts).toEqual([expect.stringMatching(/^'sha256-[\w+/=]{44}'$/)])
    expect(found(compiled, '/', /<script data-n="code">(.*?)<\/script>/g)).toEqual([[], ['document.title = "\\x3C/script>"']])
  })

  test('that a place of a shared component sets is one like any other', () => {
    const withScript: ContentDocument = {
      ...shared,
      nodes: {
        ...shared.nodes,
        'share-root': node('sharedPart', {}, ['hours', 'x']) as never,
        x: node('script', { code: '1' }) as never,
      },
    }
    const placed: Edit = { kind: 'set', node: 'here' as NodeId, prop: 'overrides', value: ['x code "stolen()"'] }
    const compiled = compile(
      releaseSchema.parse({
        documents: [front, withScript, menu, call],
        rounds: [testOf('front', 'here', [placed])],
        personalizations: [],
        goals: [],
        scripts: true,
        approvedScripts: [digestOfScript('1')],
      }),
      assets,
    )
    expect(compiled.pages.get('/')?.scripts).toEqual([expect.stringMatching(/^'sha256-/)])
    expect(everyBuffer(compiled.pages.get('/')?.chunks ?? []).join('')).not.toContain('stolen')
  })
})

describe('what cannot be drawn', () => {
  const sharing = (id: string, shown: string): ContentDocument =>
    parsed(id, 'shared', `${id}-root`, {
      [`${id}-root`]: node('sharedPart', { title: id }, [`${id}-columns`]),
      [`${id}-columns`]: node('columns', {}, [`${id}-column`]),
      [`${id}-column`]: node('column', {}, [`${id}-words`, `${id}-shown`]),
      [`${id}-words`]: node('heading', { words: `words of ${id}` }),
      [`${id}-shown`]: node('shared', { shared: shown }),
    })
  const showing = (shown: string) => page('front', '/', {}, { here: node('shared', { shared: shown }) }, ['here'])
  const released = (documents: unknown[], before?: CompiledSite) =>
    compile(releaseSchema.parse({ documents, rounds: [], personalizations: [], goals: [] }), assets, before)

  test.each([
    ['itself', [sharing('a', 'a')]],
    ['another that shows it', [sharing('a', 'b'), sharing('b', 'a')]],
  ])('a shared component that shows %s is drawn once and no further', (_, circle) => {
    const html = everyBuffer(released([showing('a'), ...circle]).pages.get('/')?.chunks ?? []).join('')
    for (const { id } of circle) expect(html.split(`words of ${id}`)).toHaveLength(2)
  })

  test('one page that cannot be compiled stays as it was and is named; the rest is new', () => {
    const before = released([front, other, menu, call, shared])
    const broken = { ...front, nodes: { ...front.nodes, title: node('heading', { words: 'New', size: 'grand' }) } }
    jest.spyOn(Buffer, 'from').mockImplementationOnce(() => {
      throw new Error('cannot be drawn')
    })
    const after = released(
      [broken, { ...other, nodes: { ...other.nodes, alone: node('heading', { words: 'Newer' }) } }, menu, call, shared],
      before,
    )
    expect(after.faults).toEqual([{ id: 'front', words: 'cannot be drawn' }])
    expect(after.pages.get('/')).toBe(before.pages.get('/'))
    expect(everyBuffer(after.pages.get('/other')?.chunks ?? []).join('')).toContain('Newer')
  })

  test('a release with something in it that cannot be read is served without it, or as it was', () => {
    const bad = { ...other, nodes: { ...other.nodes, constructor: node('heading', { words: 'x' }) } }
    const read = readReleaseParts({ documents: [front, bad, menu], rounds: [{ id: 'r' }], personalizations: [], goals: [] }, [
      other,
    ])
    expect(read?.release.documents.map(({ id }) => id)).toEqual(['front', 'other', 'menu'])
    expect(read?.release.documents[1]).toEqual(other)
    expect(read?.faults.map(({ id }) => id)).toEqual(['other', 'r'])
    expect(readReleaseParts('no release')).toBeNull()
  })
})

describe('compiling again', () => {
  test('compiles only what is made of what changed', () => {
    const first = site([])
    expect([first.compiled, site([], {}, first).compiled]).toEqual([4, 0])
    expect(site([testOf('cello', 'reserve', [set('reserve', 'words', 'Mine')])], {}, first).compiled).toBe(1)
    expect(site([testOf('call', 'call-root', [set('call-root', 'title', 'X')])], {}, first).compiled).toBe(1)
    expect(site([testOf('menu', 'menu-root', [set('m-1', 'words', 'X')])], {}, first).compiled).toBe(4)
    // The article itself stays as it is; the list that shows it does not.
    expect(site([testOf('article', 'article-root', [set('article-root', 'teaser', 'X')])], {}, first).compiled).toBe(1)
  })

  const changed = (document: ContentDocument, at: string, props: Raw['props']) =>
    documents.map((one) =>
      one.id === document.id
        ? { ...one, nodes: { ...one.nodes, [at]: { ...one.nodes[at], props: { ...one.nodes[at]?.props, ...props } } } }
        : one,
    )
  const ruled = {
    ...{ id: 'front.title', document: 'front', node: 'title', holdout: 0 },
    rules: [
      {
        version: { id: 'w', name: 'W', edits: [set('title', 'words', 'Welcome back')] },
        condition: { kind: 'segment', segment: 'again', fits: true },
      },
    ],
  }
  const segment = (device: string) => ({ id: 'again', name: 'Again', condition: { kind: 'device', device } })
  const goal = (wiring: object) => ({ id: 'g', name: 'G', wiring })
  test.each<[string, object]>([
    ['the words of a page', { documents: changed(other, 'alone', { words: 'Another way' }) }],
    ['the address of a page that others link to', { documents: changed(article, 'article-root', { path: '/news' }) }],
    ['a menu', { documents: changed(menu, 'm-1', { words: 'All instruments' }) }],
    ['a call to action', { documents: changed(call, 'call-root', { buttonWords: 'Come' }) }],
    ['a shared component', { documents: changed(shared, 'hours', { words: 'Closed on Mondays' }) }],
    ['what a list says of a page', { documents: changed(article, 'article-root', { listTitle: 'New news' }) }],
    ['the type by which a page is listed', { documents: changed(other, 'other-root', { pageType: 'Article' }) }],
    ['a style', { documents: changed(style, 'style-root', { css: ':part { color: #123456 }' }) }],
    ['a page that is gone', { documents: documents.filter(({ id }) => id !== 'article') }],
    ['a shared component that is gone', { documents: documents.filter(({ id }) => id !== 'share') }],
    ['a test', { rounds: [testOf('call', 'call-root', [set('call-root', 'title', 'X')])] }],
    ['a test that is paused', { rounds: [testOf('front', 'title', [set('title', 'words', 'X')], { paused: true })] }],
    ['a test of two ways', { rounds: [testOf('front', 'front-root', [set('front-root', 'route', 'page:other')])] }],
    ['a rule by a segment', { personalizations: [ruled], segments: [segment('phone')] }],
    ['a goal that is watched for', { goals: [goal({ kind: 'read', document: 'other', node: 'alone' })] }],
    ['a goal of a marker', { goals: [goal({ kind: 'marker', marker: 'reserve' })] }],
    ['the seconds of a bounce', { bounceSeconds: 31 }],
    ['the name of the site', { identity: { name: 'Another house' } }],
    ['the notice about consent', { consent: { asks: true, words: 'May we?' } }],
  ])('gives the pages that compiling from nothing would, whatever changed: %s', (_, change) => {
    const more = { documents, rounds: [], personalizations: [], goals: [], ...change }
    const shownBy = (compiled: CompiledSite) =>
      [...compiled.pages.keys()].map((path) => [path, Array.from({ length: 6 }, (__, visitor) => shown(compiled, path, visitor))])
    const shown = (compiled: CompiledSite, path: string, visitor: number) => {
      const { body, headers } = answer(compiled, path, visitor)
      return [body?.toString(), headers]
    }
    const plain = site([])
    const [anew, after] = [compile(releaseSchema.parse(more), assets), compile(releaseSchema.parse(more), assets, plain)]
    expect(shownBy(after)).toEqual(shownBy(anew))
    // And back again.
    expect(shownBy(compile(plain.release, assets, after))).toEqual(shownBy(plain))
  })

  test('a segment that a rule names is part of the page', () => {
    const ruledFor = (device: string, before?: CompiledSite) =>
      site([], { personalizations: [ruled], segments: [segment(device)] }, before)
    const phones = ruledFor('phone')
    expect(html(phones, '/', 1)).toContain('Hello')
    expect(html(ruledFor('computer', phones), '/', 1)).toContain('Welcome back')
  })
})
