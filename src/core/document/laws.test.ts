import fc from 'fast-check'
import type { DocumentId, NodeId } from '../ids'
import {
  apply,
  collide,
  compare,
  describe as inWords,
  gathered,
  documentSchema,
  invert,
  nodeAt,
  treeFault,
  walk,
  withFreshIds,
} from '.'
import type { ContentDocument, ContentNode, Edit, Vocabulary } from '.'

const id = (name: string) => name as NodeId
const names = ['a', 'b', 'c', 'd', 'e', 'f', 'g', 'h'].map(id)
const types = ['section', 'heading', 'text']
const props = fc.dictionary(fc.constantFrom('words', 'size', 'look'), fc.constantFrom('one', 'two', 3, true))

/** A tree over some of eight names: each name hangs below the root or below a name before it. */
const documents: fc.Arbitrary<ContentDocument> = fc
  .record({
    present: fc.shuffledSubarray(names),
    choices: fc.array(fc.nat(), { minLength: 8, maxLength: 8 }),
    looks: fc.array(fc.record({ type: fc.constantFrom(...types), props }), { minLength: 9, maxLength: 9 }),
  })
  .map(({ present, choices, looks }) => {
    const order = [id('root'), ...present]
    const nodes: Record<NodeId, ContentNode> = {}
    order.forEach((name, index) => (nodes[name] = { ...(looks[index] ?? { type: 'text', props: {} }), children: [] }))
    order.slice(1).forEach((name, index) => {
      const parent = order[(choices[index] ?? 0) % (index + 1)] ?? id('root')
      const holder = nodes[parent]
      if (holder) nodes[parent] = { ...holder, children: [...holder.children, name] }
    })
    return { id: 'page' as DocumentId, kind: 'page', root: id('root'), nodes }
  })

const anyName = fc.constantFrom(id('root'), ...names, id('x'), id('y'))
const edits: fc.Arbitrary<Edit> = fc.oneof(
  fc.record({
    kind: fc.constant('set' as const),
    node: anyName,
    prop: fc.constantFrom('words', 'size'),
    value: fc.option(fc.string(), { nil: undefined }),
  }),
  fc.record({ kind: fc.constant('remove' as const), node: anyName }),
  fc.record({ kind: fc.constant('move' as const), node: anyName, parent: anyName, after: fc.option(anyName) }),
  fc.record({ kind: fc.constant('replace' as const), node: anyName, type: fc.constantFrom(...types), props }),
  fc.record({
    kind: fc.constant('insert' as const),
    parent: anyName,
    after: fc.option(anyName),
    tree: fc
      .constantFrom(id('x'), id('y'), id('a'))
      .map((root) => ({ root, nodes: { [root]: { type: 'text', props: {}, children: [] } } })),
  }),
)
const lists = fc.array(edits, { maxLength: 12 })

describe('the laws of edits', () => {
  test('gathered into fewer, they do the same', () =>
    fc.assert(
      fc.property(documents, lists, (document, list) => {
        const few = list.reduce<Edit[]>((before, edit) => gathered(before, edit), [])
        expect(apply(document, few).document).toEqual(apply(document, list).document)
        expect(few.length).toBeLessThanOrEqual(list.length)
      }),
      { numRuns: 1000 },
    ))

  test('taking back what was applied gives the document as it was', () =>
    fc.assert(
      fc.property(documents, lists, (document, list) => {
        const { document: after, undo } = apply(document, list)
        expect(apply(after, undo)).toMatchObject({ document, refused: [] })
        expect(invert(document, list)).toEqual(undo)
      }),
      { numRuns: 500 },
    ))

  test('applying the comparison of two documents turns one into the other', () =>
    fc.assert(
      fc.property(documents, documents, (a, b) => {
        expect(apply(a, compare(a, b))).toMatchObject({ document: b, refused: [] })
      }),
      { numRuns: 1000 },
    ))

  test('any edits on any document leave one whole tree, and nothing is lost without a word', () =>
    fc.assert(
      fc.property(documents, lists, (document, list) => {
        const { document: after, refused, undo } = apply(document, list)
        expect(treeFault(after)).toBeNull()
        expect(refused.length + undo.length).toBe(list.length)
        expect(documentSchema.safeParse(after).success).toBe(true)
      }),
    ))

  test('edits that do not collide give the same properties and parts in either order', () =>
    fc.assert(
      fc.property(documents, edits, edits, (document, one, other) => {
        fc.pre(!collide(document, [one], [other]))
        const forth = apply(document, [one, other])
        const back = apply(document, [other, one])
        fc.pre(forth.refused.length === 0 && back.refused.length === 0)
        expect(back.document).toEqual(forth.document)
      }),
      { numRuns: 1000 },
    ))

  test('a document compared with itself needs no edit, and a shifted sibling needs one move', () => {
    const document = page(['a', 'b', 'c', 'd'])
    expect(compare(document, document)).toEqual([])
    expect(compare(document, page(['d', 'a', 'b', 'c']))).toEqual([{ kind: 'move', node: 'd', parent: 'root', after: null }])
  })
})

