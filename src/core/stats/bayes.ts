import { betaCdf, betaQuantile } from './distributions'
import type { Outcome } from './outcome'
import { rootOf } from './root'

/** Of a rate, before anything was seen: Beta(1, 1) is any rate alike. */
export interface Prior {
  readonly alpha: number
  readonly beta: number
}
export const UNIFORM: Prior = { alpha: 1, beta: 1 }

interface Posterior {
  readonly alpha: number
  readonly beta: number
}

/**
 * The chance of each version to be the best, and what would be lost on average by choosing it: rates have independent Beta
 * posteriors. By quadrature, never by sampling, so that looking again changes nothing.
 *
 * @returns in the order of the outcomes; losses as differences of rates
 */
export function bestOf(outcomes: readonly Outcome[], prior = UNIFORM): { chances: number[]; losses: number[] } {
  const posteriors = outcomes.map((outcome) => posteriorOf(outcome, prior))
  const grid = gridOver(posteriors)
  const nodes = grid.weights.length
  const tracks = posteriors.map((posterior) => {
    const density = densityAt(posterior, grid)
    return { density, below: cumulated(density, grid), others: new Float64Array(nodes) }
  })
  // What all others have below a node: the product of those that come before, times that of those that come after.
  const product = grid.weights.slice()
  for (const { below, others } of tracks)
    for (let at = 0; at < nodes; at++) {
      others[at] = product[at] ?? 0
      product[at] = (product[at] ?? 0) * (below[at] ?? 0)
    }
  product.fill(1)
  const chances: number[] = []
  let bestMean = 0
  for (const { density, below, others } of tracks.reverse()) {
    let sum = 0
    for (let at = 0; at < nodes; at++) {
      const chance = (others[at] ?? 0) * (product[at] ?? 0) * (density[at] ?? 0)
      sum += chance
      bestMean += chance * (grid.thetas[at] ?? 0)
      product[at] = (product[at] ?? 0) * (below[at] ?? 0)
    }
    chances.unshift(sum)
  }
  const whole = chances.reduce((sum, chance) => sum + chance, 0)
  return {
    chances: chances.map((chance) => chance / whole),
    losses: posteriors.map(({ alpha, beta }) => Math.max(0, bestMean / whole - alpha / (alpha + beta))),
  }
}

/**
 * Thompson’s allocation with a floor: a version is shown as often as it is likely to be the best, and never less often
 * than `floor`. W. R. Thompson (1933).
 *
 * @param chances as `bestOf` gives them
 */
export function allocation(chances: readonly number[], floor: number): number[] {
  const least = Math.min(floor, 1 / chances.length)
  const weights = chances.map((chance) => least + (1 - chances.length * least) * chance)
  const whole = weights.reduce((sum, weight) => sum + weight, 0)
  return weights.map((weight) => weight / whole)
}

/** The middle of a rate's posterior, and its equal-tailed limits. */
export function credible(outcome: Outcome, credibility: number, prior = UNIFORM) {
  const { alpha, beta } = posteriorOf(outcome, prior)
  const at = (p: number) => betaQuantile(p, alpha, beta)
  return { alpha, beta, median: at(0.5), lower: at((1 - credibility) / 2), upper: at((1 + credibility) / 2) }
}

/** Of the lift of a version over the baseline: its middle, and its equal-tailed limits. */
export function credibleLift(baseline: Outcome, variant: Outcome, credibility: number, prior = UNIFORM) {
  const [below, above] = [posteriorOf(baseline, prior), posteriorOf(variant, prior)]
  const share = ratioBelow(below, above)
  const at = (p: number) => Math.expm1(rootOf((log) => share(Math.exp(log)) - p, startOf(below, above)))
  return { median: at(0.5), interval: [at((1 - credibility) / 2), at((1 + credibility) / 2)] as const }
}

/** The chance that the one over the other is below a ratio: over the narrower of the two, through the other's distribution. */
function ratioBelow(one: Posterior, other: Posterior): (ratio: number) => number {
  const isOther = widthOf(other) < widthOf(one)
  const over = isOther ? other : one
  /** @param bend where the other's distribution has reached 1: the sum has to have a border there */
  const sumOf = (bend: number, of: (theta: number) => number) => {
    const grid = gridOver([over], bend < 1 ? [Math.log(bend / (1 - bend))] : [])
    const density = densityAt(over, grid)
    return density.reduce(
      (sum, value, at) => (value === 0 ? sum : sum + (grid.weights[at] ?? 0) * value * of(grid.thetas[at] ?? 0)),
      0,
    )
  }
  const shareOf = (theta: number, { alpha, beta }: Posterior) => (theta >= 1 ? 1 : betaCdf(theta, alpha, beta))
  return isOther
    ? (ratio) => 1 - sumOf(ratio, (theta) => shareOf(theta / ratio, one))
    : (ratio) => sumOf(1 / ratio, (theta) => shareOf(ratio * theta, other))
}

