import * as z from 'zod'
import { conditionSchema } from '@/core/decide'
import { editSchema, gathered, type Edit } from '@/core/document'
import { versionSchema } from '@/core/experiment'
import { nodeIdSchema } from '@/core/ids'

/** As many edits as one save may hold. */
const MOST = 500

/** One save on its way: sent again under the same name until it is answered, so that it is one save all the same. */
const parcelSchema = z.object({ save: z.string(), base: z.number(), edits: z.array(editSchema) })
export type Parcel = Readonly<z.infer<typeof parcelSchema>>

/** A version whose last edits are not saved yet. */
const unsavedVersionSchema = versionSchema.extend({
  node: nodeIdSchema,
  manner: z.enum(['chance', 'rule']),
  lock: z.number(),
  condition: conditionSchema.nullable(),
  /** Made here, and not yet by the server. */
  unborn: z.boolean(),
})
export type UnsavedVersion = Readonly<z.infer<typeof unsavedVersionSchema>>

/** All that was typed and is not saved yet, as it is kept over a reload. */
export const unsavedSchema = z.object({
  parcel: parcelSchema.nullable(),
  /** The draft that the first of these edits was made on. */
  base: z.number(),
  edits: z.array(editSchema),
  versions: z.array(unsavedVersionSchema),
})
export type Unsaved = Readonly<z.infer<typeof unsavedSchema>>

/** Edits of a draft that wait to be saved, and the save that is on its way. */
export class Outbox {
  #parcel: Parcel | null
  #edits: Edit[]

  constructor(from: Pick<Unsaved, 'parcel' | 'edits'> = { parcel: null, edits: [] }) {
    this.#parcel = from.parcel
    this.#edits = [...from.edits]
  }

  get isEmpty(): boolean {
    return this.#parcel === null && this.#edits.length === 0
  }

  /** What no answer has come for, in the order in which it was made. */
  get waiting(): readonly Edit[] {
    return [...(this.#parcel?.edits ?? []), ...this.#edits]
  }

  /** What was made after the save that is on its way. */
  get after(): readonly Edit[] {
    return this.#edits
  }

  get kept(): Pick<Unsaved, 'parcel' | 'edits'> {
    return { parcel: this.#parcel, edits: this.#edits }
  }

  put(edits: readonly Edit[]): void {
    for (const edit of edits) this.#edits = gathered(this.#edits, edit)
  }

  /** What is to be sent next; the same as last time where no answer came. `null` where nothing waits. */
  next(base: number, fresh: () => string): Parcel | null {
    if (this.#parcel !== null) return this.#parcel
    if (this.#edits.length === 0) return null
    this.#parcel = { save: fresh(), base, edits: this.#edits.slice(0, MOST) }
    this.#edits = this.#edits.slice(MOST)
    return this.#parcel
  }

  answered(): void {
    this.#parcel = null
  }

  /** A save that was refused is not tried again as it was: its edits wait with the others. */
  refused(): void {
    if (this.#parcel === null) return
    const { edits } = this.#parcel
    const later = this.#edits
    this.#parcel = null
    this.#edits = [...edits]
    this.put(later)
  }

  clear(): void {
    this.#parcel = null
    this.#edits = []
  }
}

/** Seconds until what got no answer is sent again: soon at first, at most half a minute. */
export function pauseBefore(tries: number): number {
  return Math.min(30, 2 ** Math.min(tries, 5))
}
