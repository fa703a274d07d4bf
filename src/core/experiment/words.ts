import { count, percent, signed } from '../numbers'
import { ORIGINAL } from '../decide'
import type { VersionId } from '../ids'
import type { Interval } from '../stats'
import type { Names } from './names'
import { leader, readings, type Reading, type Result, type VariantResult } from './reading'

export const readingWords: { readonly [Of in Reading]: string } = {
  notToBeTrusted: 'not to be trusted',
  tooEarly: 'too early',
  better: 'better',
  worse: 'worse',
  noDifference: 'no difference worth having',
}

export function between([lower, upper]: Interval): string {
  return `between ${signed(lower)} and ${signed(upper)}`
}

/**
 * The result in a sentence or two: what to believe, and what to do.
 *
 * @param going whether visitors are still being counted: what no longer is cannot be waited for
 */
export function sentence(result: Result, goal: string, names: Names, going: boolean): string {
  const [first] = result.variants
  if (first === undefined) return 'There is no variant to compare with the original.'
  if (!result.split.trusted) {
    return 'These counts are not to be trusted: visitors are split otherwise than planned. Look for a variant that fails to load, a redirect that loses visitors, or one kind of visitor that is counted in one version only.'
  }
  const lead = leader(result) ?? first
  const others = result.variants.filter((variant) => variant !== lead)
  const rest = readings
    .map((reading) => [reading, others.filter((variant) => variant.reading === reading)] as const)
    .filter(([, variants]) => variants.length > 0)
    .map(([reading, variants]) => besideSentence(variants, reading, names, going))
  return [variantSentence(lead, result, goal, names, going), ...rest].join(' ')
}

/** What to say of a guard in the sentence of the result: only where it is broken. */
export function guardSentence(goal: string, margin: number, broken: readonly VersionId[], names: Names): string {
  if (broken.length === 0) return ''
  const who = broken.map((version) => `‘${names.version(version)}’`).join(' and ')
  return `But with ${who} “${goal}” got worse by more than ${percent(margin)}: do not take ${broken.length === 1 ? 'it' : 'them'} over for this alone.`
}

/** “‘A’ is worse.”, “‘A’ and ‘B’ are worse.”, and of many no more than their number. */
function besideSentence(variants: readonly VariantResult[], reading: Reading, names: Names, going: boolean): string {
  const [first, second, ...more] = variants.map(({ version }) => `‘${names.version(version)}’`)
  const words = reading === 'tooEarly' && !going ? 'cannot be judged' : besideWords[reading]
  if (second === undefined) return `${first ?? ''} ${words}.`
  const who = more.length === 0 ? `${first ?? ''} and ${second}` : `The other ${variants.length}`
  return `${who} ${words.replace(/^is /, 'are ').replace(/^makes /, 'make ')}.`
}

/** After the sentence about the first variant: how another one stands beside it. */
const besideWords: { readonly [Of in Reading]: string } = {
  notToBeTrusted: 'cannot be judged',
  tooEarly: 'is still too early to read',
  better: 'is better too',
  worse: 'is worse',
  noDifference: 'makes no difference worth having',
}

export function variantSentence(variant: VariantResult, result: Result, goal: string, names: Names, going: boolean): string {
  const name = `‘${names.version(variant.version)}’`
  const rateOf = (version: VersionId) => result.rates.find((rate) => rate.version === version)?.rate ?? null
  const [rate, original] = [rateOf(variant.version), rateOf(ORIGINAL)]
  const rates = rate === null || original === null ? '' : `${percent(rate)} reach “${goal}” instead of ${percent(original)}`
  const truth = variant.liftInterval === null ? '' : `; the true difference is ${between(variant.liftInterval)}`
  switch (variant.reading) {
    case 'better':
      return `${name} is better: ${rates}${truth.replace('difference', 'gain')}.${going ? ' Safe to stop.' : ''}`
    case 'worse':
      return `${name} is worse: ${rates}${truth}. Keep the original.`
    case 'noDifference':
      return `${name} makes no difference worth having: ${rates}${truth}. Keep whichever you like better.`
    case 'notToBeTrusted':
      return `${name} cannot be judged: the split is off.`
    case 'tooEarly':
      return going
        ? `It is still too early to judge ${name}${rates === '' ? '' : `: so far ${rates}`}${truth}. ${waitWords(variant)}`
        : `It ended too early to judge ${name}${rates === '' ? '' : `: ${rates}`}${truth}.`
    default:
      return variant.reading satisfies never
  }
}

function waitWords({ wait, daysMore }: VariantResult): string {
  const more =
    daysMore === null || daysMore === 0
      ? ''
      : ` At today’s traffic that is about ${count(daysMore)} more ${daysMore === 1 ? 'day' : 'days'} at the most.`
  switch (wait) {
    case 'fewExposed':
      return 'Wait for at least 100 visitors in each version.'
    case 'fewConverters':
      return 'Wait until at least 10 visitors of each version have reached the goal.'
    case 'lessThanADay':
      return 'Wait for a whole day at least.'
    default:
      return `Let it run.${more}`
  }
}