/** On a logarithmic scale: where the ratio should be, and about how far it is spread. */
function startOf(one: Posterior, other: Posterior): readonly [number, number] {
  const mean = ({ alpha, beta }: Posterior) => alpha / (alpha + beta)
  return [Math.log(mean(other) / mean(one)), Math.hypot(widthOf(one), widthOf(other))]
}

function posteriorOf({ n, conversions }: Outcome, { alpha, beta }: Prior): Posterior {
  return { alpha: alpha + conversions, beta: beta + n - conversions }
}

/** On the logit scale, about. */
const widthOf = ({ alpha, beta }: Posterior) => Math.sqrt(1 / alpha + 1 / beta)

/**
 * Places of a rate between 0 and 1, reached over the logit scale, which keeps parameters below 1 harmless: as many to each
 * panel as the rule has, one panel after the other.
 */
interface Grid {
  readonly thetas: Float64Array
  /** ln θ and ln(1 − θ). */
  readonly below: Float64Array
  readonly above: Float64Array
  readonly weights: Float64Array
  /** Half the width of each panel. */
  readonly halves: readonly number[]
}

/** So far below its top, as a logarithm, nothing is left of a density. */
const DIED_AWAY = 80

/** Densities on the logit scale, made to add up to one over the nodes. */
function densityAt({ alpha, beta }: Posterior, { below, above, weights }: Grid): Float64Array {
  const values = new Float64Array(below.length)
  let [largest, whole] = [-Infinity, 0]
  for (let at = 0; at < values.length; at++) {
    const log = alpha * (below[at] ?? 0) + beta * (above[at] ?? 0)
    values[at] = log
    if (log > largest) largest = log
  }
  for (let at = 0; at < values.length; at++) {
    const log = (values[at] ?? 0) - largest
    // Products of what is smaller would be numbers that processors are slow with.
    const value = log < -DIED_AWAY ? 0 : Math.exp(log)
    values[at] = value
    whole += value * (weights[at] ?? 0)
  }
  for (let at = 0; at < values.length; at++) values[at] = (values[at] ?? 0) / whole
  return values
}

/**
 * Distances from the middle of a posterior, in its widths, at which panels begin: close together where it is steep, and
 * ever wider where it dies away, which takes long where few converted.
 */
const FIRST_STEP = 0.5
const STEPS = [FIRST_STEP, 1, 1.5, 2, 2.5, 3, 4, 5, 6, 8, ...Array.from({ length: 14 }, (_, step) => 10 * 1.3 ** step)]
/** Gauss and Legendre’s rule of ten on [−1, 1]: where, and how much each counts. */
const RIGHT = [
  [0.1488743389816312, 0.2955242247147529],
  [0.4333953941292472, 0.2692667193099963],
  [0.6794095682990244, 0.219086362515982],
  [0.8650633666889845, 0.1494513491505806],
  [0.9739065285171717, 0.0666713443086881],
] as const
const RULE = [...RIGHT.map(([x, weight]) => ({ x: -x, weight })).reverse(), ...RIGHT.map(([x, weight]) => ({ x, weight }))]
const [ABSCISSAS, WEIGHTS] = [Float64Array.from(RULE, ({ x }) => x), Float64Array.from(RULE, ({ weight }) => weight)]

/** Legendre’s polynomials up to the tenth at x. */
function legendre(x: number): number[] {
  const values = [1, x]
  for (let k = 1; k < RULE.length; k++) values.push(((2 * k + 1) * x * (values[k] ?? 0) - k * (values[k - 1] ?? 0)) / (k + 1))
  return values
}

/** What each node adds to the integral from −1 up to each node: that of the polynomial through all of them; node by node. */
const UP_TO = Float64Array.from(
  RULE.flatMap(({ x: end }) => {
    const ends = legendre(end)
    const integrals = RULE.map((_, k) => (k === 0 ? end + 1 : ((ends[k + 1] ?? 0) - (ends[k - 1] ?? 0)) / (2 * k + 1)))
    return RULE.map(({ x, weight }) => {
      const here = legendre(x)
      return integrals.reduce((sum, integral, k) => sum + ((2 * k + 1) / 2) * weight * (here[k] ?? 0) * integral, 0)
    })
  }),
)

