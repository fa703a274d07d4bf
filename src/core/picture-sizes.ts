import * as z from 'zod'

/** What is known of a picture that editors brought: how large it is, upright, and in which widths it can be had. In pixels. */
export const pictureSizesSchema = z.object({
  width: z.number().int().min(1),
  height: z.number().int().min(1),
  /** Ascending; the last is the largest. None where it has no pixels of its own (SVG). */
  widths: z.array(z.number().int().min(1)).max(12),
})
export type PictureSizes = Readonly<z.infer<typeof pictureSizesSchema>>

/** From a telephone’s column to a large screen; what is wider is sent to nobody. */
const WIDTHS = [320, 640, 960, 1280, 1920] as const
export const WIDEST = 1920

/** What one picture may cost a visitor, in bytes. */
export const HEAVIEST = 2_000_000

/** The widths in which a picture of this width is made: never larger than it is, and its own where it is not too wide. */
export function widthsOf(width: number): number[] {
  const own = Math.min(width, WIDEST)
  return [...WIDTHS.filter((one) => one < own), own]
}

/** The smallest of these widths that fills what is asked for; the largest where none does, or nothing is asked for. */
export function widthFor(widths: readonly number[], asked: number | null): number | null {
  const ascending = [...widths].sort((a, b) => a - b)
  return (asked === null ? undefined : ascending.find((width) => width >= asked)) ?? ascending.at(-1) ?? null
}
