import type { Output } from '@/contract/contract'
import type { Device } from '@/core/decide'

export type PressedSpot = Output<'result.presses'>['spots'][number]

/** In pixels of the page. */
export interface Box {
  readonly left: number
  readonly top: number
  readonly width: number
  readonly height: number
}

interface Mark {
  readonly x: number
  readonly y: number
  readonly radius: number
}

const [LEAST, MOST] = [5, 22]

/** The middle of a tenth of a component, as shares of its width and height. */
export function middleOf({ x, y }: Pick<PressedSpot, 'x' | 'y'>): readonly [number, number] {
  return [(x + 0.5) / 10, (y + 0.5) / 10]
}

/**
 * Where presses are drawn: each by the place within its component, as large as there are presses. What has no box on the
 * page is not shown there.
 */
export function placed(spots: readonly PressedSpot[], device: Device, boxOf: (node: string) => Box | null): Mark[] {
  const own = spots.filter((spot) => spot.device === device)
  const most = Math.max(1, ...own.map(({ times }) => times))
  return own.flatMap(({ node, x, y, times }): Mark[] => {
    const box = boxOf(node)
    if (box === null || box.width === 0 || box.height === 0) return []
    const [across, down] = middleOf({ x, y })
    return [
      {
        x: box.left + across * box.width,
        y: box.top + down * box.height,
        radius: Math.max(LEAST, MOST * Math.sqrt(times / most)),
      },
    ]
  })
}

/** Presses by component, most first, each with its box. */
export function pressedParts(
  spots: readonly PressedSpot[],
  device: Device,
  boxOf: (node: string) => Box | null,
): { readonly node: string; readonly times: number; readonly box: Box }[] {
  const times = new Map<string, number>()
  for (const spot of spots) if (spot.device === device) times.set(spot.node, (times.get(spot.node) ?? 0) + spot.times)
  return [...times]
    .flatMap(([node, all]) => {
      const box = boxOf(node)
      return box === null ? [] : [{ node, times: all, box }]
    })
    .sort((one, other) => other.times - one.times)
}
