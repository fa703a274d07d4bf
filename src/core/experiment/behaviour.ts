import type { DocumentId, NodeId, VersionId } from '../ids'
import { ORIGINAL, devices, type Device } from '../decide'
import { speedIn, speeds, type Doing, type Speed } from '../ledger'
import { wilson, normalQuantile, type Interval } from '../stats'

/** A row of what was done by those who were given a version. */
export interface DoingRow {
  readonly version: VersionId
  /** Where they first saw it. */
  readonly document: DocumentId
  readonly doing: Doing
  readonly what: string
  readonly times: number
  readonly visitors: number
}

/** A quantile of what was measured, with what it may be (`quantileOf`). */
export interface Quantile {
  readonly value: number
  readonly interval: Interval
}

export interface SpeedOfVersion {
  readonly measured: number
  readonly median: Quantile | null
  readonly slowest: Quantile | null
}

export interface VersionBehaviour {
  readonly version: VersionId
  /** Visits in which it was first seen, as far as they are known. */
  readonly visits: number
  /** Of those that were one look and no more. */
  readonly bounced: { readonly share: number; readonly interval: Interval } | null
  /** Visitors before whom the part was long enough to be read. */
  readonly read: number
  /** Where they went from there, most visitors first. */
  readonly next: readonly { readonly page: DocumentId; readonly visitors: number }[]
  /** What they pressed there, most visitors first. */
  readonly pressed: readonly {
    readonly document: DocumentId
    readonly node: NodeId
    readonly times: number
    readonly visitors: number
  }[]
  readonly speed: { readonly [Of in Speed]: SpeedOfVersion }
}

export interface Behaviour {
  readonly versions: readonly VersionBehaviour[]
  /** Variants that are slower than the original for their slower visitors, beyond chance and by a tenth at least. */
  readonly slower: readonly { readonly version: VersionId; readonly speed: Speed }[]
}

const LEVEL = 0.95
/** Of fewer measures, what three quarters of them stay below says nothing. */
const ENOUGH = 50
export const SLOWEST = 0.75
const MUCH = 1.1

/**
 * What those did who took part, version by version, without a goal having asked for it: to understand a result by, not to
 * decide. @param rows of one round @param versions the original first
 */
export function behaviourOf(rows: readonly DoingRow[], versions: readonly VersionId[]): Behaviour {
  const found = versions.map((version) => {
    const own = rows.filter((row) => row.version === version)
    const visitors = (doing: Doing) => own.reduce((sum, row) => sum + (row.doing === doing ? row.visitors : 0), 0)
    const [visits, stayed] = [visitors('visit'), visitors('stayed')]
    return {
      version,
      visits,
      bounced:
        visits === 0
          ? null
          : { share: (visits - stayed) / visits, interval: wilson({ n: visits, conversions: visits - stayed }, LEVEL) },
      read: visitors('read'),
      next: most(own, 'next').map(({ what, visitors: went }) => ({ page: what as DocumentId, visitors: went })),
      pressed: most(own, 'pressed').map(({ document, what, times, visitors: who }) => ({
        ...{ document, node: what as NodeId, times, visitors: who },
      })),
      speed: {
        paint: speedFrom(own, 'paint'),
        response: speedFrom(own, 'response'),
        shift: speedFrom(own, 'shift'),
      },
    }
  })
  const original = found.find(({ version }) => version === ORIGINAL)
  return {
    versions: found,
    slower: found.flatMap(({ version, speed }) =>
      version === ORIGINAL || original === undefined
        ? []
        : speeds.flatMap((of) => (isSlower(speed[of].slowest, original.speed[of].slowest) ? [{ version, speed: of }] : [])),
    ),
  }
}

function most(rows: readonly DoingRow[], doing: Doing): DoingRow[] {
  return rows
    .filter((row) => row.doing === doing && row.times > 0)
    .sort((one, other) => other.visitors - one.visitors || other.times - one.times || (one.what < other.what ? -1 : 1))
}

function speedFrom(rows: readonly DoingRow[], speed: Speed): SpeedOfVersion {
  const classes = new Map<number, number>()
  for (const { doing, what, times } of rows)
    if (doing === speed) classes.set(Number(what), (classes.get(Number(what)) ?? 0) + times)
  const inOrder = [...classes].sort(([one], [other]) => one - other).map(([of, times]) => ({ value: speedIn(speed, of), times }))
  const measured = inOrder.reduce((sum, { times }) => sum + times, 0)
  if (measured < ENOUGH) return { measured, median: null, slowest: null }
  return { measured, median: quantileOf(inOrder, 0.5), slowest: quantileOf(inOrder, SLOWEST) }
}

/**
 * A quantile and the interval of it by order statistics, whose ranks are those of a binomial count (W. J. Conover, Practical
 * Nonparametric Statistics, 3.2), normal by approximation.
 *
 * @param counted values in rising order with how often each was measured, at least fifty in all
 * @param reach standard errors to either side
 */
export function quantileOf(
  counted: readonly { readonly value: number; readonly times: number }[],
  share: number,
  reach = normalQuantile((1 + LEVEL) / 2),
): Quantile {
  const n = counted.reduce((sum, { times }) => sum + times, 0)
  const spread = reach * Math.sqrt(n * share * (1 - share))
  const at = (rank: number) => {
    let passed = 0
    for (const { value, times } of counted) if ((passed += times) >= rank) return value
    return counted.at(-1)?.value ?? 0
  }
  const rank = (wanted: number) => Math.min(n, Math.max(1, Math.ceil(wanted)))
  return { value: at(rank(n * share)), interval: [at(rank(n * share - spread)), at(rank(n * share + spread + 1))] }
}

function isSlower(variant: Quantile | null, original: Quantile | null): boolean {
  if (variant === null || original === null) return false
  return variant.interval[0] > original.interval[1] && variant.value >= original.value * MUCH
}

/** Where in a component it was pressed on a device, in tenths of its width and height. */
export interface Spot {
  readonly node: NodeId
  readonly x: number
  readonly y: number
  readonly device: Device
  readonly times: number
}

/** All presses on one page in one version, by the place. */
export function spotsOf(rows: readonly DoingRow[], version: VersionId, document: DocumentId): Spot[] {
  return rows.flatMap((row): Spot[] => {
    if (row.doing !== 'spot' || row.version !== version || row.document !== document || row.times <= 0) return []
    const [node = '', place = '', on = ''] = row.what.split(' ')
    const device = devices.find((one) => one === on)
    if (device === undefined || !/^\d\d$/.test(place)) return []
    return [{ node: node as NodeId, x: Number(place[0]), y: Number(place[1]), device, times: row.times }]
  })
}
