import type { Device } from '../decide'
import { listed, shortened } from '../text'

/** How wide the window of each device is taken to be, in pixels: a page is drawn at each of them, wherever it is. */
export const widthOf: { readonly [Of in Device]: number } = { phone: 390, tablet: 820, computer: 1180 }

/** A colour: red, green and blue from 0 to 255, and how much of what is behind it it covers, from 0 to 1. */
export interface Paint {
  readonly red: number
  readonly green: number
  readonly blue: number
  readonly covers: number
}

/** Some words as a browser drew them. Lengths are pixels, on the page. */
export interface DrawnText {
  readonly words: string
  readonly left: number
  readonly right: number
  readonly top: number
  /** How much of it what holds it cuts off, where that does not scroll. */
  readonly cut: number
  readonly size: number
  readonly bold: boolean
  readonly colour: Paint
  /** What is behind it, the nearest first; `null` where that is a picture, of which nobody can say how dark it is. */
  readonly behind: readonly Paint[] | null
}

/** Why words cannot be read: they go beyond the edge of the page, are cut off, or stand out too little. */
export type Illegibility =
  | { readonly code: 'beyond' | 'cut'; readonly words: string; readonly top: number }
  | { readonly code: 'faint'; readonly words: string; readonly top: number; readonly ratio: number; readonly least: number }

/** Of a drawing no pixel is exact. */
const SLACK = 2
const WHITE: Paint = { red: 255, green: 255, blue: 255, covers: 1 }

export function illegibleIn(texts: readonly DrawnText[], width: number): Illegibility[] {
  return texts.flatMap((text): Illegibility[] => {
    const { words, top, left, right, cut } = text
    if (cut > SLACK) return [{ code: 'cut', words, top }]
    if (left < -SLACK || right > width + SLACK) return [{ code: 'beyond', words, top }]
    if (text.behind === null) return []
    const back = [...text.behind, WHITE].reduceRight((below, paint) => over(paint, below))
    const ratio = contrast(over(text.colour, back), back)
    const least = leastContrast(text)
    return ratio < least ? [{ code: 'faint', words, top, ratio, least }] : []
  })
}

/** Large words are read more easily (WCAG 2.2, 1.4.3: 24 pixels, or bold and 18.66). */
function leastContrast({ size, bold }: DrawnText): number {
  return size >= 24 || (bold && size >= 18.66) ? 3 : 4.5
}

function over(paint: Paint, below: Paint): Paint {
  const mixed = (one: number, other: number) => one * paint.covers + other * (1 - paint.covers)
  return {
    red: mixed(paint.red, below.red),
    green: mixed(paint.green, below.green),
    blue: mixed(paint.blue, below.blue),
    covers: 1,
  }
}

/** The contrast ratio of two opaque colours, from 1 to 21 (WCAG 2.2, “contrast ratio”). */
export function contrast(one: Paint, other: Paint): number {
  const [light, dark] = [luminance(one), luminance(other)].sort((a, b) => b - a)
  return ((light ?? 0) + 0.05) / ((dark ?? 0) + 0.05)
}

/** From 0 to 1 (WCAG 2.2, “relative luminance”; sRGB, IEC 61966-2-1). */
function luminance({ red, green, blue }: Paint): number {
  const linear = (of: number) => (of / 255 <= 0.04045 ? of / 255 / 12.92 : ((of / 255 + 0.055) / 1.055) ** 2.4)
  return 0.2126 * linear(red) + 0.7152 * linear(green) + 0.0722 * linear(blue)
}

/** What is wrong with a version on these devices, and is not with the original. */
export interface Illegible {
  readonly fault: Illegibility
  readonly devices: readonly Device[]
}

/**
 * What only the version has: what the original shows in the same words has been there before, and is the same for all.
 *
 * @param drawn by device what is wrong with the original, and with the version
 */
export function illegibleAnew(
  drawn: readonly {
    readonly device: Device
    readonly original: readonly Illegibility[]
    readonly version: readonly Illegibility[]
  }[],
): Illegible[] {
  const found = new Map<string, { fault: Illegibility; devices: Device[] }>()
  for (const { device, original, version } of drawn) {
    const before = new Set(original.map(nameOf))
    for (const fault of version.filter((one) => !before.has(nameOf(one)))) {
      const known = found.get(nameOf(fault)) ?? { fault, devices: [] }
      found.set(nameOf(fault), known)
      if (!known.devices.includes(device)) known.devices.push(device)
    }
  }
  return [...found.values()]
}

const nameOf = ({ code, words }: Illegibility) => `${code} ${words}`

const devicesWords: { readonly [Of in Device]: string } = { phone: 'phones', tablet: 'tablets', computer: 'computers' }
const MOST_WORDS = 60

/** @param name of the version */
export function illegibleWords(name: string, { fault, devices }: Illegible): string {
  const words = fault.words.length > MOST_WORDS ? `${shortened(fault.words, MOST_WORDS).trimEnd()} …` : fault.words
  const where = `In ‘${name}’, on ${listed(devices.map((device) => devicesWords[device]))},`
  switch (fault.code) {
    case 'cut':
      return `${where} “${words}” is cut off.`
    case 'beyond':
      return `${where} “${words}” goes beyond the edge of the page.`
    case 'faint':
      return `${where} “${words}” is hard to read: its colour is too close to what is behind it (${(Math.floor(fault.ratio * 10) / 10).toFixed(1)} to 1; ${fault.least} to 1 is the least).`
  }
}
