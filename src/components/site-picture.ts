import type { SiteView } from './look'

interface ImageAttributes {
  readonly src: string
  readonly srcSet?: string
  readonly sizes?: string
  readonly width: number
  readonly height: number
}

/** How wide places are on the site, from its style: the measure is 72 rem wide, and one column from 900 and 620 px on. */
export const ACROSS = '(max-width: 72rem) 100vw, 72rem'
export const BESIDE = '(max-width: 900px) 100vw, 30rem'
export const CARD = '(max-width: 620px) 100vw, (max-width: 900px) 50vw, 24rem'

/**
 * What makes an image of a picture: the browser takes the width that its place needs, and holds its true size free before
 * it is there, so that nothing moves when it comes (HTML, 4.8.4.3).
 *
 * @param place how wide it stands, for `sizes`
 * @param usual its size in pixels where that is not known: of pictures that ship with the site
 */
export function imageOf(
  site: SiteView,
  name: string,
  place: string,
  usual: { readonly width: number; readonly height: number },
): ImageAttributes {
  const src = site.pictureAddress(name)
  const known = site.sizesOf(name)
  if (known === null) return { src, ...usual }
  const { width, height, widths } = known
  if (widths.length < 2) return { src, width, height }
  return { src, srcSet: widths.map((one) => `${src}?w=${one} ${one}w`).join(', '), sizes: place, width, height }
}
