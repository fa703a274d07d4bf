/** A name that none of the others has: the stem with the first number that is free; a copy needs no number at first. */
export function freeName(taken: readonly string[], stem: string): string {
  for (let number = 1; ; number++) {
    const name = stem.endsWith('copy') && number === 1 ? stem : `${stem} ${number}`
    if (!taken.includes(name)) return name.slice(0, 80)
  }
}
