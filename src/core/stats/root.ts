/** A chance is not summed more exactly. */
const NEAR = 1e-13

/**
 * Where a rising function is 0: a bracket is widened, then narrowed along its chord, with the end that stays counted for half
 * (the Illinois method; M. Dowell, P. Jarratt 1971), which takes a fifth of the steps that halving takes.
 *
 * @param around where it may be, and about how far from there
 * @param near so close to 0 the function is near enough
 */
export function rootOf(of: (x: number) => number, [middle, width]: readonly [number, number], near = NEAR): number {
  let [low, high, step] = [middle - width, middle + width, width]
  let [atLow, atHigh] = [of(low), of(high)]
  for (; atLow > 0; atLow = of(low)) low -= step *= 2
  for (; atHigh < 0; atHigh = of(high)) high += step *= 2
  let [side, x] = [0, middle]
  for (let time = 0; time < 100; time++) {
    x = high - (atHigh * (high - low)) / (atHigh - atLow)
    const here = of(x)
    if (Math.abs(here) < near) break
    if (here < 0) {
      if (side < 0) atHigh /= 2
      ;[low, atLow, side] = [x, here, -1]
    } else {
      if (side > 0) atLow /= 2
      ;[high, atHigh, side] = [x, here, 1]
    }
  }
  return x
}
