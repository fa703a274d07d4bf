import {
  ancestorsOf,
  apply,
  changedBy,
  collide,
  commonAncestor,
  compare,
  describe as inWords,
  documentSchema,
  gathered,
  handsOn,
  inShort,
  nodeAt,
  parentOf,
  placeOf,
  propsBroughtBy,
  reachOf,
  subtree,
  treeFault,
  walk,
  withFreshIds,
  withProps,
  type ContentDocument,
  type ContentNode,
  type Edit,
  type PropValue,
  type Vocabulary,
} from '.'
import type { DocumentId, NodeId } from '../ids'
import { short } from './vocabulary'

const id = (name: string) => name as NodeId
const leaf = (props: Record<string, PropValue> = {}, type = 'text'): ContentNode => ({ type, props, children: [] })
const holding = (children: readonly string[], type = 'section'): ContentNode => ({ type, props: {}, children: children.map(id) })
const made = (nodes: Record<string, ContentNode>): ContentDocument => ({
  id: 'page' as DocumentId,
  kind: 'page',
  root: id('root'),
  nodes,
})
/** root: [top: [a, b], foot: [c]] */
const page = made({
  root: holding(['top', 'foot'], 'page'),
  top: holding(['a', 'b']),
  foot: holding(['c']),
  a: leaf({ words: 'Play it first' }),
  b: leaf(),
  c: leaf({ link: '/plans' }, 'button'),
})
const set = (node: string, prop: string, value?: PropValue): Edit => ({
  ...{ kind: 'set', node: id(node), prop },
  ...(value === undefined ? {} : { value }),
})
const remove = (node: string): Edit => ({ kind: 'remove', node: id(node) })
const move = (node: string, parent: string, after: string | null = null): Edit => ({
  ...{ kind: 'move', node: id(node), parent: id(parent), after: after === null ? null : id(after) },
})
const insert = (node: string, parent: string, after: string | null = null, nodes = { [node]: leaf({ words: 'New' }) }): Edit => ({
  ...{ kind: 'insert', parent: id(parent), after: after === null ? null : id(after), tree: { root: id(node), nodes } },
})
const replace = (node: string, type = 'quote'): Edit => ({ kind: 'replace', node: id(node), type, props: { words: 'Said' } })
const childrenOf = (document: ContentDocument, node: string) => nodeAt(document, id(node)).children

