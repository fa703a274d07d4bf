import fc from 'fast-check'
import { apply, documentSchema, type Edit } from '../document'
import { goalSchema } from '../goals'
import type { NodeId, VersionId } from '../ids'
import { comparedIn, designSchema, effectsOn, leavingAsItIs, type Round } from '.'

const leaf = (type: string, props: Record<string, string> = {}) => ({ type, props, children: [] })
const page = documentSchema.parse({
  id: 'home',
  kind: 'page',
  root: 'root',
  nodes: {
    root: { type: 'page', props: { path: '/' }, children: ['one', 'two'] },
    one: { type: 'section', props: {}, children: ['title', 'text'] },
    two: { type: 'section', props: {}, children: ['button', 'quote'] },
    title: leaf('heading', { words: 'Hello' }),
    text: leaf('text', { words: 'Words' }),
    button: leaf('button', { words: 'Go' }),
    quote: leaf('quote', { words: 'Said' }),
  },
})
const set = (node: string, prop: string, value: string): Edit => ({ kind: 'set', node: node as NodeId, prop, value })
const remove = (node: string): Edit => ({ kind: 'remove', node: node as NodeId })
function round(node: string, edits: Edit[]): Pick<Round, 'design' | 'versions' | 'goals'> {
  return {
    design: designSchema.parse({
      name: 'T',
      problem: '',
      change: '',
      expected: '',
      document: 'home',
      node,
      arms: [
        { version: 'original', weight: 5000 },
        { version: 'v', weight: 5000 },
      ],
      share: 10_000,
      primary: 'pressed',
      watched: [],
      smallestEffect: 0.05,
    }),
    versions: [{ id: 'v' as VersionId, name: 'V', edits }],
    goals: [goalSchema.parse({ id: 'pressed', name: 'Pressed', wiring: { kind: 'click', document: 'home', node: 'button' } })],
  }
}
const heading = round('title', [set('title', 'words', 'Good day')])
const after = (...edits: Edit[]) => apply(page, edits).document

test.each<[string, ReturnType<typeof round>, Edit[], string[]]>([
  ['words elsewhere', heading, [set('text', 'words', 'New')], []],
  ['the tested words', heading, [set('title', 'words', 'New')], ['originalChanged']],
  ['the tested part gone', heading, [remove('title')], ['partGone', 'variantUnfit']],
  ['the section around it gone', heading, [remove('one')], ['partGone', 'variantUnfit']],
  ['what the goal counts on gone', heading, [remove('button')], ['goalGone']],
  [
    'something in a tested section',
    round('one', [set('one', 'ground', 'deep')]),
    [set('text', 'words', 'New')],
    ['originalChanged'],
  ],
  ['beside what a whole page varies', round('root', [remove('quote')]), [set('text', 'words', 'New')], []],
  ['in what a whole page varies', round('root', [remove('two')]), [set('quote', 'words', 'New')], ['originalChanged']],
  [
    'anything, where another page is the variant',
    round('root', [set('root', 'route', 'page:x')]),
    [set('text', 'words', 'N')],
    ['originalChanged'],
  ],
])('publishing %s', (_, test, edits, effects) => {
  expect(effectsOn(test, page, after(...edits))).toEqual(effects)
})

test('what is left as it is touches no test, whatever else is published with it', () => {
  const names = fc.constantFrom('one', 'two', 'title', 'text', 'button', 'quote') as fc.Arbitrary<NodeId>
  const edits: fc.Arbitrary<Edit> = fc.oneof(
    fc.record({ kind: fc.constant('set' as const), node: names, prop: fc.constant('words'), value: fc.string() }),
    fc.record({ kind: fc.constant('remove' as const), node: names }),
    fc.record({
      kind: fc.constant('move' as const),
      node: names,
      parent: fc.constantFrom('one', 'two') as fc.Arbitrary<NodeId>,
      after: fc.constant(null),
    }),
    fc.record({ kind: fc.constant('replace' as const), node: names, type: fc.constant('quote'), props: fc.constant({}) }),
  )
  const tests = fc.constantFrom(heading, round('one', [remove('text')]), round('root', [set('quote', 'words', 'Other')]))
  fc.assert(
    fc.property(tests, fc.array(edits, { maxLength: 6 }), (test, list) => {
      const left = leavingAsItIs([test], page, after(...list))
      expect(effectsOn(test, page, left)).toEqual([])
      for (const node of comparedIn(test, page)) expect(left.nodes[node]).toEqual(page.nodes[node])
    }),
    { numRuns: 500 },
  )
})
