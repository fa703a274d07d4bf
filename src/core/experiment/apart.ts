import { WHOLE } from '../decide'

/** A stretch of a group's buckets, the second not in it. */
export type Lots = readonly (readonly [from: number, to: number])[]

/**
 * The part of a group's visitors that a test takes: what it has it keeps, as far as that goes, and more is taken from what
 * no other test of the group has, the lowest first; so nobody is in two of them, and raising a share moves nobody who is in.
 *
 * @param share basis points
 * @param own what the test has had until now
 * @param others what the other tests of the group have
 * @returns `null` where so much is not free
 */
export function takeLots(share: number, own: Lots, others: Lots): Lots | null {
  const kept = cut(without(own, others), share)
  const more = cut(without(without([[0, WHOLE]], others), kept), share - sizeOf(kept))
  return sizeOf(kept) + sizeOf(more) < share ? null : joined([...kept, ...more])
}

export function sizeOf(lots: Lots): number {
  return lots.reduce((sum, [from, to]) => sum + to - from, 0)
}

/** How much of a group no test has. */
export function freeOf(others: Lots): number {
  return sizeOf(without([[0, WHOLE]], others))
}

function without(lots: Lots, taken: Lots): Lots {
  return taken.reduce<Lots>(
    (rest, [from, to]) =>
      rest.flatMap(([one, other]): Lots => [
        ...(one < from ? [[one, Math.min(other, from)] as const] : []),
        ...(other > to ? [[Math.max(one, to), other] as const] : []),
      ]),
    lots,
  )
}

/** The first of them, as many as are wanted. */
function cut(lots: Lots, wanted: number): Lots {
  let left = Math.max(0, wanted)
  return [...lots]
    .sort(([one], [other]) => one - other)
    .flatMap(([from, to]): Lots => {
      const size = Math.min(left, to - from)
      left -= size
      return size === 0 ? [] : [[from, from + size]]
    })
}

function joined(lots: Lots): Lots {
  const found: [number, number][] = []
  for (const [from, to] of [...lots].sort(([one], [other]) => one - other)) {
    const last = found.at(-1)
    if (last?.[1] === from) last[1] = to
    else found.push([from, to])
  }
  return found
}
