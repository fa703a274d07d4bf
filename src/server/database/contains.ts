/** A pattern for LIKE that finds these words anywhere, whatever signs are in them. */
export function contains(words: string): string {
  return `%${words.replace(/[%_\\]/g, '\\$&')}%`
}
