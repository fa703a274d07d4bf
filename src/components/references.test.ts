import { documentSchema } from '@/core/document'
import { linksOf, listedTypes, mediaOf, referencesOf, titleOf } from './references'

const picture = `m-${'0a'.repeat(16)}`
const film = `m-${'1b'.repeat(16)}`
const document = documentSchema.parse({
  id: 'front',
  kind: 'page',
  root: 'root',
  nodes: {
    root: { type: 'page', props: { title: 'Front', path: '/', route: 'page:other' }, children: ['menu', 'main'] },
    menu: { type: 'menu', props: { menu: 'top' }, children: [] },
    main: { type: 'mainPart', props: {}, children: ['section'] },
    section: { type: 'section', props: {}, children: ['call', 'place', 'empty', 'list', 'text', 'go', 'away', 'seen', 'film'] },
    call: { type: 'callToAction', props: { callToAction: 'reserve' }, children: [] },
    place: { type: 'shared', props: { shared: 'hours', overrides: ['x callToAction "trial"', 'x words "trial"'] }, children: [] },
    empty: { type: 'shared', props: { shared: '' }, children: [] },
    list: { type: 'pageList', props: {}, children: [] },
    text: {
      type: 'text',
      props: { words: '<p>To <a href="page:plans">plans</a> and <a href="page:plans">again</a></p>' },
      children: [],
    },
    go: { type: 'button', props: { words: 'Go', link: 'page:done#top' }, children: [] },
    away: { type: 'button', props: { words: 'Away', link: 'https://example.org/page:none' }, children: [] },
    seen: { type: 'picture', props: { picture }, children: [] },
    film: { type: 'video', props: { film }, children: [] },
  },
})

test('a page refers to what stands on it, and to what a place shows instead of what a component would', () => {
  expect(referencesOf(document).map(({ node, document: shown }) => `${node} ${shown}`)).toEqual([
    'menu top',
    'call reserve',
    'place hours',
    'place trial',
  ])
})

test('a page links to pages, each once, in fields and in words', () => {
  expect(linksOf(document).sort()).toEqual(['done', 'other', 'plans'])
})

test('a page shows pictures and films of the library, lists a type of pages, and has a title', () => {
  expect(mediaOf(document).sort()).toEqual([picture, film].sort())
  expect(listedTypes(document)).toEqual(['Page'])
  expect([
    titleOf(document),
    titleOf({ ...document, nodes: { ...document.nodes, root: { ...document.nodes.root!, props: {} } } }),
  ]).toEqual(['Front', 'front'])
})
