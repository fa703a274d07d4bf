import * as z from 'zod'
import { address } from './address'
import { anyOf } from './any-of'
import { click } from './click'
import { event } from './event'
import { form } from './form'
import type { GoalKind } from './kind'
import { marker } from './marker'
import { noBounce } from './no-bounce'
import { order } from './order'
import { outbound } from './outbound'
import { page } from './page'
import { pageType } from './page-type'
import { read } from './read'
import { stay } from './stay'
import { steps } from './steps'

/** Every kind of goal, in the order in which they are offered. A kind is a file, and a line here. */
const kinds = {
  click,
  marker,
  form,
  page,
  pageType,
  address,
  outbound,
  read,
  stay,
  noBounce,
  order,
  event,
  anyOf,
  steps,
}

type Kinds = typeof kinds
export type WiringKind = keyof Kinds

const { click: first, ...others } = kinds

/** What a goal counts. */
export const wiringSchema = z.discriminatedUnion('kind', [first.schema, ...Object.values(others).map(({ schema }) => schema)])
export type Wiring = Readonly<z.infer<typeof wiringSchema>>

/** Each stands under the name that it keeps: a kind that is put under another does not compile. */
kinds satisfies { readonly [Kind in WiringKind]: GoalKind<Extract<Wiring, { kind: Kind }>> }

export const wiringKinds = Object.keys(kinds) as readonly WiringKind[]

export function kindNamed(kind: WiringKind): GoalKind<Wiring> {
  // A kind is only ever asked about what it keeps itself; see above.
  return kinds[kind] as unknown as GoalKind<Wiring>
}

export function kindOf({ kind }: Wiring): GoalKind<Wiring> {
  return kindNamed(kind)
}
