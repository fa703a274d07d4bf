import type { DocumentId, NodeId } from '../ids'
import { visitors } from './visitors'
import { wanderings, type Surroundings } from './wanderings'

const page = 'home' as DocumentId
const around: Surroundings = {
  page,
  presses: ['go', 'menu'].map((node) => ({ node: node as NodeId, markers: [] })),
  next: ['plans' as DocumentId],
  reads: 'go' as NodeId,
  slower: 1,
}
const crowd = [...visitors({ seed: 5, visitors: 2000, days: 2, startsAt: new Date('2026-03-02') })]

test('the same visitor does the same again, in order, and what they press most is what is wanted most', () => {
  const [first] = crowd
  if (first === undefined) throw new Error('somebody was expected')
  expect(wanderings(first, around)).toEqual(wanderings(first, around))
  const done = crowd.map((visitor) => wanderings(visitor, around))
  for (const each of done) expect(each.map(({ after }) => after)).toEqual(each.map(({ after }) => after).sort((a, b) => a - b))
  const pressed = done.flat().flatMap(({ happening }) => (happening.kind === 'click' ? [happening.nodes[0]] : []))
  const go = pressed.filter((node) => node === 'go').length
  expect(go / pressed.length).toBeCloseTo(2 / 3, 1)
})

test('a slower version is painted later, for everybody', () => {
  const paint = (slower: number) =>
    crowd.flatMap((visitor) =>
      wanderings(visitor, { ...around, slower }).flatMap(({ happening }) =>
        happening.kind === 'speed' ? [happening.paint ?? 0] : [],
      ),
    )
  const [usual, slow] = [paint(1), paint(1.5)]
  expect(usual.every((value, at) => (slow[at] ?? 0) > value)).toBe(true)
})
