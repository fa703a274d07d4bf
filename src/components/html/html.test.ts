import { documentSchema, nodeAt, type ContentDocument } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { siteView } from '../site-view'
import { readHtml } from './read'
import { writeHtml } from './write'

function read(body: string) {
  let count = 0
  return readHtml(
    `<!doctype html>\n<html><head><title>A &amp; b</title><meta name="description" content="What it is"></head>\n<body>${body}</body></html>`,
    {
      fresh: () => `n-${++count}` as NodeId,
      pageAt: (address) => (address === '/plans' ? 'plans' : null),
    },
  )
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
      'Line 4: <table> has no component here and was left out.',
      'Line 5: the picture “https://x.example/a.png” is not in the media library. Bring it there, then choose it.',
      'Line 6: the link to “/gone” leads to no page of this site and was left open.',
    ])
  })

  test('brings no script along', () => {
    expect(
      JSON.stringify(read('<p onclick="x()">a<script>steal()</script></p><p><a href="javascript:x()">b</a></p>').nodes),
    ).not.toMatch(/onclick|steal|javascript/)
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
  const html = writeHtml(page, siteView([page]))
  expect(html).toContain('<h1>Hello &amp; welcome</h1>')
  let count = 0
  const back = readHtml(html, { fresh: () => `n-${++count}` as NodeId, pageAt: () => 'front' })
  const section = back.nodes[back.sections[0] ?? '']
  expect(section?.children.map((child) => back.nodes[child])).toEqual([
    { type: 'heading', props: { words: 'Hello & welcome', level: 'h1', size: 'grand' }, children: [] },
    nodeAt(page, 'words' as NodeId),
    nodeAt(page, 'go' as NodeId),
  ])
})
