/** Stands where the cleaner of rich text would read style attributes; none are allowed, so it is never asked. */
export function parse(): never {
  throw new Error('style attributes are not read in the browser')
}
