import * as z from 'zod'
import { call } from './kinds/call'
import { click } from './kinds/click'
import { form } from './kinds/form'
import type { EventColumns } from './kinds/kind'
import { letter } from './kinds/letter'
import { named } from './kinds/named'
import { order } from './kinds/order'
import { outbound } from './kinds/outbound'
import { page } from './kinds/page'
import { read } from './kinds/read'
import { speed } from './kinds/speed'
import { stay } from './kinds/stay'
import { assigned, seen } from './kinds/taking-part'

/** All that can happen. A kind of event is a file, and a line here. */
export const allKinds = { assigned, seen, page, call, click, form, outbound, read, stay, speed, order, event: named, letter }

type Kinds = typeof allKinds
export type EventKindName = keyof Kinds

const { assigned: first, ...others } = allKinds

/** What happened, as it is kept on its way to being counted. */
export const happeningSchema = z.discriminatedUnion('kind', [first.schema, ...Object.values(others).map(({ schema }) => schema)])
export type Happening = Readonly<z.infer<typeof happeningSchema>>

/** Something a visitor did or was shown, with the moment at which it counts. */
export type VisitorEvent = { readonly visitor: string; readonly at: Date } & Happening

/** As each kind looks to those who have any of them in hand. */
interface AnyKind {
  readonly row: {
    readonly schema: z.ZodType
    readonly write: (event: Happening) => Partial<EventColumns>
    readonly read: (row: unknown) => Happening
  }
}

/** Each stands under the name that its events keep: one that is put under another does not compile. */
allKinds satisfies { readonly [Kind in EventKindName]: { readonly schema: z.ZodType<{ kind: Kind }> } }

export const eventKinds = Object.keys(allKinds) as readonly EventKindName[]

// A kind is only ever asked about its own events; see above.
const kindNamed = (kind: EventKindName) => allKinds[kind] as unknown as AnyKind

const noColumns: EventColumns = { document_id: null, round_id: null, version: null, nodes: null, about: null }

/** An event as it is kept in a row. */
export function columnsOf(event: Happening): EventColumns {
  return { ...noColumns, ...kindNamed(event.kind).row.write(event) }
}

/** @param row its `about` as data; more columns are passed over. @returns `null` where it cannot be read */
export function happeningOf(row: unknown): Happening | null {
  if (typeof row !== 'object' || row === null || !('kind' in row) || !isKind(row.kind)) return null
  const { schema, read: readRow } = kindNamed(row.kind).row
  const found = schema.safeParse(row)
  return found.success ? readRow(found.data) : null
}

const isKind = (name: unknown): name is EventKindName => typeof name === 'string' && Object.hasOwn(allKinds, name)
