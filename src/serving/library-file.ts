import Negotiator from 'negotiator'
import { HEAVIEST, widthFor } from '@/core/picture-sizes'

interface Asset {
  readonly body: Buffer
  readonly type: string
  readonly etag: string
}

/** A picture in one of its widths, in pixels. */
interface InWidth extends Asset {
  readonly width: number
}

/** A file of the media library, as it is kept for visitors. */
export interface ServedFile {
  readonly name: string
  /** What is sent where it has no widths: a film, a drawing, or a picture that waits for them. */
  readonly whole: { readonly type: string; readonly body: Buffer } | null
  readonly sizes: readonly { readonly width: number; readonly type: string; readonly body: Buffer }[]
  /** Whether it stays as it is from now on. */
  readonly ready: boolean
}

/** A file of the media library in memory, as visitors get it. */
export interface LibraryFile {
  readonly whole: Asset | null
  readonly sizes: readonly InWidth[]
  /** Whether what is sent under its name stays the same for ever. */
  readonly ready: boolean
}

export function libraryFile({ name, whole, sizes, ready }: ServedFile): LibraryFile {
  return {
    whole: whole === null ? null : { type: whole.type, body: whole.body, etag: `"${name}"` },
    sizes: sizes.map(({ width, type, body }) => ({
      width,
      type,
      body,
      etag: `"${name}-${width}-${type.replace('image/', '')}"`,
    })),
    ready,
  }
}

/** What is sent for a file. `varies`: by what the one who asks can read. `asset` is missing where there is nothing to send yet. */
export interface Sending {
  readonly asset: Asset | undefined
  readonly forGood: boolean
  readonly varies: boolean
}

/**
 * A file for whoever asks: a picture in the width that was asked for or the next larger one, as WebP where that is said to
 * be taken (RFC 9110, 12.5.1). Nothing that is heavier than a picture may be is sent while its widths are being made.
 *
 * @param asked the width, as it stands in the address
 */
export function sendingOf(file: LibraryFile | undefined, asked: unknown, accept: string | undefined): Sending {
  if (file === undefined) return { asset: undefined, forGood: false, varies: false }
  const { whole, sizes, ready } = file
  if (sizes.length === 0) {
    const heavy = whole !== null && /^image\/(?!svg)/.test(whole.type) && whole.body.length > HEAVIEST
    return { asset: heavy || whole === null ? undefined : whole, forGood: ready, varies: false }
  }
  const width = widthFor(
    sizes.map((one) => one.width),
    typeof asked === 'string' && /^\d{1,5}$/.test(asked) ? Number(asked) : null,
  )
  const inWidth = sizes.filter((one) => one.width === width)
  // Of what is taken alike, what everybody reads: only who names WebP gets it.
  const types = inWidth.map(({ type }) => type).sort((a) => (a === 'image/webp' ? 1 : -1))
  const [best] = new Negotiator({ headers: accept === undefined ? {} : { accept } }).mediaTypes(types)
  return {
    asset: inWidth.find(({ type }) => type === (best ?? types[0])),
    forGood: ready,
    varies: true,
  }
}
