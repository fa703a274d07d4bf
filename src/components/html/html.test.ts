import fc from 'fast-check'
import { documentSchema, nodeAt, type ContentDocument } from '@/core/document'
import { nodeIdSchema, type NodeId } from '@/core/ids'
import { siteView } from '../site-view'
import { readHtml } from './read'
import { writeHtml } from './write'

const origin = 'https://music.example'

function readFile(html: string) {
  let count = 0
  return readHtml(html, {
    fresh: () => nodeIdSchema.parse(`n-${++count}`),
    origin,
    pages: new Map([
      ['/', 'front'],
      ['/plans', 'plans'],
    ]),
    known: new Set(['try-it']),
  })
}
const read = (body: string) =>
  readFile(
    `<!doctype html>\n<html><head><title>A &amp; b</title><meta name="description" content="What it is"></head>\n<body>${body}</body></html>`,
  )
/** The parts in their order, without their ids. */
const parts = (body: string) => {
  const { sections, nodes } = read(body)
  const inner = (id: NodeId): unknown => {
    const { type, props, children } = nodes[id] ?? { type: '', props: {}, children: [] }
    return children.length === 0 ? { type, ...props } : { type, ...props, holds: children.map(inner) }
  }
  return sections.flatMap((section) => nodes[section]?.children.map(inner))
}
const types = (body: string) => {
  const { sections, nodes } = read(body)
  return sections.map((section) => nodes[section]?.children.map((child) => nodes[child]?.type))
}

