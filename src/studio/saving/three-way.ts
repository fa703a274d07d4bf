/**
 * What two people made of the same thing at once, field by field: each field as the one who changed it has it.
 *
 * @returns `null` where both changed one field, and not to the same
 */
export function threeWay<Value extends object>(before: Value, mine: Value, theirs: Value): Value | null {
  const merged = { ...theirs }
  for (const field of Object.keys(mine) as (keyof Value)[]) {
    const [was, here, there] = [before[field], mine[field], theirs[field]].map((value) => JSON.stringify(value))
    if (here === was) continue
    if (there !== was && there !== here) return null
    merged[field] = mine[field]
  }
  return merged
}
