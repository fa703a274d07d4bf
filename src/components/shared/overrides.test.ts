import fc from 'fast-check'
import type { NodeId } from '@/core/ids'
import { documentSchema } from '@/core/document'
import { asPlaced, readOverrides, withOverride } from './overrides'

const shared = documentSchema.parse({
  id: 'hours',
  kind: 'shared',
  root: 'root',
  nodes: {
    root: { type: 'sharedPart', props: { title: 'Hours' }, children: ['words'] },
    words: { type: 'heading', props: { words: 'Open daily' }, children: [] },
  },
})
const words = (lines: readonly string[]) => asPlaced(shared, lines).nodes.words?.props.words

test('a place has a field of its own, inherits again, and never has two of one', () => {
  const own = withOverride([], 'words' as NodeId, 'words', 'Closed')
  expect([words([]), words(own)]).toEqual(['Open daily', 'Closed'])
  expect(withOverride(own, 'words' as NodeId, 'words', 'Open')).toHaveLength(1)
  expect(words(withOverride(own, 'words' as NodeId, 'words', null))).toBe('Open daily')
  // What is changed in the component later shows where it is not overridden.
  expect(asPlaced({ ...shared, nodes: { ...shared.nodes } }, own).nodes.root?.props.title).toBe('Hours')
})

test('whatever is written comes back as it was, line ends, quotes and long words with it', () => {
  const value = fc.oneof(fc.string({ maxLength: 300 }), fc.boolean(), fc.double({ noNaN: true, noDefaultInfinity: true }))
  fc.assert(
    fc.property(value, fc.constantFrom('words', 'level', 'size'), (written, prop) => {
      const [read] = readOverrides(withOverride(['words other "kept"'], 'words' as NodeId, prop, written)).slice(-1)
      expect(read).toEqual({ node: 'words', prop, value: written === 0 ? 0 : written })
    }),
  )
})

test.each([
  ['of no component', ''],
  ['without a value', 'words words'],
  ['that is no JSON', 'words words Closed'],
  ['with a value that no field has', 'words words {"a":1}'],
  ['of a name that every object has', 'words constructor "x"'],
  ['of a component that no id names', '../x words "x"'],
])('a line %s is passed over', (_, line) => {
  expect(readOverrides([line])).toEqual([])
  expect(words([line])).toBe('Open daily')
})
