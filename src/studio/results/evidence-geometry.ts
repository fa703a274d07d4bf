import { area, line, scaleLinear, scaleUtc } from 'd3'
import { linear } from '../frame/linear'
import { panelsFor, type Box } from './panels'
import { wholeDays } from './whole-days'

export interface EvidencePoint {
  readonly day: string
  readonly lift: number
  readonly lower: number
  readonly upper: number
  /** The interval has left the line, then or before. */
  readonly cleared: boolean
}

export interface EvidenceSeries {
  readonly version: string
  readonly points: readonly EvidencePoint[]
}

/** What a round told of each version. Its counts began empty, so that no line goes from one into the next. */
export interface EvidenceRound {
  readonly number: number
  readonly series: readonly EvidenceSeries[]
}

/** One picture of them, with one version or two: paths as in SVG, the rest in units of the picture. */
export interface EvidencePanel {
  readonly box: Box
  /** Where what is drawn begins and ends. */
  readonly left: number
  readonly right: number
  readonly top: number
  readonly bottom: number
  readonly zero: number
  readonly band: { readonly y: number; readonly height: number }
  readonly levels: readonly { readonly value: number; readonly y: number }[]
  readonly days: readonly { readonly day: Date; readonly x: number }[]
  /** Where each round begins, and the middle of the gap before it; of one round alone there is nothing to say. */
  readonly breaks: readonly { readonly round: number; readonly x: number; readonly gap: number | null }[]
  readonly lines: readonly {
    readonly version: string
    /** A stretch of each for every round. */
    readonly ribbon: string
    readonly middle: string
    /** Where the interval first left the line in the round that is read, and on which side of that there is room for words. */
    readonly cleared: { readonly day: string; readonly x: number; readonly side: 'start' | 'end' } | null
  }[]
}

export interface EvidencePicture {
  readonly width: number
  readonly height: number
  readonly panels: readonly EvidencePanel[]
  /** Of the round that is read; one of a single day is not drawn. */
  readonly isDrawn: boolean
}

const [LEFT, FOOT, RIGHT] = [58, 30, 20]
/** Above what is drawn: less where there is no title. */
const [TITLE, PLAIN] = [38, 12]
/** More than these in one picture cannot be told apart: each then has a picture of its own. */
const MOST_TOGETHER = 2
/** The scale is never finer, and never coarser, than this to either side. */
const [LEAST, MOST] = [0.05, 1.5]
/** Room for “clear since”. */
const WORDS = 190
/** Between rounds: time does not go on through it, however long it was. */
const GAP = 22
/** What a round has at least, as a share of the days of all. */
const NARROWEST = 0.08
/** Between the words of two days. */
const TICK = 52

/**
 * How intervals narrowed day by day, round beside round. All pictures have the same scales, so that they can be compared; the
 * first quarter of a round’s days, in which intervals are wide, does not make the scale.
 *
 * @param rounds oldest first; the last is the one that is read, and its versions are the ones that are drawn
 * @returns `null` before the second day of any
 */
export function evidenceGeometry(rounds: readonly EvidenceRound[], worthHaving: number): EvidencePicture | null {
  const read = rounds.at(-1)
  const pointsOf = (round: EvidenceRound, version: string) => round.series.find((one) => one.version === version)?.points ?? []
  const versions = (read?.series ?? [])
    .map(({ version }) => version)
    .filter((version) => rounds.some((round) => pointsOf(round, version).length > 0))
  const stretches = rounds.flatMap((round): Stretch[] => {
    const series = versions.map((version) => ({ version, points: pointsOf(round, version) }))
    const days = series.flatMap(({ points }) => points.map(({ day }) => Date.parse(day)))
    const [from, to] = [Math.min(...days), Math.max(...days)]
    return from < to ? [{ number: round.number, series, from, to, isRead: round === read }] : []
  })
  if (stretches.length === 0) return null
  const limits = stretches.flatMap(({ series }) =>
    series.flatMap(({ points }) => points.slice(Math.floor(points.length / 4)).flatMap(({ lower, upper }) => [lower, upper])),
  )
  const reach = Math.min(MOST, Math.max(LEAST, worthHaving, ...limits.map(Math.abs)))
  const groups = versions.length <= MOST_TOGETHER ? [versions] : versions.map((version) => [version])
  const { width, height, boxes } = panelsFor(groups.length)
  const all: Scales = { stretches, reach, worthHaving, isOneOfMany: groups.length > 1 }
  const panels = boxes.map((box, at) => panelOf(groups[at] ?? [], box, all))
  return { width, height, panels, isDrawn: stretches.some(({ isRead }) => isRead) }
}

