/** A straight scale, for the lines in lists: what charts use for theirs also brings colours and calendars along. */
export function linear(
  [from, to]: readonly [number, number],
  [start, end]: readonly [number, number],
): (value: number) => number {
  return (value) => (from === to ? start : start + ((value - from) / (to - from)) * (end - start))
}