describe('one whole tree', () => {
  const deep = (levels: number) =>
    made({
      root: holding(levels > 1 ? ['n2'] : []),
      ...Object.fromEntries(
        Array.from({ length: levels - 1 }, (_, at) => [`n${at + 2}`, holding(at + 2 < levels ? [`n${at + 3}`] : [])]),
      ),
    })
  const wide = (many: number) => {
    const names = Array.from({ length: many }, (_, at) => `n${at}`)
    const groups = Array.from({ length: Math.ceil(many / 400) }, (_, at) => `g${at}`)
    return made({
      root: holding(groups),
      ...Object.fromEntries(groups.map((group, at) => [group, holding(names.slice(at * 400, at * 400 + 400))])),
      ...Object.fromEntries(names.map((name) => [name, leaf()])),
    })
  }
  const faultOf = (document: unknown) => documentSchema.safeParse(document).error?.issues[0]

  test('is what is kept; anything else is refused with what is wrong with it', () => {
    expect(treeFault(page)).toBeNull()
    expect(faultOf(page)).toBeUndefined()
    expect(treeFault({ ...page, root: id('gone') })).toMatch(/root “gone” is missing/)
    expect(treeFault({ ...page, root: id('constructor') })).toMatch(/is missing/)
    expect(treeFault(made({ root: holding(['a', 'a']), a: leaf() }))).toMatch(/“a” stands in two places/)
    expect(treeFault(made({ root: holding(['root']) }))).toMatch(/“root” stands in two places/)
    expect(treeFault(made({ root: holding(['gone']) }))).toMatch(/“gone” is named as a part but missing/)
    expect(treeFault(made({ root: holding([]), a: leaf(), b: leaf() }))).toMatch(/^2 components are not part/)
    expect(faultOf(made({ root: holding(['gone']) }))).toMatchObject({ path: ['nodes'] })
  })

  test('has its limits in depth, in number and in width', () => {
    expect(treeFault(deep(40))).toBeNull()
    expect(treeFault(deep(41))).toMatch(/“n41” stands more than 40 components deep/)
    // The root and eight groups are counted as well.
    expect(faultOf(wide(3000 - 9))).toBeUndefined()
    expect(faultOf(wide(3000 - 8))?.message).toMatch(/at most 3000 components/)
    const names = Array.from({ length: 501 }, (_, at) => `n${at}`)
    const flat = (many: number) =>
      made({
        root: holding(names.slice(0, many)),
        ...Object.fromEntries(names.slice(0, many).map((name) => [name, leaf()])),
      })
    expect([faultOf(flat(500)), faultOf(flat(501))?.message]).toEqual([undefined, expect.stringMatching(/at most 500 others/)])
  })

  test('is read from the top, and asked for parents, what is above, and what several have in common', () => {
    expect(walk(page)).toEqual(['root', 'top', 'a', 'b', 'foot', 'c'])
    expect(walk(page, id('foot'))).toEqual(['foot', 'c'])
    expect(walk(page, id('gone'))).toEqual([])
    expect([parentOf(page, id('a')), parentOf(page, id('root')), parentOf(page, id('gone'))]).toEqual(['top', null, null])
    expect(ancestorsOf(page, id('c'))).toEqual(['foot', 'root'])
    expect(ancestorsOf(page, id('root'))).toEqual([])
    expect(subtree(page, id('top'))).toEqual({ root: 'top', nodes: { top: page.nodes.top, a: page.nodes.a, b: page.nodes.b } })
    expect(() => nodeAt(page, id('gone'))).toThrow(/no component “gone” below “root”/)
    const common = (...nodes: string[]) => commonAncestor(page, nodes.map(id))
    expect([common('a'), common('a', 'b'), common('a', 'top'), common('a', 'b', 'c'), common()]).toEqual([
      ...['a', 'top', 'top', 'root', 'root'],
    ])
  })
})

describe('an edit says of itself', () => {
  test.each<[string, Edit, { at: string; hands: string[]; changes: string[]; reach: string[]; short: string }]>([
    ['set', set('a', 'words', 'x'), { at: 'a', hands: ['a'], changes: ['a'], reach: ['a'], short: 'words' }],
    ['insert', insert('n', 'top'), { at: 'top', hands: ['top'], changes: ['top'], reach: ['top'], short: 'added part' }],
    [
      'remove',
      remove('top'),
      { at: 'top', hands: ['top', 'a', 'b'], changes: ['top', 'a', 'b'], reach: ['top'], short: 'hidden part' },
    ],
    [
      'move',
      move('top', 'foot'),
      { at: 'top', hands: ['top', 'a', 'b'], changes: ['top', 'foot'], reach: ['root', 'foot'], short: 'place' },
    ],
    ['replace', replace('top'), { at: 'top', hands: ['top', 'a', 'b'], changes: ['top'], reach: ['top'], short: 'kind' }],
  ])('where it is, what it lays hands on, what it changes and where it is seen: %s', (_, edit, truth) => {
    expect(placeOf(edit)).toBe(truth.at)
    expect(handsOn(page, edit)).toEqual(truth.hands)
    expect(changedBy(page, edit)).toEqual(truth.changes)
    expect(reachOf(page, [edit])).toEqual(truth.reach)
    expect(inShort(page, [edit], vocabulary)).toBe(truth.short)
  })

  test('and of what is gone, nothing is changed or seen', () => {
    expect(reachOf(page, [set('gone', 'words', 'x'), set('b', 'words', 'x')])).toEqual(['b'])
    expect(changedBy(page, remove('gone'))).toEqual([])
    expect(handsOn(page, remove('gone'))).toEqual(['gone'])
    expect(reachOf(page, [move('root', 'top')])).toEqual(['root', 'top'])
  })

  test('which properties it brings, and takes others in their place', () => {
    const nested = insert('n', 'top', null, { n: holding(['m']), m: leaf({ words: 'In it' }) })
    const all = [set('a', 'words', 'x'), set('a', 'words'), nested, remove('a'), move('a', 'foot'), replace('b')]
    expect(propsBroughtBy(all)).toEqual([{ words: 'x' }, {}, { words: 'In it' }, { words: 'Said' }])
    const loud = (edit: Edit) =>
      withProps(page, edit, (type, props) =>
        Object.fromEntries(Object.entries(props).map(([name, value]) => [name, `${String(value)} ${type ?? 'unknown'}`])),
      )
    expect(loud(set('a', 'words', 'x'))).toEqual(set('a', 'words', 'x text'))
    expect(loud(set('gone', 'words', 'x'))).toEqual(set('gone', 'words', 'x unknown'))
    expect(loud(set('a', 'words'))).toEqual(set('a', 'words'))
    expect(loud(nested)).toEqual(insert('n', 'top', null, { n: holding(['m']), m: leaf({ words: 'In it text' }) }))
    expect(loud(replace('b'))).toEqual({ kind: 'replace', node: 'b', type: 'quote', props: { words: 'Said quote' } })
    expect([loud(remove('a')), loud(move('a', 'foot'))]).toEqual([remove('a'), move('a', 'foot')])
    // Where the property itself is taken out there is nothing to set.
    expect(withProps(page, set('a', 'words', 'x'), () => ({}))).toEqual(set('a', 'words', 'x'))
  })
})

