/** A stretch of a page: fixed bytes, or a place whose bytes depend on what is decided. */
export type Chunk = Buffer | Slot

export interface Slot {
  /** The test or personalization that decides here. */
  readonly key: string
  /** By version; the original under its own name, and under `uncounted` for those who are not counted. */
  readonly alternatives: ReadonlyMap<string, readonly Chunk[]>
}

export const UNCOUNTED = 'uncounted'

/** For those whom the rule at this place fits and who are held out of it. */
export const heldOutOf = (rule: number): string => heldOut[rule] ?? `held-${rule}`
const heldOut = Array.from({ length: 50 }, (_, rule) => `held-${rule}`)

/** Neighbouring fixed bytes as one buffer; a slot whose alternatives are all the same fixed bytes is no slot. */
export function joined(chunks: readonly Chunk[]): Chunk[] {
  const result: Chunk[] = []
  for (const chunk of chunks.flatMap(plain)) {
    const last = result.at(-1)
    if (Buffer.isBuffer(chunk) && Buffer.isBuffer(last)) result[result.length - 1] = Buffer.concat([last, chunk])
    else result.push(chunk)
  }
  return result
}

function plain(chunk: Chunk): readonly Chunk[] {
  if (Buffer.isBuffer(chunk)) return chunk.length === 0 ? [] : [chunk]
  const [first, ...others] = [...chunk.alternatives.values()]
  const same = first !== undefined && others.every((other) => isSame(first, other))
  return same ? first : [chunk]
}

function isSame(one: readonly Chunk[], other: readonly Chunk[]): boolean {
  return (
    one === other ||
    (one.length === other.length &&
      one.every((chunk, index) => {
        const beside = other[index]
        return Buffer.isBuffer(chunk) && Buffer.isBuffer(beside) && chunk.equals(beside)
      }))
  )
}

/** All fixed bytes, whatever is decided. */
export function everyBuffer(chunks: readonly Chunk[]): Buffer[] {
  return chunks.flatMap((chunk) =>
    Buffer.isBuffer(chunk) ? [chunk] : [...new Set(chunk.alternatives.values())].flatMap((inner) => everyBuffer(inner)),
  )
}
