import { documentSchema, type Edit } from '@/core/document'
import { nameless } from '@/core/identity'
import type { NodeId } from '@/core/ids'
import { drawMiniature } from './draw-miniature'
import { miniatureWidth } from './miniature'

const page = documentSchema.parse({
  id: 'front',
  kind: 'page',
  root: 'root',
  nodes: {
    root: { type: 'page', props: { title: 'Front', path: '/' }, children: ['main'] },
    main: { type: 'mainPart', props: {}, children: ['part'] },
    part: { type: 'section', props: {}, children: ['go', 'title'] },
    go: { type: 'button', props: { words: 'See plans', link: '' }, children: [] },
    title: { type: 'heading', props: { words: 'Hello' }, children: [] },
  },
})
const style = documentSchema.parse({
  id: 'buttons',
  kind: 'style',
  root: 's',
  nodes: {
    s: {
      type: 'style',
      props: { title: 'Buttons', reach: 'every', part: 'button', css: '& { color: rebeccapurple }' },
      children: [],
    },
  },
})
const go = 'go' as NodeId
const drawn = (node: string, edits: readonly Edit[]) =>
  drawMiniature({ document: page, node: node as NodeId, edits, surroundings: [style], identity: nameless })

test('a part is drawn alone, as its version changes it, and wears what its page wears', () => {
  const html = drawn('go', [{ kind: 'set', node: go, prop: 'words', value: 'Look at <plans>' }])
  expect(html).toContain('Look at &lt;plans&gt;')
  expect(html).not.toContain('Hello')
  expect(html).toMatch(/color:\s*rebeccapurple/)
  expect(html).not.toContain('<script')
})

test('a part that a version takes away says so, and a part that is gone shows its page', () => {
  expect(drawn('go', [{ kind: 'remove', node: go }])).toContain('<p>Hidden</p>')
  expect(drawn('nowhere', [])).toContain('Hello')
})

test('a button stands on a page so narrow that its words can be read; a page on a whole one', () => {
  expect(miniatureWidth(page, go, [])).toBeLessThan(miniatureWidth(page, page.root, []))
})
