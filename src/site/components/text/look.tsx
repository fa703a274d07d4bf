import { look } from '../look'
import { richText } from '../rich-text'
import type { text } from './fields'

/** `page:` links become addresses here, where the pages are known. */
export const textLook = look<typeof text>(({ props, mark, site }) => {
  const html = richText(props.words).replace(
    /href="(page:[a-z0-9-]+)"/g,
    (_, target: string) => `href="${site.addressOf(target)}"`,
  )
  return (
    <div
      className={`text ${props.size} align-${props.align}`}
      {...mark}
      data-f="words"
      dangerouslySetInnerHTML={{ __html: html }}
    />
  )
})
