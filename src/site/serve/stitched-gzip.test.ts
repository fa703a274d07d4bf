import { gunzipSync } from 'node:zlib'
import * as fc from 'fast-check'
import { packed } from './slab'
import { StitchedGzip } from './stitched-gzip'

const bytes = fc.uint8Array({ maxLength: 300 }).map((some) => Buffer.from(some))
const stretches = fc.array(
  fc.oneof(
    bytes,
    fc.constantFrom('é', 'a'.repeat(5000), '').map((words) => Buffer.from(words)),
  ),
)

test('any stretches of bytes, in any order and more than once, are one gzip file of all of them', () => {
  const stitched = new StitchedGzip()
  fc.assert(
    fc.property(stretches, (parts) => {
      const all = [...parts, ...parts.toReversed()]
      // It is opened by what holds its checksum and its length against what is in it (RFC 1952).
      expect(gunzipSync(stitched.join(all)).equals(Buffer.concat(all))).toBe(true)
    }),
  )
})

test('a stretch is put into deflate once, and what is joined is small', () => {
  const stitched = new StitchedGzip()
  const part = Buffer.from('the cello in January '.repeat(500))
  const once = stitched.join([part])
  expect(once.length).toBeLessThan(200)
  expect(stitched.join([part]).equals(once)).toBe(true)
  // What was put into deflate stands for the part that it was made of, whatever becomes of that.
  part.fill(0)
  expect(stitched.join([part]).equals(once)).toBe(true)
  // No name and no time, from Unix: the same bytes on every machine.
  expect([...once.subarray(0, 10)]).toEqual([0x1f, 0x8b, 8, 0, 0, 0, 0, 0, 0, 3])
})

test('bytes that are packed stay what they are, however much is packed after them', () => {
  const sizes = [0, 1, 10, 131_071, 131_072, 131_073, 400_000, 90_000, 90_000, 90_000, 131_072, 131_072, 131_072, 131_072]
  const made = sizes.map((size, at) => [Buffer.alloc(size, at), Buffer.from([at, 255])])
  const found = made.map(packed)
  found.forEach((one, at) => expect(one.equals(Buffer.concat(made[at] ?? []))).toBe(true))
  // Small ones lie behind each other in one stretch of memory, and a large one has its own.
  const [small, next, large] = [packed([Buffer.from('a')]), packed([Buffer.from('b')]), packed([Buffer.alloc(200_000)])]
  expect(next.buffer).toBe(small.buffer)
  expect(next.byteOffset).toBe(small.byteOffset + 1)
  expect(large.buffer).not.toBe(small.buffer)
  expect(packed([]).length).toBe(0)
})
