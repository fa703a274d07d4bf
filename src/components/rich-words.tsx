import type { SiteView } from './look'
import { richText } from './rich-text'

/** Rich text with its `page:` links turned into addresses, where the pages are known. Sanitised on the way out too. */
export function RichWords({
  words,
  site,
  field,
  ...element
}: {
  words: string
  site: SiteView
  field: string
  className: string
  'data-n'?: string
  'data-e'?: string
}) {
  const html = richText(words).replace(
    /href="(page:[a-z0-9#-]+)"/g,
    (_, target: string) => `href="${site.addressOf(target).replaceAll('&', '&amp;')}"`,
  )
  return <div {...element} data-f={field} dangerouslySetInnerHTML={{ __html: html }} />
}
