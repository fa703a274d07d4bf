import { readAddress } from '../page-address'
import { readUrl } from '../url'

/** The pages of this site by their paths, and where the site is: what an address in a file is compared with. */
export interface OwnPages {
  /** As browsers send it, `https://music.example`. */
  readonly origin: string
  /** The ids of pages by their paths. */
  readonly pages: ReadonlyMap<string, string>
}

export type LinkFrom = { readonly link: string } | { readonly fault: 'noPage' | 'noAddress' }

/**
 * A link as it is kept, from an address in a file: of a page of this site, whether the address is written out or not; of
 * a place on the page; or of somewhere else. What it is relative to is `base`.
 */
export function linkFrom(address: string, { origin, pages }: OwnPages, base = `${origin}/`): LinkFrom {
  const text = address.trim()
  if (text === '' || text === '#') return { link: '' }
  if (/^#[\w-]+$/.test(text)) return { link: text }
  const url = readUrl(text, base)
  if (url === null || !/^(https?|mailto|tel):$/.test(url.protocol)) return { fault: 'noAddress' }
  if (url.origin !== origin) return { link: url.href }
  const page = pages.get(readAddress(url.pathname.replace(/(.)\/+$/, '$1')) ?? '')
  if (page === undefined) return { fault: 'noPage' }
  const place = /^#[a-z0-9-]+$/.test(url.hash) ? url.hash : ''
  return { link: `page:${page}${place}` }
}
