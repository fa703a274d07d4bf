import { area, line, scaleLinear, scaleUtc } from 'd3'
import { linear } from '../frame/linear'
import { panelsFor, type Box } from './panels'

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
  readonly lines: readonly {
    readonly version: string
    readonly ribbon: string
    readonly middle: string
    /** Where the interval first left the line, and on which side of that there is room for words. */
    readonly cleared: { readonly day: string; readonly x: number; readonly side: 'start' | 'end' } | null
  }[]
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

/**
 * How intervals narrowed day by day. All pictures have the same scales, so that they can be compared; the first quarter of
 * the days, in which intervals are wide, does not make the scale.
 *
 * @returns `null` before the second day
 */
export function evidenceGeometry(
  all: readonly EvidenceSeries[],
  worthHaving: number,
): { readonly width: number; readonly height: number; readonly panels: readonly EvidencePanel[] } | null {
  const series = all.filter(({ points }) => points.length > 0)
  const days = series.flatMap(({ points }) => points.map(({ day }) => Date.parse(day)))
  if (new Set(days).size < 2) return null
  const limits = series.flatMap(({ points }) =>
    points.slice(Math.floor(points.length / 4)).flatMap(({ lower, upper }) => [lower, upper]),
  )
  const reach = Math.min(MOST, Math.max(LEAST, worthHaving, ...limits.map(Math.abs)))
  const groups = series.length <= MOST_TOGETHER ? [series] : series.map((one) => [one])
  const { width, height, boxes } = panelsFor(groups.length)
  const scales = { days: [Math.min(...days), Math.max(...days)] as const, reach, worthHaving, isOneOfMany: groups.length > 1 }
  return { width, height, panels: boxes.map((box, at) => panelOf(groups[at] ?? [], box, scales)) }
}

function panelOf(
  series: readonly EvidenceSeries[],
  box: Box,
  {
    days,
    reach,
    worthHaving,
    isOneOfMany,
  }: { days: readonly [number, number]; reach: number; worthHaving: number; isOneOfMany: boolean },
): EvidencePanel {
  const [top, right, bottom] = [isOneOfMany ? TITLE : PLAIN, box.width - RIGHT, box.height - FOOT]
  const x = scaleUtc(days, [LEFT, right])
  const y = scaleLinear([-reach, reach], [bottom, top]).clamp(true)
  const at = ({ day }: EvidencePoint) => x(new Date(day))
  const ribbon = area<EvidencePoint>()
    .x(at)
    .y0(({ lower }) => y(lower))
    .y1(({ upper }) => y(upper))
  const middle = line<EvidencePoint>()
    .x(at)
    .y(({ lift }) => y(lift))
  return {
    ...{ box, left: LEFT, right, top, bottom, zero: y(0) },
    band: { y: y(worthHaving), height: y(-worthHaving) - y(worthHaving) },
    levels: y.ticks(isOneOfMany ? 3 : 5).map((value) => ({ value, y: y(value) })),
    days: x.ticks(isOneOfMany ? 3 : 6).map((day) => ({ day, x: x(day) })),
    lines: series.map(({ version, points }) => {
      const first = points.find(({ cleared }) => cleared)
      const place = first === undefined ? 0 : at(first)
      return {
        ...{ version, ribbon: ribbon(points) ?? '', middle: middle(points) ?? '' },
        cleared: first === undefined ? null : { day: first.day, x: place, side: place > box.width - WORDS ? 'end' : 'start' },
      }
    }),
  }
}

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
