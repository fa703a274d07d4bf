import sanitize from 'sanitize-html'

const rules: sanitize.IOptions = {
  allowedTags: ['p', 'br', 'strong', 'em', 'a', 'ul', 'ol', 'li'],
  allowedAttributes: { a: ['href'] },
  allowedSchemes: ['http', 'https', 'mailto', 'tel', 'page'],
  allowProtocolRelative: false,
  parseStyleAttributes: false,
  transformTags: { b: 'strong', i: 'em', div: 'p' },
}

/** Rich text with nothing in it but what the allow-list names. Used on the way in and on the way out. */
export function richText(html: string): string {
  return sanitize(html, rules).trim()
}

/** Only the words, as they are read, for a list or a miniature: what stands in lines of its own is kept apart. */
export function plainText(html: string): string {
  const apart = html.replace(/<\/(p|div|li|ul|ol)\s*>|<br\s*\/?>/gi, ' $&')
  const words = sanitize(apart, { allowedTags: [], allowedAttributes: {} })
  return words
    .replace(/&(amp|lt|gt);/g, (_, name: keyof typeof meant) => meant[name])
    .replace(/\s+/g, ' ')
    .trim()
}

/** What is escaped where there are no tags. */
const meant = { amp: '&', lt: '<', gt: '>' } as const
