/** Whether two values would be the same JSON, in whatever order their properties stand. */
export function isSameData(one: unknown, other: unknown): boolean {
  if (one === other) return true
  if (typeof one !== 'object' || typeof other !== 'object' || one === null || other === null) return false
  if (Array.isArray(one) || Array.isArray(other))
    return (
      Array.isArray(one) &&
      Array.isArray(other) &&
      one.length === other.length &&
      one.every((item, index) => isSameData(item, other[index]))
    )
  const [mine, theirs] = [said(one), said(other)]
  return mine.size === theirs.size && [...mine].every(([key, value]) => theirs.has(key) && isSameData(value, theirs.get(key)))
}

/** A property without a value is none in JSON. */
function said(value: object): Map<string, unknown> {
  return new Map(Object.entries(value).filter(([, inner]) => inner !== undefined))
}
