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

/** Only the words, for a list or a miniature. */
export function plainText(html: string): string {
  return sanitize(html, { allowedTags: [], allowedAttributes: {} }).replace(/\s+/g, ' ').trim()
}
