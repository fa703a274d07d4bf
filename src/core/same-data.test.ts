import fc from 'fast-check'
import { isSameData } from './same-data'

const shuffled = (value: unknown): unknown =>
  Array.isArray(value)
    ? value.map(shuffled)
    : typeof value === 'object' && value !== null
      ? Object.fromEntries(
          Object.entries(value)
            .reverse()
            .map(([key, inner]) => [key, shuffled(inner)]),
        )
      : value

test('data is the same in whatever order its properties stand, and otherwise not', () => {
  const json = fc.jsonValue({ noUnicodeString: false }).filter((value) => !JSON.stringify(value).includes('-0'))
  fc.assert(fc.property(json, (value) => expect(isSameData(value, shuffled(JSON.parse(JSON.stringify(value))))).toBe(true)))
  fc.assert(fc.property(json, json, (one, other) => expect(isSameData(one, other)).toBe(sorted(one) === sorted(other))))
  expect(isSameData({ a: undefined }, {})).toBe(true)
  expect(isSameData([], {})).toBe(false)
})

function sorted(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(sorted).join()}]`
  if (typeof value !== 'object' || value === null) return JSON.stringify(value)
  const parts = Object.entries(value).map(([name, inner]) => `${JSON.stringify(name)}:${sorted(inner)}`)
  return `{${parts.sort().join()}}`
}