/** A round of at least two days. */
interface Stretch extends EvidenceRound {
  readonly from: number
  readonly to: number
  readonly isRead: boolean
}

interface Scales {
  readonly stretches: readonly Stretch[]
  readonly reach: number
  readonly worthHaving: number
  readonly isOneOfMany: boolean
}

/** Rounds beside each other with a gap between, each as wide as it was long, and none too narrow to be seen. */
function placed(stretches: readonly Stretch[], [left, right]: readonly [number, number]) {
  const together = stretches.reduce((sum, { from, to }) => sum + to - from, 0)
  const shares = stretches.map(({ from, to }) => Math.max(NARROWEST, (to - from) / together))
  const whole = shares.reduce((sum, share) => sum + share, 0)
  const room = right - left - GAP * (stretches.length - 1)
  let begin = left
  return stretches.map((stretch, at) => {
    const end = begin + (room * (shares[at] ?? 0)) / whole
    const one = { stretch, begin, end, x: scaleUtc([stretch.from, stretch.to], [begin, end]) }
    begin = end + GAP
    return one
  })
}

function panelOf(versions: readonly string[], box: Box, { stretches, reach, worthHaving, isOneOfMany }: Scales): EvidencePanel {
  const [top, right, bottom] = [isOneOfMany ? TITLE : PLAIN, box.width - RIGHT, box.height - FOOT]
  const y = scaleLinear([-reach, reach], [bottom, top]).clamp(true)
  const rounds = placed(stretches, [LEFT, right])
  const many = isOneOfMany ? 3 : 6
  const days = rounds.flatMap(({ x, begin, end }) =>
    wholeDays(x.ticks(Math.max(1, Math.round((many * (end - begin)) / (right - LEFT))))).map((day) => ({ day, x: x(day) })),
  )
  return {
    ...{ box, left: LEFT, right, top, bottom, zero: y(0) },
    band: { y: y(worthHaving), height: y(-worthHaving) - y(worthHaving) },
    levels: y.ticks(isOneOfMany ? 3 : 5).map((value) => ({ value, y: y(value) })),
    days: days.filter((one, at) => at === 0 || one.x - (days[at - 1]?.x ?? 0) >= TICK),
    breaks: rounds.length < 2 ? [] : rounds.map(({ stretch, begin }, at) => breakOf(stretch, begin, at)),
    lines: versions.map((version) => {
      const drawn = rounds.map(({ stretch, x }) => {
        const points = stretch.series.find((one) => one.version === version)?.points ?? []
        const at = ({ day }: EvidencePoint) => x(new Date(day))
        const ribbon = area<EvidencePoint>()
          .x(at)
          .y0(({ lower }) => y(lower))
          .y1(({ upper }) => y(upper))
        const middle = line<EvidencePoint>()
          .x(at)
          .y(({ lift }) => y(lift))
        const first = stretch.isRead ? points.find(({ cleared }) => cleared) : undefined
        return {
          ...{ ribbon: ribbon(points) ?? '', middle: middle(points) ?? '' },
          cleared: first === undefined ? null : { day: first.day, x: at(first) },
        }
      })
      const cleared = drawn.at(-1)?.cleared ?? null
      return {
        ...{ version, ribbon: drawn.map(({ ribbon }) => ribbon).join(''), middle: drawn.map(({ middle }) => middle).join('') },
        cleared: cleared === null ? null : { ...cleared, side: cleared.x > box.width - WORDS ? 'end' : 'start' },
      }
    }),
  }
}

const breakOf = ({ number }: Stretch, begin: number, at: number) => ({
  ...{ round: number, x: begin },
  gap: at === 0 ? null : begin - GAP / 2,
})

/** The same in the space of a word: a ribbon, and the height of the line. The first third of the days does not make the scale. */
export function evidenceLine(
  points: readonly Pick<EvidencePoint, 'lower' | 'upper'>[],
  [width, height]: readonly [number, number],
): { readonly ribbon: string; readonly zero: number } {
  const late = points.slice(-Math.ceil(points.length * 0.7))
  const reach = Math.min(1.2, Math.max(LEAST, ...late.flatMap(({ lower, upper }) => [Math.abs(lower), Math.abs(upper)])))
  const x = linear([0, points.length - 1], [1, width - 1])
  const place = linear([-reach, reach], [height - 1, 1])
  const y = (value: number) => place(Math.max(-reach, Math.min(reach, value)))
  const ribbon = area<Pick<EvidencePoint, 'lower' | 'upper'>>()
    .x((_, index) => x(index))
    .y0(({ lower }) => y(lower))
    .y1(({ upper }) => y(upper))
  return { ribbon: ribbon(points) ?? '', zero: y(0) }
}
