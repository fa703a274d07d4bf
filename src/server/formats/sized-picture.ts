import sharp, { type Metadata, type Sharp } from 'sharp'
import { HEAVIEST, widthsOf } from '@/core/picture-sizes'
import { Failure } from '../failure'
import { MOST_PIXELS } from './checked-file'
import type { MadeSizes, MediaSize } from '../stores/media'

/** Pictures that move are no wider: they are as many pictures as they have frames. */
const WIDEST_MOVING = 640

// What is made once is not made again from memory.
sharp.cache(false)

let last: Promise<unknown> = Promise.resolve()
/** One after the other: each takes the memory of a picture unpacked. */
function inTurn<Of>(work: () => Promise<Of>): Promise<Of> {
  const mine = last.then(work, work)
  last = mine.catch(() => undefined)
  return mine
}

/**
 * A picture as visitors get it: turned upright as its camera said, in several widths, as WebP and in a form that
 * everything reads, without what the camera wrote into it (place, device). Drawings (SVG) have no widths: they are sent as
 * they are.
 *
 * @throws {Failure} where it cannot be read, or is too much to unpack
 */
export function sizedPicture(body: Buffer, type: string): Promise<MadeSizes> {
  return inTurn(async () => {
    try {
      return type === 'image/svg+xml' ? await measured(body) : await made(body, type)
    } catch (reason) {
      if (reason instanceof Failure) throw reason
      if (reason instanceof Error && /pixel limit/i.test(reason.message)) throw tooLarge()
      throw new Failure('input', 'This picture is damaged: it cannot be read to its end.')
    }
  })
}

const tooLarge = () =>
  new Failure('input', `This picture has more than ${MOST_PIXELS / 1e6} million pixels: make it smaller first.`)

const opened = (body: Buffer, animated: boolean) =>
  sharp(body, { animated, limitInputPixels: MOST_PIXELS, failOn: 'error', sequentialRead: true })

async function measured(body: Buffer): Promise<MadeSizes> {
  try {
    const { width, height } = await opened(body, false).metadata()
    return { width, height, sizes: [] }
  } catch {
    throw new Failure('input', 'This drawing does not say how large it is. Save it anew with a width, a height or a viewBox.')
  }
}

async function made(body: Buffer, type: string): Promise<MadeSizes> {
  const about = await opened(body, false).metadata()
  if ((about.pages ?? 1) > 1 && (type === 'image/gif' || type === 'image/webp')) return moving(body, about)
  const { width, height } = about.autoOrient
  if (width * height > MOST_PIXELS) throw tooLarge()
  const widths = widthsOf(width)
  // Unpacked once; each width is made from the one above it.
  const largest = await opened(body, false)
    .autoOrient()
    .toColourspace('srgb')
    .resize({ width: widths.at(-1) })
    .raw()
    .toBuffer({ resolveWithObject: true })
  const { width: w, height: h, channels } = largest.info
  const opaque = channels < 4 || (await sharp(largest.data, { raw: { width: w, height: h, channels } }).stats()).isOpaque
  const sizes: MediaSize[] = []
  for (const one of widths) {
    const at = () => sharp(largest.data, { raw: { width: w, height: h, channels } }).resize({ width: one })
    sizes.push(...(await inBothForms(one, at, { opaque, drawn: about.format === 'png' || about.format === 'gif' })))
  }
  return { width, height, sizes }
}

/** Steps of quality: the first whose bytes are few enough is sent. */
const QUALITIES = [82, 66, 50, 34, 18]

async function inBothForms(
  width: number,
  at: () => Sharp,
  { opaque, drawn }: { opaque: boolean; drawn: boolean },
): Promise<MediaSize[]> {
  const forms: MediaSize[] = []
  const photo = opaque ? await lightest((quality) => at().jpeg({ quality, progressive: true }).toBuffer()) : null
  // Few colours are packed better, and sharp; a photograph that came as PNG is none of those.
  const drawing = drawn || !opaque ? await at().png({ palette: true, quality: 90, effort: 2 }).toBuffer() : null
  const read = [
    { width, type: 'image/jpeg', body: photo },
    { width, type: 'image/png', body: drawing },
  ].flatMap(({ body, ...form }) => (body === null || body.length > HEAVIEST ? [] : [{ ...form, body }]))
  const [everywhere] = read.sort((one, other) => one.body.length - other.body.length)
  if (everywhere !== undefined) forms.push(everywhere)
  const webp = await lightest((quality) => at().webp({ quality, smartSubsample: true }).toBuffer())
  // Only where it wins something.
  if (webp !== null && (everywhere === undefined || webp.length < everywhere.body.length))
    forms.push({ width, type: 'image/webp', body: webp })
  return forms
}

async function lightest(encode: (quality: number) => Promise<Buffer>): Promise<Buffer | null> {
  for (const quality of QUALITIES) {
    const body = await encode(quality)
    if (body.length <= HEAVIEST) return body
  }
  return null
}

async function moving(body: Buffer, { width, height, pages, pageHeight }: Metadata): Promise<MadeSizes> {
  const tall = pageHeight ?? height
  if (width * tall * (pages ?? 1) > MOST_PIXELS) throw tooLarge()
  const one = Math.min(width, WIDEST_MOVING)
  const at = () => opened(body, true).resize({ width: one })
  const gif = await at().gif().toBuffer()
  const webp = await lightest((quality) => at().webp({ quality }).toBuffer())
  const sizes: MediaSize[] = []
  if (gif.length <= HEAVIEST) sizes.push({ width: one, type: 'image/gif', body: gif })
  if (webp !== null && webp.length < gif.length) sizes.push({ width: one, type: 'image/webp', body: webp })
  if (sizes.length === 0)
    throw new Failure('input', `This moving picture is more than ${HEAVIEST / 1e6} MB however it is packed. Bring it as a film.`)
  return { width, height: tall, sizes }
}