describe('a page from elsewhere', () => {
  test('says its title and description', () => {
    expect(read('<p>x</p>')).toMatchObject({ title: 'A & b', description: 'What it is' })
  })

  test('becomes sections of components', () => {
    const body =
      '<main><section><h1>Hello</h1><p>One</p><ul><li>two</li></ul><p><a class="button" href="/plans">Plans</a></p></section>' +
      '<section><figure><img src="/look/media/cello.svg" alt="A cello"></figure><details><summary>Q</summary><p>A</p></details><blockquote><p>Said</p><footer>Her</footer></blockquote></section></main>'
    expect(types(body)).toEqual([
      ['heading', 'text', 'button'],
      ['picture', 'accordion', 'quote'],
    ])
    const { nodes } = read(body)
    const found = (type: string) => Object.values(nodes).find((node) => node.type === type)?.props
    expect(found('text')).toEqual({ words: '<p>One</p><ul><li>two</li></ul>' })
    expect(found('button')).toEqual({ words: 'Plans', link: 'page:plans' })
    expect(found('picture')).toEqual({ picture: 'cello', alt: 'A cello' })
    expect(found('quote')).toEqual({ words: 'Said', by: 'Her' })
  })

  test('keeps a form with its fields, their labels and kinds', () => {
    const { nodes } = read(
      '<form><label for="m">E-mail</label><input id="m" name="mail" type="email" required><select name="town"><option>Osk</option><option>Fen</option></select><button>Send</button></form>',
    )
    const fields = Object.values(nodes).flatMap(({ type, props }) => (type === 'formField' ? [props] : []))
    expect(fields).toEqual([
      { label: 'E-mail', name: 'mail', kind: 'email', required: true },
      { label: 'town', name: 'town', kind: 'select', required: false, choices: 'Osk, Fen' },
    ])
  })

  test('names with its line what could not be taken over', () => {
    const { notes } = read(
      '<p>x</p>\n<table><tr><td>1</td></tr></table>\n<img src="https://x.example/a.png" alt="">\n<p><a href="/gone">y</a></p>',
    )
    expect(notes).toEqual([
      'Line 4: <table> (“1”) has no component here and was left out.',
      'Line 5: the picture “https://x.example/a.png” is not in the media library. Bring it there, then choose it.',
      'Line 6: the link to “/gone” leads to no page of this site and was left open.',
    ])
  })

  test('brings no script along, and says which were left behind', () => {
    const { nodes, notes } = read(
      '<p onclick="x()">a<script>steal()</script></p>\n<p><a href="javascript:x()">b</a></p>\n<p>c<iframe src="https://x.example/"></iframe></p>',
    )
    expect(JSON.stringify(nodes)).not.toMatch(/onclick|steal|javascript|iframe/)
    expect(notes).toEqual([
      'Line 3: what <p> does by itself (onclick) was left out.',
      'Line 3: <script> was left out.',
      'Line 4: the link to “javascript:x()” is no address that can be followed and was left open.',
      'Line 5: <iframe> was left out.',
    ])
  })

  test('names a passage that is left out by how it begins', () => {
    expect(read('<p>x</p><table><tr><td>Monday nine to five</td></tr></table>').notes).toEqual([
      'Line 3: <table> (“Monday nine to five”) has no component here and was left out.',
    ])
  })

  test('keeps links in headings and lists of cards; of this site, whether they are written out or not', () => {
    expect(
      parts(
        '<h2><a href="/plans#prices">Plans</a></h2><h2>See <a href="/">home</a></h2>' +
          `<ul><li><h3><a href="${origin}/plans/">One</a></h3><p>About it</p></li><li><h3>Two</h3></li></ul>` +
          '<p>Words <a href="https://elsewhere.example/a b">out</a></p>',
      ),
    ).toEqual([
      { type: 'heading', words: 'Plans', level: 'h2', size: 'large', link: 'page:plans#prices' },
      { type: 'heading', words: 'See home', level: 'h2', size: 'large' },
      {
        type: 'cardList',
        holds: [
          { type: 'card', title: 'One', words: 'About it', link: 'page:plans' },
          { type: 'card', title: 'Two', words: '' },
        ],
      },
      { type: 'text', words: '<p>Words <a href="https://elsewhere.example/a%20b">out</a></p>' },
    ])
    expect(read('<h2>See <a href="/">home</a></h2>').notes).toEqual([
      'Line 3: the link in “home” (/) has no place here; its words stayed.',
    ])
  })

  test('is read by its base, its loose words, and whatever it calls its elements', () => {
    const body =
      '<base href="/plans/x"><div>Just <b>words</b> <constructor>odd</constructor><p>and <a href="../plans">more</a></p></div>'
    const { notes } = readFile(body)
    expect(notes).toEqual(['Line 1: <constructor> (“odd”) has no component here and was left out.'])
    const words = Object.values(readFile(body).nodes).map(({ props }) => props.words)
    expect(words[0]).toBe('<p>Just <strong>words</strong> </p><p>and <a href="page:plans">more</a></p>')
  })

  // Whatever is in it: its words are kept, or it is said that they are not.
  test('loses no word without a word about it', () => {
    const tag = fc.constantFrom(
      ...'p div h2 span section li ul blockquote details summary table a q dl dt dd figure form label'.split(' '),
    )
    const { tree } = fc.letrec<{ tree: string }>((tie) => ({
      tree: fc.oneof(
        { maxDepth: 5, withCrossShrink: true },
        fc.constant('WORD'),
        fc.tuple(tag, fc.array(tie('tree'), { maxLength: 3 })).map(([name, inner]) => `<${name}>${inner.join(' ')}</${name}>`),
      ),
    }))
    fc.assert(
      fc.property(fc.array(tree, { minLength: 1, maxLength: 5 }), (bodies) => {
        let count = 0
        const body = bodies.join(' ').replace(/WORD/g, () => `w${count++}.`)
        fc.pre(count > 0 && count < 12)
        const { nodes, notes } = read(`<p>begin</p>${body}`)
        const kept = JSON.stringify([nodes, notes])
        for (let word = 0; word < count; word++) expect(kept).toContain(`w${word}.`)
      }),
      { numRuns: 500 },
    )
  })

  test('with more fields than any form has is read in the same moment as one with few', () => {
    const fields = (many: number) => `<form>${'<label>a <input name="b"></label>'.repeat(many)}</form>`
    const time = (many: number) => {
      const before = process.cpuUsage()
      expect(Object.keys(read(fields(many)).nodes)).toHaveLength(many + 2)
      // Work, in milliseconds: on a busy machine the waiting for a core is longer than the reading.
      return process.cpuUsage(before).user / 1000
    }
    time(100)
    // Ten times as many: not a hundred times as long.
    expect(time(10_000)).toBeLessThan(60 * Math.max(time(1000), 5))
  })

  test('with nothing in it is refused', () => {
    expect(() => read('<table></table>')).toThrow('nothing in this file')
  })
})