test('what no longer fits is refused by its reason, and nothing changes', () => {
  const refusal = (edit: Edit) => apply(page, [edit]).refused[0]?.refusal
  expect(refusal(set('gone', 'words', 'x'))).toBe('nodeMissing')
  expect(refusal(remove('gone'))).toBe('nodeMissing')
  expect(refusal(replace('gone'))).toBe('nodeMissing')
  expect(refusal(move('gone', 'top'))).toBe('nodeMissing')
  expect(refusal(move('a', 'gone'))).toBe('parentMissing')
  expect(refusal(insert('n', 'gone'))).toBe('parentMissing')
  expect(refusal(insert('a', 'top'))).toBe('idTaken')
  expect([refusal(remove('root')), refusal(move('root', 'top'))]).toEqual(['rootStays', 'rootStays'])
  expect([refusal(move('top', 'a')), refusal(move('top', 'top'))]).toEqual(['insideItself', 'insideItself'])
})

test('a part is put first, after its sibling, or last where that has gone; a move is taken back to where it stood', () => {
  const after = (edit: Edit, parent = 'top') => childrenOf(apply(page, [edit]).document, parent)
  expect(after(insert('n', 'top'))).toEqual(['n', 'a', 'b'])
  expect(after(insert('n', 'top', 'a'))).toEqual(['a', 'n', 'b'])
  expect(after(insert('n', 'top', 'gone'))).toEqual(['a', 'b', 'n'])
  expect(after(move('b', 'top'))).toEqual(['b', 'a'])
  expect(after(move('c', 'top', 'a'))).toEqual(['a', 'c', 'b'])
  expect(apply(page, [move('b', 'foot', 'c')]).undo).toEqual([move('b', 'top', 'a')])
  expect(apply(page, [remove('a')]).undo).toEqual([{ kind: 'insert', parent: 'top', after: null, tree: subtree(page, id('a')) }])
  expect(apply(page, [replace('a')])).toMatchObject({
    document: { nodes: { a: { type: 'quote', props: { words: 'Said' } } } },
    undo: [{ kind: 'replace', node: 'a', type: 'text', props: { words: 'Play it first' } }],
  })
  expect(apply(page, [set('b', 'words', 'x')]).undo).toEqual([set('b', 'words')])
})

