import { xoroshiro128plus, type RandomGenerator } from 'pure-rand'
import type { Device } from '../decide'
import { mixed, usualMix, type Mix, type Mixed, type Origin, type Who } from './mix'

/** Someone who will come: when, on what, and the lots that decide what they do. */
export interface SimulatedVisitor {
  readonly id: string
  readonly arrivesAt: Date
  readonly device: Device
  /** Converts if below the true rate of what they are shown: uniform on [0, 1). */
  readonly luck: number
  /** From the first sight of the part to the conversion, in milliseconds. */
  readonly ponders: number
  readonly origin: Origin
  /** The region where they live; `null` where visitors usually do. */
  readonly home: string | null
  readonly who: Who
  /** Had been here before, or comes back on another day. */
  readonly returns: boolean
  /** To being counted, where they are asked. */
  readonly agrees: boolean
}

export interface Crowd {
  readonly seed: number
  readonly visitors: number
  readonly days: number
  readonly startsAt: Date
  /** The usual one where nothing is said, and then all come directly. */
  readonly mix?: Mix
}

/** Relative traffic from Monday to Sunday, and by hour of the day: an evening site with quieter weekends. */
const WEEKDAYS = [1.05, 1.1, 1.1, 1.05, 0.95, 0.8, 0.95]
const HOURS = [
  1, 0.5, 0.3, 0.2, 0.2, 0.5, 1.2, 2.4, 3.2, 3.6, 3.8, 3.9, 4.2, 3.8, 3.6, 3.7, 4, 4.4, 5, 5.6, 5.8, 5.2, 3.8, 2.2,
].map((weight, hour) => [hour, weight] as const)
/** Traffic on a day of the weekend against one of the others, by the week above. */
const WEEKENDS = (0.8 + 0.95) / 2 / 1.05
const DAY = 86_400_000
const HOUR = DAY / 24

/**
 * Visitors in the order in which they arrive, spread over the days by weekday and hour. The same people for the same
 * seed, on whatever day they begin to come: when somebody comes, who it is, and what the mix makes of them, are drawn from
 * three rows of lots.
 */
export function* visitors({ seed, visitors: count, days, startsAt, mix }: Crowd): Generator<SimulatedVisitor> {
  const lots = lotsOf(seed)
  const times = lotsOf(~seed)
  const mixing = lotsOf(seed ^ 0x5bd1)
  const devices = devicesOf((mix ?? usualMix).devices)
  const shaped = Array.from({ length: days }, (_, day) =>
    weekdayWeight((new Date(startsAt.getTime() + day * DAY).getUTCDay() + 6) % 7, mix),
  )
  // Where nobody comes at weekends and there are no other days, they come all the same.
  const weights = shaped.some((weight) => weight > 0) ? shaped : shaped.map(() => 1)
  const whole = weights.reduce((sum, weight) => sum + weight, 0)
  let sent = 0
  let reached = 0
  for (const [day, weight] of weights.entries()) {
    reached += weight
    const until = day === days - 1 ? count : Math.round((count * reached) / whole)
    const arrivals = Array.from({ length: until - sent }, () => timeOfDay(times)).sort((a, b) => a - b)
    for (const time of arrivals) {
      const arrivesAt = new Date(startsAt.getTime() + day * DAY + time)
      yield Object.assign(visitor(lots, arrivesAt, devices), mix === undefined ? unmixed : mixed(mix, mixing))
    }
    sent = until
  }
}

const unmixed: Mixed = { origin: 'direct', home: null, who: 'visitor', returns: false, agrees: true }

/** Relative traffic of a day, from Monday as none. Before the weekdays are weighted anew their shape is kept. */
export function weekdayWeight(day: number, mix?: Pick<Mix, 'weekends'>): number {
  const usual = WEEKDAYS[day] ?? 1
  return day < 5 || mix === undefined ? usual : (usual * mix.weekends) / WEEKENDS
}

function visitor(
  lots: () => number,
  arrivesAt: Date,
  devices: ReturnType<typeof devicesOf>,
): Omit<SimulatedVisitor, keyof Mixed> {
  const word = () =>
    Math.floor(lots() * 2 ** 32)
      .toString(16)
      .padStart(8, '0')
  const id = word() + word() + word() + word()
  return {
    id,
    arrivesAt,
    device: pick(devices, lots()),
    luck: lots(),
    ponders: Math.round(20_000 - Math.log(1 - lots()) * 180_000),
  }
}

const devicesOf = ({ phone, tablet }: Mix['devices']): readonly (readonly [Device, number])[] => [
  ['phone', phone],
  ['computer', Math.max(0, 1 - phone - tablet)],
  ['tablet', tablet],
]

function timeOfDay(lots: () => number): number {
  const hour = pick(HOURS, lots())
  return hour * HOUR + lots() * HOUR
}

/** One of these by weight, by a lot in [0, 1). */
export function pick<T>(choices: readonly (readonly [T, number])[], lot: number): T {
  let whole = 0
  for (const choice of choices) whole += choice[1]
  let left = lot * whole
  for (const choice of choices) {
    left -= choice[1]
    if (left < 0) return choice[0]
  }
  const last = choices.at(-1)
  if (last === undefined) throw new RangeError('pick: nothing to choose from')
  return last[0]
}

/** Uniform numbers in [0, 1) with 32 bits, from a seed. xoroshiro128+ (D. Blackman, S. Vigna). */
export function lotsOf(seed: number): () => number {
  const generator: RandomGenerator = xoroshiro128plus(seed)
  return () => (generator.unsafeNext() >>> 0) / 2 ** 32
}
