import { ORIGINAL } from '../decide'
import type { RoundId, VersionId } from '../ids'
import { adjusted, interaction, type Interval, type Outcome } from '../stats'
import { pointsBetween } from '../numbers'
import type { Names } from './names'
import { ENOUGH_CONVERTERS, LEVEL } from './reading'

/** Those who saw a version by the version of another round that they had then. */
export interface BesideCounts {
  readonly version: VersionId
  readonly other: RoundId
  readonly shown: VersionId
  readonly exposed: number
  readonly converters: number
}

/** Whether a variant works otherwise for those to whom another test shows one of its variants. */
export interface Beside {
  readonly other: RoundId
  /** Who had a version of both. */
  readonly visitors: number
  /** Whether enough reached the goal to say anything. */
  readonly comparable: boolean
  /** Pairs that do more, or less, together than each by itself, beyond chance. */
  readonly together: readonly {
    readonly version: VersionId
    readonly shown: VersionId
    /** The difference that the two make beyond what each makes, in rates; by one look. */
    readonly effect: number
    readonly interval: Interval
  }[]
}

/**
 * Two tests that the same visitors are in are drawn independently, so that neither disturbs the other’s comparison. Whether
 * one changes what the other does is asked of each pair of variants (the difference of the two effects, by the normal
 * curve), and all that is asked shares its chance of being wrong (Benjamini and Hochberg).
 */
export function besideOthers(counts: readonly BesideCounts[]): Beside[] {
  const asked = [...new Set(counts.map(({ other }) => other))].map((other) => {
    const own = counts.filter((one) => one.other === other)
    return { other, visitors: own.reduce((sum, { exposed }) => sum + exposed, 0), questions: questionsOf(own) }
  })
  const raised = adjusted(asked.flatMap(({ questions }) => questions.map(({ pValue }) => pValue)))
  let at = 0
  return asked
    .map(({ other, visitors, questions }) => ({
      ...{ other, visitors },
      comparable: questions.length > 0,
      together: questions.flatMap(({ version, shown, effect, interval }) =>
        (raised[at++] ?? 1) < 1 - LEVEL ? [{ version, shown, effect, interval }] : [],
      ),
    }))
    .sort((one, another) => another.visitors - one.visitors || (one.other < another.other ? -1 : 1))
}

function questionsOf(counts: readonly BesideCounts[]) {
  const variants = (of: 'version' | 'shown') => [...new Set(counts.map((one) => one[of]))].filter((id) => id !== ORIGINAL)
  const cell = (version: VersionId, shown: VersionId): Outcome =>
    counts
      .filter((one) => one.version === version && one.shown === shown)
      .reduce((sum, { exposed, converters }) => ({ n: sum.n + exposed, conversions: sum.conversions + converters }), {
        n: 0,
        conversions: 0,
      })
  return variants('version').flatMap((version) =>
    variants('shown').flatMap((shown) => {
      const cells = {
        a0b0: cell(ORIGINAL, ORIGINAL),
        a0b1: cell(ORIGINAL, shown),
        a1b0: cell(version, ORIGINAL),
        a1b1: cell(version, shown),
      }
      if (Object.values(cells).some(({ conversions }) => conversions < ENOUGH_CONVERTERS)) return []
      const { interaction: effect, interval, pValue } = interaction(cells, LEVEL)
      return interval === null || pValue === null ? [] : [{ version, shown, effect, interval, pValue }]
    }),
  )
}

/** What a test that runs beside this one does to it, in a sentence. */
export function besideWords({ comparable, together }: Beside, name: string, own: Names, other: Names): string {
  if (!comparable) return `“${name}”: too few reached the goal to say whether the two tests change each other.`
  if (together.length === 0) return `“${name}”: nothing says that the two tests change each other.`
  const pairs = together.map(
    ({ version, shown, effect, interval }) =>
      `‘${own.version(version)}’ with its ‘${other.version(shown)}’ brings ${effect > 0 ? 'more' : 'less'} than the two by themselves: ${pointsBetween(interval)}`,
  )
  return `“${name}” may change what this test shows. ${pairs.join('; ')}. Look at the two together before you keep both.`
}