test('a page goes out by what its parts mean, and comes back as the same components', () => {
  const leaf = (type: string, props: Record<string, string>) => ({ type, props, children: [] })
  const page: ContentDocument = documentSchema.parse({
    id: 'front',
    kind: 'page',
    root: 'root',
    nodes: {
      root: { type: 'page', props: { title: 'A <b>', path: '/' }, children: ['main'] },
      main: { type: 'mainPart', props: {}, children: ['one'] },
      one: { type: 'section', props: {}, children: ['title', 'words', 'go'] },
      title: leaf('heading', { words: 'Hello & welcome', level: 'h1' }),
      words: leaf('text', { words: '<p>Some <strong>words</strong></p>' }),
      go: leaf('button', { words: 'Go', link: 'page:front' }),
    },
  })
  const html = writeHtml(page, siteView([page]), origin)
  expect(html).toContain('<h1>Hello &amp; welcome</h1>')
  const back = readFile(html)
  const section = back.nodes[back.sections[0] ?? '']
  expect(section?.children.map((child) => back.nodes[child])).toEqual([
    { type: 'heading', props: { words: 'Hello & welcome', level: 'h1', size: 'grand' }, children: [] },
    nodeAt(page, 'words' as NodeId),
    nodeAt(page, 'go' as NodeId),
  ])
})

test('a film comes back with its still picture, whether it ships with the site or was brought', () => {
  for (const film of ['bow', `m-${'a'.repeat(32)}`]) {
    const props = { film, poster: 'violin', caption: 'Four strings' }
    const page = documentSchema.parse({
      ...{ id: 'front', kind: 'page', root: 'root' },
      nodes: {
        root: { type: 'page', props: { title: 'A', path: '/' }, children: ['main'] },
        main: { type: 'mainPart', props: {}, children: ['one'] },
        one: { type: 'section', props: {}, children: ['film'] },
        film: { type: 'video', props, children: [] },
      },
    })
    const { nodes, notes } = readFile(writeHtml(page, siteView([page]), origin))
    expect(notes).toEqual([])
    expect(Object.values(nodes).find(({ type }) => type === 'video')?.props).toEqual(props)
  }
})

test('calls to action, shared components and cards come back as what they were', () => {
  const leaf = (type: string, props: Record<string, string>) => ({ type, props, children: [] })
  const document = (id: string, kind: string, nodes: Record<string, unknown>) =>
    documentSchema.parse({ id, kind, root: 'root', nodes })
  const page = document('front', 'page', {
    root: { type: 'page', props: { title: 'A', path: '/' }, children: ['main'] },
    main: { type: 'mainPart', props: {}, children: ['one'] },
    one: { type: 'section', props: {}, children: ['call', 'cards'] },
    call: leaf('callToAction', { callToAction: 'try-it' }),
    cards: { type: 'cardList', props: {}, children: ['card'] },
    card: leaf('card', { title: 'A cello', words: 'Made\nof wood', note: 'New', link: 'page:front' }),
  })
  const call = document('try-it', 'callToAction', {
    root: leaf('callToActionText', { title: 'Try', buttonWords: 'Go', link: 'page:front' }),
  })
  const { nodes, notes } = readFile(writeHtml(page, siteView([page, call]), origin))
  expect(notes).toEqual([])
  expect(Object.values(nodes).map(({ type, props }) => [type, props])).toEqual([
    ['callToAction', { callToAction: 'try-it' }],
    ['card', { title: 'A cello', words: 'Made\nof wood', note: 'New', link: 'page:front' }],
    ['cardList', {}],
    ['section', {}],
  ])
})
