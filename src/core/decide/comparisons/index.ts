import * as z from 'zod'
import { attribute } from './attribute'
import { campaign } from './campaign'
import type { ComparisonKind } from './comparison'
import { dates } from './dates'
import { device } from './device'
import { given } from './given'
import { goalReached } from './goal-reached'
import { pageSeen } from './page-seen'
import { hours } from './hours'
import { language } from './language'
import { onPageType } from './on-page-type'
import { pageTypeSeen } from './page-type-seen'
import { referrer } from './referrer'
import { region } from './region'
import { returning } from './returning'
import { seenOften } from './seen-often'
import { segment } from './segment'
import { source } from './source'
import { utm } from './utm'
import { visits } from './visits'
import { weekday } from './weekday'

/** Every kind of comparison, in the order in which they are offered. A kind is a file, and a line here. */
const kinds = {
  pageTypeSeen,
  pageSeen,
  seenOften,
  onPageType,
  goalReached,
  given,
  returning,
  visits,
  device,
  region,
  language,
  source,
  campaign,
  utm,
  referrer,
  weekday,
  hours,
  dates,
  attribute,
  segment,
}

export type ComparisonName = keyof typeof kinds

const { pageTypeSeen: first, ...others } = kinds

/** One thing that is known of a visitor, compared. */
export const comparisonSchema = z
  .discriminatedUnion('kind', [first.schema, ...Object.values(others).map(({ schema }) => schema)])
  // By its name in published schemas, where it stands many times.
  .meta({ id: 'comparison', description: 'One thing that is known of a visitor, compared.' })
export type Comparison = Readonly<z.infer<typeof comparisonSchema>>

/** Each stands under the name that it keeps: a kind that is put under another does not compile. */
kinds satisfies { readonly [Name in ComparisonName]: ComparisonKind<Extract<Comparison, { kind: Name }>> }

export const comparisonNames = Object.keys(kinds) as readonly ComparisonName[]

export function comparisonNamed(name: ComparisonName): ComparisonKind<Comparison> {
  // A kind is only ever asked about what it keeps itself; see above.
  return kinds[name] as unknown as ComparisonKind<Comparison>
}