describe('one more edit after others', () => {
  const typed = (value: string) => set('a', 'words', value)
  test('takes the place of the one before on the same field, across other fields and moves', () => {
    expect(gathered([typed('x')], typed('xy'))).toEqual([typed('xy')])
    expect(gathered([typed('x'), set('b', 'words', '1'), set('a', 'link', '2'), move('b', 'foot')], typed('xy'))).toEqual([
      ...[typed('xy'), set('b', 'words', '1'), set('a', 'link', '2'), move('b', 'foot')],
    ])
  })
  test('but not across what makes, takes away or turns a component, and only as a setting', () => {
    for (const between of [insert('n', 'top'), remove('b'), replace('a')])
      expect(gathered([typed('x'), between], typed('xy'))).toEqual([typed('x'), between, typed('xy')])
    expect(gathered([typed('x')], remove('a'))).toEqual([typed('x'), remove('a')])
    expect(gathered([move('a', 'foot')], move('a', 'top'))).toEqual([move('a', 'foot'), move('a', 'top')])
    expect(gathered([], typed('x'))).toEqual([typed('x')])
  })
})

describe('two documents are compared', () => {
  test('by new parts, moves, removals, kinds and properties, each in the fewest edits', () => {
    const changed = made({
      root: holding(['foot', 'top', 'extra'], 'page'),
      foot: holding([]),
      top: holding(['b', 'n']),
      extra: holding(['a', 'fresh']),
      a: leaf({ words: 'Play it first' }),
      b: leaf({ words: 'Now with words', anchor: 'b', list: ['x'] }),
      n: leaf(),
      fresh: leaf(),
    })
    const edits = compare(page, changed)
    expect(apply(page, edits)).toMatchObject({ document: changed, refused: [] })
    expect(edits).toEqual([
      move('top', 'root', 'foot'),
      insert('extra', 'root', 'top', { extra: holding(['fresh']), fresh: leaf() }),
      insert('n', 'top', 'b', { n: leaf() }),
      move('a', 'extra'),
      remove('c'),
      set('b', 'anchor', 'b'),
      set('b', 'list', ['x']),
      set('b', 'words', 'Now with words'),
    ])
  })

  test('a list of the same words is the same, and a kind that changed takes its properties along', () => {
    const with_ = (b: ContentNode) => made({ ...page.nodes, b })
    const lists = (value: PropValue) => with_(leaf({ list: value }))
    expect(compare(lists(['x', 'y']), lists(['x', 'y']))).toEqual([])
    expect(compare(lists(['x']), lists(['x', 'y']))).toEqual([set('b', 'list', ['x', 'y'])])
    expect(compare(lists(['x']), page)).toEqual([set('b', 'list')])
    expect(compare(page, with_(leaf({ words: 'Said' }, 'quote')))).toEqual([replace('b')])
  })

  test('of siblings in another order the fewest move, and of as few those that were taken in hand', () => {
    const row = (...names: string[]) =>
      made({ root: holding(names), ...Object.fromEntries(['a', 'b', 'c', 'd', 'e'].map((name) => [name, leaf()])) })
    const moves = (to: string[], hands: string[] = []) =>
      compare(row('a', 'b', 'c', 'd', 'e'), row(...to), new Set(hands.map(id))).map((edit) => placeOf(edit))
    expect(moves(['e', 'a', 'b', 'c', 'd'])).toEqual(['e'])
    expect(moves(['b', 'c', 'd', 'e', 'a'])).toEqual(['a'])
    expect(moves(['a', 'd', 'e', 'b', 'c'], ['d', 'e'])).toEqual(['d', 'e'])
    expect(moves(['a', 'd', 'e', 'b', 'c'], ['b', 'c'])).toEqual(['b', 'c'])
    expect(moves(['b', 'a', 'c', 'd', 'e'], ['a'])).toEqual(['a'])
    expect(moves(['b', 'a', 'c', 'd', 'e'], ['b'])).toEqual(['b'])
    // However many were taken in hand, no more are moved than must be.
    expect(moves(['e', 'a', 'b', 'c', 'd'], ['a', 'b', 'c', 'd'])).toEqual(['e'])
  })

  test('two with other roots are no two states of one document', () => {
    const other = { ...page, root: id('top'), nodes: subtree(page, id('top')).nodes }
    expect(() => compare(page, other)).toThrow(/two documents with the roots “root” and “top”/)
  })
})

