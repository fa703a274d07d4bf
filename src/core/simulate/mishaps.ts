/** What may go wrong with a variant that nobody has noticed. */
export const mishaps = ['none', 'deadButton', 'lost', 'fades'] as const
export type Mishap = (typeof mishaps)[number]

/** Days in which half of an effect that fades is gone, and the share whose browsers do not tell of a variant that is lost. */
const [FADES_IN, LOST] = [4, 0.1]

/** The true rate of a version on a day, from none, with what has gone wrong with it. @param original the rate of the original */
export function rateOn(mishap: Mishap, rate: number, original: number, day: number): number {
  switch (mishap) {
    case 'none':
    case 'lost':
      return rate
    case 'deadButton':
      return 0
    case 'fades':
      return original + (rate - original) * 0.5 ** (day / FADES_IN)
    default:
      return mishap satisfies never
  }
}

/** Of those who are given a version, the share whose browsers tell that they saw it. */
export const seenShare = (mishap: Mishap): number => (mishap === 'lost' ? 1 - LOST : 1)

/** A lot in [0, 1) by a visitor’s id, which has to do with nothing that their other lots decide. */
export const lotOf = (id: string): number => parseInt(id.slice(-6), 16) / 2 ** 24
