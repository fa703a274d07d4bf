/** New pages are put together in stretches of memory this large, one after another. */
const SLAB = 1_048_576

let slab = Buffer.alloc(0)
let used = 0

/** One after another in memory that is taken for many pages at once: taking it for each would cost more than the copy. */
export function packed(parts: readonly Buffer[]): Buffer {
  let length = 0
  for (const part of parts) length += part.length
  if (length > SLAB / 8) return Buffer.concat(parts, length)
  if (used + length > slab.length) {
    slab = Buffer.allocUnsafeSlow(SLAB)
    used = 0
  }
  const whole = slab.subarray(used, used + length)
  used += length
  let at = 0
  for (const part of parts) {
    whole.set(part, at)
    at += part.length
  }
  return whole
}
