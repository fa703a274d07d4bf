import { gunzipSync } from 'node:zlib'
import type { Decision } from '@/core/decide'
import type { VersionId } from '@/core/ids'
import { lotsOf } from '@/core/simulate'
import { UNCOUNTED, type Chunk } from '../compile/chunk'
import { Assembly } from './assemble'

const lots = lotsOf(7)
const below = (bound: number) => Math.floor(lots() * bound)
const words = (count: number) => Buffer.from(Array.from({ length: count }, () => `${below(1e6).toString(36)} é `).join(''))

/** Some text and places, with places in places, of so many things that are decided. */
function pageOf(keys: readonly string[], depth = 0): Chunk[] {
  const slots = keys.map((key): Chunk => {
    const versions = [UNCOUNTED, 'original', 'bold', ...(below(2) === 0 ? ['short'] : [])]
    const inner = depth < 2 && below(3) === 0 ? pageOf([keys[below(keys.length)] ?? key], depth + 1) : []
    return { key, alternatives: new Map(versions.map((version) => [version, [words(below(9)), ...inner]])) }
  })
  return [words(40), ...slots.flatMap((slot) => [slot, words(below(60))])]
}

/** As it is written down what a slot is: the version if that counts and is there, else what those get who are not counted. */
function spelled(chunks: readonly Chunk[], decisions: readonly Decision[]): string {
  return chunks
    .map((chunk) => {
      if (Buffer.isBuffer(chunk)) return chunk.toString()
      const decision = decisions.find(({ key }) => key === chunk.key)
      const chosen = decision?.counted === true ? chunk.alternatives.get(decision.version) : undefined
      return spelled(chosen ?? chunk.alternatives.get(UNCOUNTED) ?? [], decisions)
    })
    .join('')
}

const decided = (keys: readonly string[]): Decision[] =>
  keys.map((key) => ({
    key,
    version: (['original', 'bold', 'short', 'gone'][below(4)] ?? '') as VersionId,
    counted: below(5) > 0,
    reason: { code: 'kept' },
  }))

// Two that few can be, one of which not all are kept, and one that can be more than there are whole numbers.
test.each([0, 2, 6, 40])(
  'a page of %d places is what was decided, as it is and in gzip, however often it is asked for',
  (places) => {
    const keys = Array.from({ length: places }, (_, at) => `t-${at}`)
    const chunks = pageOf(keys)
    const assembly = new Assembly(chunks)
    const asked = Array.from({ length: 60 }, () => decided(keys))
    for (const decisions of [...asked, ...asked]) {
      const expected = spelled(chunks, decisions)
      expect(assembly.whole(decisions).toString()).toBe(expected)
      expect(gunzipSync(assembly.inGzip(decisions)).toString()).toBe(expected)
    }
  },
)

test('what was kept of pages is let go when there is too much of it, and made anew', () => {
  const large: Chunk[] = Array.from({ length: 12 }, (_, at) => ({
    key: `t-${at}`,
    alternatives: new Map(['original', 'bold'].map((version) => [version, [Buffer.alloc(60_000, version[0])]])),
  }))
  const assembly = new Assembly(large)
  const keys = large.map((_, at) => `t-${at}`)
  const first = decided(keys)
  const before = process.memoryUsage().arrayBuffers
  const page = assembly.whole(first).toString()
  for (let view = 0; view < 400; view++) assembly.whole(decided(keys))
  expect(assembly.whole(first).toString()).toBe(page)
  // Four hundred of more than half a megabyte each.
  expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(150 * 1_048_576)
})