test.each<[string, Edit, Edit, boolean]>([
  ['the same property', set('a', 'words', 'x'), set('a', 'words', 'y'), true],
  ['two properties of one component', set('a', 'words', 'x'), set('a', 'link', 'y'), false],
  ['the same property of two', set('a', 'words', 'x'), set('b', 'words', 'y'), false],
  ['a property and what it is a property of', set('a', 'words', 'x'), remove('a'), true],
  ['a property and what it is in', set('a', 'words', 'x'), remove('top'), true],
  ['a property and another kind', replace('a'), set('a', 'words', 'x'), true],
  ['a property and a place', set('a', 'words', 'x'), move('a', 'foot'), false],
  ['two places in one row', insert('n', 'top'), move('a', 'top', 'b'), true],
  ['a row and another', insert('n', 'top'), insert('m', 'foot'), false],
  ['a move into what is taken away', move('a', 'foot'), remove('foot'), true],
  ['a move into what is moved', move('a', 'foot'), move('foot', 'top'), true],
  ['two removals of neighbours', remove('a'), remove('b'), true],
  ['two new parts of one id', insert('n', 'top'), insert('n', 'foot'), true],
])('whether two edits collide: %s', (_, one, other, collides) => {
  expect([collide(page, [one], [other]), collide(page, [other], [one])]).toEqual([collides, collides])
})

const vocabulary: Vocabulary = {
  typeName: (type) => type,
  fieldName: (_, prop) => prop,
  fieldKind: (_, prop) => (prop === 'link' ? 'lead' : prop === 'open' ? 'switch' : 'value'),
  valueName: (_type, _prop, value) => String(value),
  excerpt: (document, node) => String(nodeAt(document, node).props.words ?? ''),
}

test('each edit reads as a sentence, short where there is little room', () => {
  const say = (edit: Edit) => inWords(page, edit, vocabulary)
  expect(say(set('a', 'words'))).toBe('clears the words of the text “Play it first”')
  expect(say(set('a', 'open', false))).toBe('switches “open” off for the text “Play it first”')
  expect(say(set('c', 'link'))).toBe('takes away where the button leads')
  expect(say(insert('n', 'top'))).toBe('adds a text to the section')
  expect(say(insert('n', 'gone'))).toBe('adds a text to a component that is no longer there')
  expect(say(move('a', 'foot'))).toBe('moves the text “Play it first” within the section')
  expect(say(replace('gone'))).toBe('turns a component that is no longer there into a quote')
  const long = 'w'.repeat(58)
  expect(say(set('b', 'words', `${long}ord`))).toBe(`changes the words of the text to “${'w'.repeat(57)}…”`)
  expect([short('w'.repeat(60)), short(`${'w'.repeat(56)}  more of it`)]).toEqual(['w'.repeat(60), `${'w'.repeat(56)}…`])
  expect(
    inShort(page, [set('c', 'link', 'x'), set('a', 'words', 'x'), set('b', 'words', 'y'), set('gone', 'link')], vocabulary),
  ).toBe('where it leads · words')
})

test('in a copy, only a link that is to a place in it alone leads elsewhere', () => {
  const tree = {
    root: id('a'),
    nodes: {
      a: { ...holding(['b']), props: { one: '#b', two: '#b and more', three: 'see #b', four: '#else', five: ['#b'] } },
      b: leaf(),
    },
  }
  let count = 0
  const copy = withFreshIds(tree, () => id(`new-${++count}`))
  expect(copy.nodes['new-1']?.props).toEqual({ one: '#new-2', two: '#b and more', three: 'see #b', four: '#else', five: ['#b'] })
})
