import { moneyWords } from '../frame/wording'
import type { Goal, Library, Wiring, WiringKind } from '@/core/goals'

/** Every kind of goal as it is chosen. */
export const kindWords: Readonly<Record<WiringKind, string>> = {
  click: 'Something is pressed',
  marker: 'Anything with a marker is pressed',
  form: 'A form is accepted',
  page: 'A page is shown',
  pageType: 'Any page of a type is shown',
  address: 'A page with a certain address is shown',
  outbound: 'A link to elsewhere is followed',
  read: 'Something is read',
  stay: 'Somebody stays on a page',
  noBounce: 'Somebody does not leave at once',
  order: 'Something is ordered',
  event: 'An event is reported',
  anyOf: 'Any of several goals is reached',
  steps: 'Several goals are reached one after the other',
}

const addressWords = { is: 'is', startsWith: 'starts with', contains: 'contains', host: 'is at' } as const

/** What a goal counts, in a few words, for a list. */
export function wiringWords(wiring: Wiring, library: Library, titleOf: (document: string) => string): string {
  const names = (ids: readonly Goal['id'][]) => ids.map((id) => library.get(id)?.name ?? 'a goal that is gone')
  switch (wiring.kind) {
    case 'click':
      return `something on “${titleOf(wiring.document)}” is pressed`
    case 'marker':
      return `anything marked “${wiring.marker}” is pressed`
    case 'form':
      return `the form on “${titleOf(wiring.document)}” is accepted`
    case 'page':
      return `“${titleOf(wiring.document)}” is shown`
    case 'pageType':
      return `a page of the type “${wiring.pageType}” is shown`
    case 'address':
      return `a page is shown whose address ${addressWords[wiring.by]} “${wiring.text}”`
    case 'outbound':
      return `a link is followed that ${wiring.by === 'host' ? 'leads to' : addressWords[wiring.by]} “${wiring.text}”`
    case 'read':
      return `something on “${titleOf(wiring.document)}” is read`
    case 'stay':
      return `the visitor stays ${wiring.seconds} seconds on one page`
    case 'noBounce':
      return `the visitor does something, or stays ${wiring.seconds} seconds`
    case 'order':
      return 'an order is reported'
    case 'event':
      return `“${wiring.event}” is reported`
    case 'anyOf':
      return `any of: ${names(wiring.goals).join(', ')}`
    case 'steps':
      return names(wiring.goals).join(' → ')
    default:
      return wiring satisfies never
  }
}

/** What one conversion is worth: “20 points”, “€ 24”, “what was paid”. */
export function worthWords({ worth, worthIn, worthFrom }: Goal, currency: string): string {
  if (worthFrom === 'reported') return 'as reported'
  return worthIn === 'money' ? moneyWords(worth, currency) : `${worth} ${worth === 1 ? 'point' : 'points'}`
}
