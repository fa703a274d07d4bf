import fc from 'fast-check'
import type { DocumentId } from '@/core/ids'
import { showingFault } from './showing'

const site = (shows: Record<string, readonly string[]>) => (id: DocumentId) =>
  shows[id] === undefined ? null : { components: 10, shown: shows[id] as DocumentId[] }
const faultOf = (shows: Record<string, readonly string[]>) => showingFault('a' as DocumentId, site(shows))

test.each([
  ['itself', { a: ['a'] }, ['a', 'a']],
  ['itself by way of another', { a: ['b'], b: ['a'] }, ['a', 'b', 'a']],
  ['two that show each other', { a: ['x', 'b'], b: ['c'], c: ['b'] }, ['b', 'c', 'b']],
])('a document that shows %s is named with the way round', (_, shows, way) => {
  expect(faultOf(shows)).toEqual({ code: 'circle', way })
})

test('what is shown twice without a circle is fine, and what is gone shows nothing', () => {
  expect(faultOf({ a: ['b', 'c', 'gone'], b: ['d'], c: ['d'], d: [] })).toBeNull()
})

test('twenty that each show the next twice are far too much to draw, and that is found out at once', () => {
  const names = Array.from({ length: 20 }, (_, index) => (index === 0 ? 'a' : `n${index}`))
  const shows = Object.fromEntries(
    names.map((name, index) => [name, [names[index + 1], names[index + 1]].filter((one) => one !== undefined)]),
  )
  expect(faultOf(shows)).toMatchObject({ code: 'tooLarge' })
})

test('every circle that can be reached is found', () => {
  const names = ['a', 'b', 'c', 'd', 'e']
  const graph = fc.record(Object.fromEntries(names.map((name) => [name, fc.subarray(names)])))
  fc.assert(
    fc.property(graph, (shows) => {
      const reach = (from: string, met: Set<string>): Set<string> => {
        for (const next of shows[from] ?? []) if (!met.has(next)) reach(next, met.add(next))
        return met
      }
      const reached = ['a', ...reach('a', new Set())]
      const circular = reached.some((name) => reach(name, new Set()).has(name))
      expect(faultOf(shows) !== null).toBe(circular)
    }),
  )
})
