import { betaCdf, betaQuantile } from './distributions'
import type { Outcome } from './outcome'

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
  const panels = panelsOver(posteriors)
  const nodes = panels.flatMap((panel) => panel.nodes)
  const densities = posteriors.map((posterior) => densityAt(posterior, nodes))
  const below = densities.map((density) => cumulated(density, panels))
  const chances = posteriors.map(() => 0)
  let bestMean = 0
  nodes.forEach(({ theta, weight }, at) => {
    densities.forEach((density, one) => {
      let product = (density[at] ?? 0) * weight
      below.forEach((of, other) => {
        if (other !== one) product *= of[at] ?? 0
      })
      chances[one] = (chances[one] ?? 0) + product
      bestMean += product * theta
    })
  })
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
    const nodes = panelsOver([over], bend < 1 ? [Math.log(bend / (1 - bend))] : []).flatMap((panel) => panel.nodes)
    const density = densityAt(over, nodes)
    return nodes.reduce((sum, { theta, weight }, at) => sum + weight * (density[at] ?? 0) * of(theta), 0)
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

/** Where a rising function is 0: a bracket is widened, then halved. */
function rootOf(of: (x: number) => number, [middle, width]: readonly [number, number]): number {
  let [low, high] = [middle - 3 * width, middle + 3 * width]
  for (let step = width; of(low) > 0 && step < 1e4; step *= 2) low -= 3 * step
  for (let step = width; of(high) < 0 && step < 1e4; step *= 2) high += 3 * step
  for (let step = 0; step < 60 && high - low > 1e-11 * Math.max(1, Math.abs(low)); step++) {
    const half = (low + high) / 2
    if (of(half) < 0) low = half
    else high = half
  }
  return (low + high) / 2
}

function posteriorOf({ n, conversions }: Outcome, { alpha, beta }: Prior): Posterior {
  return { alpha: alpha + conversions, beta: beta + n - conversions }
}

/** On the logit scale, about. */
const widthOf = ({ alpha, beta }: Posterior) => Math.sqrt(1 / alpha + 1 / beta)

/** A place of a rate between 0 and 1, reached over the logit scale, which keeps parameters below 1 harmless. */
interface Node {
  readonly theta: number
  /** ln θ and ln(1 − θ). */
  readonly logs: readonly [number, number]
  readonly weight: number
}

/** Densities on the logit scale, made to add up to one over the nodes. */
function densityAt({ alpha, beta }: Posterior, nodes: readonly Node[]): number[] {
  const logs = nodes.map(({ logs: [below, above] }) => alpha * below + beta * above)
  const largest = Math.max(...logs)
  const values = logs.map((log) => Math.exp(log - largest))
  const whole = values.reduce((sum, value, at) => sum + value * (nodes[at]?.weight ?? 0), 0)
  return values.map((value) => value / whole)
}

/**
 * Distances from the middle of a posterior, in its widths, at which panels begin: close together where it is steep, and
 * ever wider where it dies away, which takes long where few converted.
 */
const STEPS = [0, 0.5, 1, 1.5, 2, 2.5, 3, 4, 5, 6, 8, ...Array.from({ length: 14 }, (_, step) => 10 * 1.3 ** step)]
/** Gauss and Legendre’s rule of ten on [−1, 1]: where, and how much each counts. */
const ABSCISSAS = [0.1488743389816312, 0.4333953941292472, 0.6794095682990244, 0.8650633666889845, 0.9739065285171717]
const WEIGHTS = [0.2955242247147529, 0.2692667193099963, 0.219086362515982, 0.1494513491505806, 0.0666713443086881]
const RULE = [
  ...ABSCISSAS.map((x, at) => ({ x: -x, weight: WEIGHTS[at] ?? 0 })).reverse(),
  ...ABSCISSAS.map((x, at) => ({ x, weight: WEIGHTS[at] ?? 0 })),
]

/** Legendre’s polynomials up to the tenth at x. */
function legendre(x: number): number[] {
  const values = [1, x]
  for (let k = 1; k < RULE.length; k++) values.push(((2 * k + 1) * x * (values[k] ?? 0) - k * (values[k - 1] ?? 0)) / (k + 1))
  return values
}

/** What each node adds to the integral from −1 up to each node: that of the polynomial through all of them. */
const UP_TO = RULE.map(({ x: end }) => {
  const ends = legendre(end)
  const integrals = RULE.map((_, k) => (k === 0 ? end + 1 : ((ends[k + 1] ?? 0) - (ends[k - 1] ?? 0)) / (2 * k + 1)))
  return RULE.map(({ x, weight }) => {
    const here = legendre(x)
    return integrals.reduce((sum, integral, k) => sum + ((2 * k + 1) / 2) * weight * (here[k] ?? 0) * integral, 0)
  })
})

interface Panel {
  readonly half: number
  readonly nodes: readonly Node[]
}

/** Over all that these posteriors reach, with a border wherever one of them is steep. */
function panelsOver(posteriors: readonly Posterior[], also: readonly number[] = []): Panel[] {
  const reaches = posteriors.map(reachOf)
  const [low, high] = [Math.min(...reaches.map(([from]) => from)), Math.max(...reaches.map(([, to]) => to))]
  const inside = [...posteriors.flatMap(bordersOf), ...also].filter((u) => u > low && u < high)
  const borders = [low, ...inside.sort((one, other) => one - other), high]
  return borders.slice(1).flatMap((to, index) => {
    const from = borders[index] ?? to
    const [middle, half] = [(from + to) / 2, (to - from) / 2]
    return half < 1e-13 ? [] : [{ half, nodes: RULE.map(({ x, weight }) => nodeAt(middle + half * x, half * weight)) }]
  })
}

/** The share of a density that lies below each node. */
function cumulated(density: readonly number[], panels: readonly Panel[]): number[] {
  let before = 0
  return panels.flatMap(({ half, nodes }, panel) => {
    const own = nodes.map((_, at) => density[panel * RULE.length + at] ?? 0)
    const here = UP_TO.map((parts) => before + half * parts.reduce((sum, part, at) => sum + part * (own[at] ?? 0), 0))
    before += nodes.reduce((sum, { weight }, at) => sum + weight * (own[at] ?? 0), 0)
    return here.map((share) => Math.min(1, Math.max(0, share)))
  })
}

function nodeAt(u: number, weight: number): Node {
  const [below, above] = [-softplus(-u), -softplus(u)]
  return { theta: Math.exp(below), logs: [below, above], weight }
}

const softplus = (x: number) => (x > 0 ? x + Math.log1p(Math.exp(-x)) : Math.log1p(Math.exp(x)))

function bordersOf({ alpha, beta }: Posterior): number[] {
  const [middle, width] = [Math.log(alpha / beta), widthOf({ alpha, beta })]
  return STEPS.flatMap((step) => (step === 0 ? [middle] : [middle - step * width, middle + step * width]))
}

/** Where on the logit scale a posterior has died away. */
function reachOf({ alpha, beta }: Posterior): readonly [number, number] {
  const middle = Math.log(alpha / beta)
  const height = (u: number) => -alpha * softplus(-u) - beta * softplus(u)
  const top = height(middle)
  const edge = (side: 1 | -1) => {
    let step = widthOf({ alpha, beta })
    while (top - height(middle + side * step) < 80) step *= 1.5
    return middle + side * step
  }
  return [edge(-1), edge(1)]
}
