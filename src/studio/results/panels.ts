/** Where a picture within a picture stands, in its units. */
export interface Box {
  readonly left: number
  readonly top: number
  readonly width: number
  readonly height: number
}

const WIDTH = 760
const GAP = 26

/**
 * Where pictures that are compared stand: one as wide as there is room, several beside and under each other, all of the same
 * size, so that the same height means the same everywhere.
 */
export function panelsFor(many: number): { readonly width: number; readonly height: number; readonly boxes: readonly Box[] } {
  const columns = many === 1 ? 1 : many <= 8 ? 2 : 3
  const height = many === 1 ? 250 : 170
  const width = (WIDTH - GAP * (columns - 1)) / columns
  const boxes = Array.from({ length: many }, (_, at) => ({
    left: (at % columns) * (width + GAP),
    top: Math.floor(at / columns) * (height + GAP),
    width,
    height,
  }))
  const rows = Math.ceil(many / columns)
  return { width: WIDTH, height: rows * height + Math.max(0, rows - 1) * GAP, boxes }
}
