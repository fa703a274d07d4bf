/**
 * Text from outside, no longer than `most` UTF-16 units and whole: never cut inside a character, and with every lone half
 * of one replaced by U+FFFD, so that it can be encoded wherever it goes (Unicode 16, 3.9, D80 and D84).
 */
export function shortened(text: string, most: number): string {
  const cut = text.length <= most ? text : text.slice(0, isHigh(text.charCodeAt(most - 1)) ? most - 1 : most)
  return cut.replace(LONE, '\uFFFD')
}

const LONE = /[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/g

function isHigh(unit: number): boolean {
  return unit >= 0xd800 && unit <= 0xdbff
}

/** Where in a value from outside a text holds half a character, as a path of keys; `null` where every text is whole. */
export function halfCharacterIn(value: unknown): readonly (string | number)[] | null {
  // A stack of its own: what comes from outside may be nested deeper than calls can be.
  const waiting: { value: unknown; path: readonly (string | number)[] }[] = [{ value, path: [] }]
  for (let next = waiting.pop(); next !== undefined; next = waiting.pop()) {
    const { value: at, path } = next
    if (typeof at === 'string' && isBroken(at)) return path
    if (typeof at !== 'object' || at === null) continue
    for (const [key, inner] of Object.entries(at)) {
      if (isBroken(key)) return path
      waiting.push({ value: inner, path: [...path.slice(0, 20), Array.isArray(at) ? Number(key) : key] })
    }
  }
  return null
}

function isBroken(text: string): boolean {
  return text.search(LONE) >= 0
}

/** “one”, “one and two”, “one, two and three”. */
export function listed(words: readonly string[]): string {
  const last = words.at(-1) ?? ''
  return words.length < 2 ? last : `${words.slice(0, -1).join(', ')} and ${last}`
}
