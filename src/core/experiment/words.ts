import { limitWords, percent, roughCount } from '../numbers'
import { ORIGINAL } from '../decide'
import type { VersionId } from '../ids'
import type { Interval } from '../stats'
import type { Names } from './names'
import { ENOUGH_CONVERTERS, ENOUGH_EXPOSED, leader, readings, type Reading, type Result, type VariantResult } from './reading'

export const readingWords: { readonly [Of in Reading]: string } = {
  notToBeTrusted: 'not to be trusted',
  tooEarly: 'too early',
  better: 'better',
  worse: 'worse',
  noDifference: 'no difference worth having',
}

/** Beyond three times as much a limit says nothing that a reader could use. */
const FARTHEST = 2

/** “between +2% and +41%”, “+2% or more”; empty where neither limit says anything. */
export function between([lower, upper]: Interval): string {
  if (upper <= FARTHEST) return `between ${limitWords(lower)} and ${limitWords(upper)}`
  return lower > 0 ? `${limitWords(lower)} or more` : ''
}

/** What goes with a result into its sentence. */
export interface Telling {
  readonly goal: string
  readonly names: Names
  /** Whether visitors are still being counted: what no longer is cannot be waited for. */
  readonly going: boolean
  /** Only the goal that decides gives advice; what is watched beside it never does. */
  readonly decides?: boolean
  /** How long until the difference worth having would be seen; empty where nobody knows. */
  readonly waiting?: string
  /** A rule goes on while it pays, where a test is for stopping. */
  readonly manner?: Manner
}

export const manners = ['chance', 'rule'] as const
/** How it comes that a visitor is shown a version. */
export type Manner = (typeof manners)[number]

const advice: { readonly [Of in Manner]: { readonly [Reading in 'better' | 'worse' | 'noDifference']: string } } = {
  chance: { better: 'Safe to stop.', worse: 'Keep the original.', noDifference: 'Keep whichever you like better.' },
  rule: {
    better: 'It pays to leave it on.',
    worse: 'Take it off, or change it.',
    noDifference: 'It need not be kept for this.',
  },
}

/** The result in a sentence or two: what to believe, and what to do. */
export function sentence(result: Result, telling: Telling): string {
  const [first] = result.variants
  if (first === undefined) return 'There is no variant to compare with the original.'
  if (!result.split.trusted) {
    return 'These counts are not to be trusted: visitors are split otherwise than planned. Find out why, and run it again.'
  }
  const lead = leader(result) ?? result.variants.find(({ isOff }) => !isOff) ?? first
  const others = result.variants.filter((variant) => variant !== lead)
  const rest = readings
    .map((reading) => [reading, others.filter((variant) => variant.reading === reading)] as const)
    .filter(([, variants]) => variants.length > 0)
    .map(([reading, variants]) => besideSentence(variants, reading, telling))
  return [variantSentence(lead, result, telling), ...rest].join(' ')
}

/** What to say of a guard in the sentence of the result: only where it is broken. */
export function guardSentence(goal: string, margin: number, broken: readonly VersionId[], names: Names): string {
  if (broken.length === 0) return ''
  const who = broken.map((version) => `‘${names.version(version)}’`).join(' and ')
  return `But with ${who} “${goal}” got worse by more than ${percent(margin)}: do not take ${broken.length === 1 ? 'it' : 'them'} over for this alone.`
}

/** The same of how fast the page is painted. */
export function slowSentence(_name: string, margin: number, slow: readonly VersionId[], names: Names): string {
  if (slow.length === 0) return ''
  const who = slow.map((version) => `‘${names.version(version)}’`).join(' and ')
  return `But ${who} ${slow.length === 1 ? 'takes' : 'take'} over ${percent(margin)} longer to be painted for one visitor in four: do not take ${slow.length === 1 ? 'it' : 'them'} over for this alone.`
}

/** “‘A’ is worse.”, “‘A’ and ‘B’ are worse.”, and of many no more than their number. */
function besideSentence(variants: readonly VariantResult[], reading: Reading, { names, going }: Telling): string {
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

const CONTRADICTS =
  'Earlier days of this round say otherwise than later ones: something changed on the way, so look at each part of it by itself.'

export function variantSentence(variant: VariantResult, result: Result, telling: Telling): string {
  const { goal, names, going, decides = true, manner = 'chance' } = telling
  const name = `‘${names.version(variant.version)}’`
  const rateOf = (version: VersionId) => result.rates.find((rate) => rate.version === version)?.rate ?? null
  const [rate, original] = [rateOf(variant.version), rateOf(ORIGINAL)]
  const rates = rate === null || original === null ? '' : `${percent(rate)} reach “${goal}” instead of ${percent(original)}`
  const limits = variant.liftInterval === null ? '' : between(variant.liftInterval)
  const truth = limits === '' ? '' : `; the true difference is ${limits}`
  const after = [
    ...(variant.contradicts ? [CONTRADICTS] : []),
    ...(variant.isOff ? ['It was switched off; this is how it stood then.'] : []),
  ]
  const say = (...sentences: string[]) => [...sentences, ...after].filter(Boolean).join(' ')
  switch (variant.reading) {
    case 'better':
      return say(
        `${name} is better: ${rates}${truth.replace('difference', 'gain')}.`,
        decides && going ? advice[manner].better : '',
      )
    case 'worse':
      return say(`${name} is worse: ${rates}${truth}.`, decides && (going || manner === 'chance') ? advice[manner].worse : '')
    case 'noDifference':
      return say(
        `${name} makes no difference worth having: ${rates}${truth}.`,
        decides && (going || manner === 'chance') ? advice[manner].noDifference : '',
      )
    case 'notToBeTrusted':
      return `${name} cannot be judged: the split is off.`
    case 'tooEarly':
      if (!going) return say(`It ended too early to judge ${name}${rates === '' ? '' : `: ${rates}`}.`)
      return say(`We cannot say yet what ${name} does${rates === '' ? '' : `: so far ${rates}`}.`, waitWords(variant, telling))
    default:
      return variant.reading satisfies never
  }
}

function waitWords({ wait, short }: VariantResult, { waiting = '' }: Telling): string {
  switch (wait) {
    case 'fewExposed':
      return `Nothing can be said before ${ENOUGH_EXPOSED} visitors have seen each version${short === null ? '' : `: about ${roughCount(short)} more are needed`}.`
    case 'fewConverters':
      return `Nothing can be said before ${ENOUGH_CONVERTERS} visitors of one version have reached the goal${short === null ? '' : `: about ${roughCount(short)} more visitors are needed`}.`
    case 'lessThanADay':
      return 'Wait for a whole day at least.'
    default:
      return ['Let it run.', waiting].filter(Boolean).join(' ')
  }
}
