import { moneyWords } from '../frame/wording'
import { kindOf, type Goal, type Library, type Wiring } from '@/core/goals'

/** What a goal counts, in a few words, for a list. */
export function wiringWords(wiring: Wiring, library: Library, titleOf: (document: string) => string): string {
  return kindOf(wiring).words(wiring, { titleOf, goalNamed: (id) => library.get(id)?.name ?? 'a goal that is gone' })
}

/** What one conversion is worth: “20 points”, “€ 24”, “what was paid”. */
export function worthWords({ worth, worthIn, worthFrom }: Goal, currency: string): string {
  if (worthFrom === 'reported') return 'as reported'
  return worthIn === 'money' ? moneyWords(worth, currency) : `${worth} ${worth === 1 ? 'point' : 'points'}`
}