interface Border {
  readonly at: number
  /** To the next border of the same posterior, on the nearer side. */
  readonly step: number
}

/** Over all that these posteriors reach, with a border wherever one of them is steep, and wherever else one is asked for. */
function gridOver(posteriors: readonly Posterior[], also: readonly number[] = []): Grid {
  const reaches = posteriors.map(reachOf)
  const [low, high] = [Math.min(...reaches.map(([from]) => from)), Math.max(...reaches.map(([, to]) => to))]
  const borders = [low, ...also, high].map((at) => ({ at, step: 0 }))
  for (const posterior of posteriors) addBorders(posterior, borders)
  const panels: { readonly middle: number; readonly half: number }[] = []
  let before = low
  for (const at of thinned(borders.filter((border) => border.at >= low && border.at <= high))) {
    const half = (at - before) / 2
    if (half >= 1e-13) panels.push({ middle: before + half, half })
    before = at
  }
  const nodes = panels.length * RULE.length
  const [thetas, weights] = [new Float64Array(nodes), new Float64Array(nodes)]
  const [below, above] = [new Float64Array(nodes), new Float64Array(nodes)]
  panels.forEach(({ middle, half }, panel) => {
    for (let node = 0; node < RULE.length; node++) {
      const at = panel * RULE.length + node
      const u = middle + half * (ABSCISSAS[node] ?? 0)
      const far = Math.exp(-Math.abs(u))
      const log = Math.log1p(far)
      below[at] = u > 0 ? -log : u - log
      above[at] = u > 0 ? -u - log : -log
      thetas[at] = (u > 0 ? 1 : far) / (1 + far)
      weights[at] = half * (WEIGHTS[node] ?? 0)
    }
  })
  return { thetas, below, above, weights, halves: panels.map(({ half }) => half) }
}

/**
 * Borders of several posteriors that lie close together are one, so that many versions that do about as well as each other
 * cost little more than one: no panel becomes longer than one and a half of the steps that any of them asks for.
 */
function thinned(borders: Border[]): number[] {
  borders.sort((one, other) => one.at - other.at)
  const kept: number[] = []
  let last: Border = { at: -Infinity, step: 0 }
  for (const border of borders) {
    if (border.at - last.at < Math.min(border.step, last.step) / 2) continue
    last = border
    kept.push(border.at)
  }
  return kept
}

/** Of a sum, what leaves it as it is: half of the last bit of a number (IEEE 754). */
const NOTHING_ADDED = Number.EPSILON / 4

/** The share of a density that lies below each node. */
function cumulated(density: Float64Array, { halves, weights }: Grid): Float64Array {
  const shares = new Float64Array(density.length)
  const size = RULE.length
  let before = 0
  for (let panel = 0; panel < halves.length; panel++) {
    const [first, half] = [panel * size, halves[panel] ?? 0]
    let inside = 0
    for (let at = first; at < first + size; at++) inside += (weights[at] ?? 0) * (density[at] ?? 0)
    // Most panels lie where another of the posteriors is: what they add is less than a number can show.
    const isNothing = inside <= before * NOTHING_ADDED
    for (let node = 0; node < size; node++) {
      let part = 0
      if (!isNothing) for (let at = 0; at < size; at++) part += (UP_TO[node * size + at] ?? 0) * (density[first + at] ?? 0)
      shares[first + node] = Math.min(1, Math.max(0, before + half * part))
    }
    before += inside
  }
  return shares
}

const softplus = (x: number) => (x > 0 ? x + Math.log1p(Math.exp(-x)) : Math.log1p(Math.exp(x)))

function addBorders({ alpha, beta }: Posterior, borders: Border[]): void {
  const [middle, width] = [Math.log(alpha / beta), widthOf({ alpha, beta })]
  borders.push({ at: middle, step: width * FIRST_STEP })
  let before = 0
  for (const away of STEPS) {
    const step = width * (away - before)
    borders.push({ at: middle - away * width, step }, { at: middle + away * width, step })
    before = away
  }
}

/** Where on the logit scale a posterior has died away. */
function reachOf({ alpha, beta }: Posterior): readonly [number, number] {
  const middle = Math.log(alpha / beta)
  const height = (u: number) => -alpha * softplus(-u) - beta * softplus(u)
  const top = height(middle)
  const edge = (side: 1 | -1) => {
    let step = widthOf({ alpha, beta })
    while (top - height(middle + side * step) < DIED_AWAY) step *= 1.5
    return middle + side * step
  }
  return [edge(-1), edge(1)]
}
