import { devices, ORIGINAL, type Device } from '../decide'
import type { VersionId } from '../ids'
import { percent, roughPercent } from '../numbers'
import type { Names } from './names'

/** Something about the counting itself that has to be looked at, with where to look, likeliest first. */
export interface Alarm {
  readonly kind: 'split' | 'exposure' | 'silence' | 'lost'
  readonly words: string
  readonly look: readonly string[]
}

/** What one day counted, of all versions together. */
export interface CountedDay {
  readonly day: string
  readonly assigned: number
  readonly exposed: number
}

export interface TrustFacts {
  /** The original first. */
  readonly arms: readonly { readonly version: VersionId; readonly assigned: number; readonly exposed: number }[]
  /** Chances of such a split by the plan, of those who were given a version and of those who saw it. */
  readonly split: { readonly assigned: number; readonly exposed: number; readonly trusted: boolean }
  /** Whole days on which the round was running, oldest first, those without a count among them. */
  readonly days: readonly CountedDay[]
  /** Variants that are slower than the original. */
  readonly slower: readonly VersionId[]
  /** Those who saw each version, by what they came with. */
  readonly byDevice: readonly { readonly device: string; readonly version: VersionId; readonly exposed: number }[]
}

/** As the split is believed not to be chance. */
const BELIEVED = 0.001
/** A day with less than this part of a usual one has counted nothing worth speaking of. */
const SILENT = 0.05
/** Reports of a day were lost where fewer than half as many as usual told that they saw what they were given. */
const LOST = 0.5
/** On fewer visitors a day nothing can be told of it, and of fewer days nothing is usual. */
const [ENOUGH_A_DAY, ENOUGH_DAYS] = [20, 4]

/**
 * What is wrong with how visitors were counted: a split that is not as planned, versions that are seen by rules that differ,
 * days on which nothing was counted, and days whose browsers could not report. The last two hit every version alike, so they
 * take no reading back; they make it later, and worth per visit too small.
 */
export function alarmsOf(facts: TrustFacts, names: Names): Alarm[] {
  return [...splitAlarm(facts, names), ...outages(facts.days)]
}

function splitAlarm({ arms, split, slower, byDevice }: TrustFacts, names: Names): Alarm[] {
  if (split.trusted) return []
  const where = deviceMostOff(arms, byDevice)
  const on = where === null ? [] : [`It is most off with visitors on a ${where}: open every version on one.`]
  if (split.assigned <= BELIEVED)
    return [
      {
        kind: 'split',
        words:
          'Versions were not given to visitors as planned: something adds or loses visitors of one version before they see it.',
        look: [
          ...on,
          'A redirect, outside of this site, that one version leads to or that loses the visitor’s cookie.',
          'Robots that come again and again to the address of one version.',
          'A cache in front of the site that hands one visitor’s page to others: pages of a test say that they may not be kept.',
        ],
      },
    ]
  const seenBy = arms.map(({ version, assigned, exposed }) => ({ version, share: assigned === 0 ? 0 : exposed / assigned }))
  const least = [...seenBy].sort((one, other) => one.share - other.share)[0]
  const most = [...seenBy].sort((one, other) => other.share - one.share)[0]
  if (least === undefined || most === undefined) return []
  const called = (version: VersionId) => (version === ORIGINAL ? 'the original' : `‘${names.version(version)}’`)
  return [
    {
      kind: 'exposure',
      words: `Versions were given as planned, but are not seen alike: ${percent(least.share)} of those who were given ${called(least.version)} saw it, and ${percent(most.share)} with ${called(most.version)}.`,
      look: [
        ...(slower.includes(least.version)
          ? [`${capital(called(least.version))} is slower, so that some leave before it is there: make it lighter.`]
          : []),
        ...on,
        `The part stands lower on the page, or is hidden at some width, in ${called(least.version)}.`,
        `${capital(called(least.version))} does not load for some: open it on the live site and look for what is missing.`,
      ],
    },
  ]
}

const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1)

/** On which device the versions are seen farthest from how they are seen on the whole; `null` where on all alike. */
function deviceMostOff(arms: TrustFacts['arms'], byDevice: TrustFacts['byDevice']): Device | null {
  const given = arms.reduce((sum, { assigned }) => sum + assigned, 0)
  const off = devices.map((device) => {
    const own = byDevice.filter((one) => one.device === device)
    const n = own.reduce((sum, { exposed }) => sum + exposed, 0)
    const farthest = arms.map(({ version, assigned }) => {
      const share = given === 0 ? 0 : assigned / given
      const seen = own.find((one) => one.version === version)?.exposed ?? 0
      const spread = Math.sqrt(n * share * (1 - share))
      return spread === 0 ? 0 : Math.abs(seen - n * share) / spread
    })
    return { device, by: Math.max(0, ...farthest) }
  })
  const [first, second] = off.sort((one, other) => other.by - one.by)
  // Only where it stands out: where all are off, no device is to blame.
  return first !== undefined && first.by > 4 && first.by > 2 * (second?.by ?? 0) ? first.device : null
}

function outages(days: readonly CountedDay[]): Alarm[] {
  if (days.length < ENOUGH_DAYS) return []
  const usual = median(days.map(({ assigned }) => assigned))
  if (usual < ENOUGH_A_DAY) return []
  const silent = days.filter(({ assigned }) => assigned < SILENT * usual)
  const told = days.filter(({ assigned }) => assigned >= ENOUGH_A_DAY)
  const usuallySeen = median(told.map(({ assigned, exposed }) => exposed / assigned))
  const lost = told.filter(({ assigned, exposed }) => isFewer(exposed, assigned, LOST * usuallySeen))
  return [
    ...(silent.length === 0
      ? []
      : [
          {
            kind: 'silence' as const,
            words: `${dayList(silent)} next to nothing was counted, where about ${Math.round(usual)} visitors a day are usual. All versions lack those visitors alike, so the comparison stands; it takes longer.`,
            look: ['Whether the site could be reached then.', 'Whether its processes could write: the settings show what waits.'],
          },
        ]),
    ...(lost.length === 0
      ? []
      : [
          {
            kind: 'lost' as const,
            words: `${dayList(lost)} far fewer than usual told that they saw what they were given (${lost.map(({ assigned, exposed }) => roughPercent(exposed / assigned)).join(', ')}, usually ${roughPercent(usuallySeen)}): reports from browsers were lost.`,
            look: [
              'Whether something stood in the way of the address /collect: a firewall, a proxy, a rule against advertising.',
              'Whether the page’s own script was blocked, by a policy of the server in front or by an error in another script.',
            ],
          },
        ]),
  ]
}

/** Below a share by more than chance: three standard errors and more. */
function isFewer(count: number, of: number, share: number): boolean {
  return count + 3 * Math.sqrt(of * share * (1 - share)) < of * share
}

function median(values: readonly number[]): number {
  const sorted = [...values].sort((one, other) => one - other)
  const at = (sorted.length - 1) / 2
  return ((sorted[Math.floor(at)] ?? 0) + (sorted[Math.ceil(at)] ?? 0)) / 2
}

const MOST_DAYS = 3
function dayList(days: readonly CountedDay[]): string {
  const named = days.slice(0, MOST_DAYS).map(({ day }) => day)
  const more = days.length - named.length
  return `On ${named.join(', ')}${more > 0 ? ` and ${more} more ${more === 1 ? 'day' : 'days'}` : ''}`
}
