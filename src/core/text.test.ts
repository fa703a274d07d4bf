import fc from 'fast-check'
import { halfCharacterIn, shortened } from './text'

const anyText = fc.string({ unit: fc.integer({ min: 0, max: 0xffff }).map((unit) => String.fromCharCode(unit)) })

test('a text that was cut can always be encoded, and is no longer than it may be', () => {
  fc.assert(
    fc.property(anyText, fc.integer({ min: 1, max: 60 }), (text, most) => {
      const cut = shortened(text, most)
      expect(() => encodeURIComponent(cut)).not.toThrow()
      expect(cut.length).toBeLessThanOrEqual(most)
    }),
  )
})

test('a text that is whole and fits stays as it is; a character at the edge goes or stays whole', () => {
  expect(shortened('Cello 🎻', 8)).toBe('Cello 🎻')
  expect(shortened('Cello 🎻', 7)).toBe('Cello ')
})

test('half a character is found wherever it is, however deep', () => {
  expect(halfCharacterIn({ a: [{ b: 'whole 🎻' }] })).toBeNull()
  expect(halfCharacterIn({ a: [{ b: 'x', c: 'half \ud83c' }] })).toEqual(['a', 0, 'c'])
  expect(halfCharacterIn({ '\udfbb': 1 })).toEqual([])
  let deep: unknown = '\ud83c'
  for (let level = 0; level < 50_000; level++) deep = [deep]
  expect(halfCharacterIn(deep)).not.toBeNull()
})
