import { apply, documentSchema, nodeAt, parentOf, type ContentDocument } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { landingByKey, mayHold } from './landing'

const page = documentSchema.parse({
  id: 'front',
  kind: 'page',
  root: 'root',
  nodes: {
    root: { type: 'page', props: { title: 'Front', path: '/' }, children: ['main'] },
    main: { type: 'mainPart', props: {}, children: ['first', 'second'] },
    first: { type: 'section', props: {}, children: ['heading', 'columns', 'text'] },
    heading: { type: 'heading', props: {}, children: [] },
    columns: { type: 'columns', props: {}, children: ['left', 'right'] },
    left: { type: 'column', props: {}, children: ['inside'] },
    inside: { type: 'text', props: {}, children: [] },
    right: { type: 'column', props: {}, children: [] },
    text: { type: 'text', props: {}, children: [] },
    second: { type: 'section', props: {}, children: [] },
  },
})
const children = (document: ContentDocument, node: string) => nodeAt(document, node as NodeId).children.join(' ')

function moved(document: ContentDocument, node: string, key: string): ContentDocument {
  const landing = landingByKey(document, node as NodeId, key)
  return landing === null ? document : apply(document, [{ kind: 'move', node: node as NodeId, ...landing }]).document
}

test.each([
  ['up', 'text', 'ArrowUp', 'first', 'heading text columns'],
  ['down', 'heading', 'ArrowDown', 'first', 'columns heading text'],
  ['out of what holds it', 'inside', 'ArrowLeft', 'left', 'inside'],
  ['nowhere beyond the first', 'heading', 'ArrowUp', 'first', 'heading columns text'],
  ['nowhere beyond the last', 'text', 'ArrowDown', 'first', 'heading columns text'],
  ['not into what may not hold it', 'text', 'ArrowRight', 'first', 'heading columns text'],
  ['nowhere by another key', 'text', 'Enter', 'first', 'heading columns text'],
])('a part goes %s', (_, node, key, parent, expected) => {
  expect(children(moved(page, node, key), parent)).toBe(expected)
})

test('the root goes nowhere', () => {
  for (const key of ['ArrowUp', 'ArrowDown', 'ArrowLeft', 'ArrowRight']) expect(landingByKey(page, page.root, key)).toBeNull()
})

test('every way that a key offers leads to where the part may stand, and up is the way back from down', () => {
  for (const node of Object.keys(page.nodes) as NodeId[])
    for (const key of ['ArrowUp', 'ArrowDown', 'ArrowLeft', 'ArrowRight']) {
      const landing = landingByKey(page, node, key)
      if (landing === null) continue
      const after = moved(page, node, key)
      expect(parentOf(after, node)).toBe(landing.parent)
      expect(mayHold(after, landing.parent, node)).toBe(true)
      if (key === 'ArrowDown') expect(moved(after, node, 'ArrowUp')).toEqual(page)
    }
})
