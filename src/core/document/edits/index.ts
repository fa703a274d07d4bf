import * as z from 'zod'
import { insert, insertSchema } from './insert'
import type { EditKind } from './kind'
import { move, moveSchema } from './move'
import { remove, removeSchema } from './remove'
import { replace, replaceSchema } from './replace'
import { set, setSchema } from './set'

/**
 * One atomic change to a document. It names nodes by id, never by position, so it outlives changes around it.
 * A `set` without a value takes the property away; `after: null` means first in the parent; `replace` gives a node
 * another type and properties and leaves what is below it.
 */
export const editSchema = z.discriminatedUnion('kind', [setSchema, insertSchema, removeSchema, moveSchema, replaceSchema])
export type Edit = Readonly<z.infer<typeof editSchema>>
export const editsSchema = z.array(editSchema).max(500)

/** Every kind of edit. A kind is a file, its schema above and a line here: one that is forgotten does not compile. */
const kinds: { readonly [Name in Edit['kind']]: EditKind<Extract<Edit, { kind: Name }>> } = { set, insert, remove, move, replace }

export function kindOf({ kind }: Edit): EditKind<Edit> {
  // A kind is only ever asked about what it keeps itself; see above.
  return kinds[kind] as unknown as EditKind<Edit>
}