describe('a refusal', () => {
  const document = page(['a', 'b'])
  test.each<[string, Edit, string]>([
    ['a part that has gone', { kind: 'set', node: id('gone'), prop: 'words', value: 'x' }, 'nodeMissing'],
    [
      'an id in use',
      {
        kind: 'insert',
        parent: id('root'),
        after: null,
        tree: { root: id('a'), nodes: { a: { type: 'text', props: {}, children: [] } } },
      },
      'idTaken',
    ],
    ['the root', { kind: 'remove', node: id('root') }, 'rootStays'],
    ['a part into itself', { kind: 'move', node: id('a'), parent: id('a'), after: null }, 'insideItself'],
  ])('names %s', (_, edit, refusal) => {
    expect(apply(document, [edit])).toEqual({ document, refused: [{ edit, refusal }], undo: [] })
  })
})

test('an edit reads as a sentence', () => {
  const words: Vocabulary = {
    typeName: (type) => type,
    fieldName: (_, prop) => prop,
    fieldKind: (_, prop) => (prop === 'link' ? 'lead' : prop === 'open' ? 'switch' : 'value'),
    valueName: (_type, _prop, value) => String(value),
    excerpt: (document, node) => String(nodeAt(document, node).props.words ?? ''),
  }
  const document = apply(page(['a', 'b']), [{ kind: 'set', node: id('a'), prop: 'words', value: 'Play it first' }]).document
  const say = (edit: Edit) => inWords(document, edit, words)
  expect(say({ kind: 'set', node: id('a'), prop: 'words', value: 'Borrow a cello' })).toBe(
    'changes the words of the text “Play it first” to “Borrow a cello”',
  )
  expect(say({ kind: 'set', node: id('a'), prop: 'link', value: 'Plans' })).toBe(
    'changes where the text “Play it first” leads, to “Plans”',
  )
  expect(say({ kind: 'set', node: id('a'), prop: 'link', value: '' })).toBe('takes away where the text “Play it first” leads')
  expect(say({ kind: 'set', node: id('a'), prop: 'open', value: true })).toBe('switches “open” on for the text “Play it first”')
  expect(say({ kind: 'remove', node: id('a') })).toBe('hides the text “Play it first”')
  expect(say({ kind: 'replace', node: id('b'), type: 'quote', props: {} })).toBe('turns the text into a quote')
  expect(say({ kind: 'set', node: id('gone'), prop: 'words' })).toBe('changes a component that is no longer there')
})

test('reading order is top to bottom', () => {
  expect(walk(page(['a', 'b', 'c']))).toEqual(['root', 'a', 'b', 'c'])
})

function page(children: string[]): ContentDocument {
  const leaf: ContentNode = { type: 'text', props: {}, children: [] }
  return {
    id: 'page' as DocumentId,
    kind: 'page',
    root: id('root'),
    nodes: {
      root: { type: 'section', props: {}, children: children.map(id) },
      ...Object.fromEntries(children.map((name) => [name, leaf])),
    },
  }
}

test('of two siblings that changed places, the one that was taken in hand is said to have moved', () => {
  const list: ContentDocument = {
    id: 'list' as DocumentId,
    kind: 'menu',
    root: 'root' as NodeId,
    nodes: {
      root: { type: 'menuTree', props: {}, children: ['a', 'b', 'c'] as NodeId[] },
      ...Object.fromEntries(['a', 'b', 'c'].map((id) => [id, { type: 'menuItem', props: {}, children: [] }])),
    },
  }
  for (const [node, after] of [
    ['b', null],
    ['a', 'b'],
  ] as const) {
    const move: Edit = { kind: 'move', node: node as NodeId, parent: list.root, after: after as NodeId | null }
    expect(compare(list, apply(list, [move]).document, new Set([node as NodeId]))).toEqual([move])
  }
})

test('a copy has ids of its own, and links to a place inside it lead to its own place', () => {
  const tree = {
    root: 'part' as NodeId,
    nodes: {
      part: { type: 'section', props: {}, children: ['link'] as NodeId[] },
      link: { type: 'button', props: { link: '#part' }, children: [] },
    },
  }
  let count = 0
  const copy = withFreshIds(tree, () => `new-${++count}` as NodeId)
  expect(copy).toEqual({
    root: 'new-1',
    nodes: {
      'new-1': { type: 'section', props: {}, children: ['new-2'] },
      'new-2': { type: 'button', props: { link: '#new-1' }, children: [] },
    },
  })
})
