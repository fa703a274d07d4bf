import * as z from 'zod'
import { conditionSchema } from '@/core/decide'
import { editSchema, gathered, type Edit } from '@/core/document'
import { versionSchema } from '@/core/experiment'
import { nodeIdSchema } from '@/core/ids'

/** As many edits as one save may hold. */
const MOST = 500

/**
 * One save: sent again under the same name until it is answered, so that it is one save all the same. It is based on the
 * draft that was there when it was sent first; `null` before that.
 */
const parcelSchema = z.object({ save: z.string(), base: z.number().nullable(), edits: z.array(editSchema).min(1) })
export type Parcel = Readonly<z.infer<typeof parcelSchema>> & { readonly base: number }

/** What of a version is saved. */
const versionValueSchema = versionSchema.pick({ name: true, edits: true }).extend({ condition: conditionSchema.nullable() })
export type VersionValue = Readonly<z.infer<typeof versionValueSchema>>

/** A version whose last edits are not saved yet. */
const unsavedVersionSchema = versionSchema.extend({
  node: nodeIdSchema,
  manner: z.enum(['chance', 'rule']),
  lock: z.number(),
  condition: conditionSchema.nullable(),
  /** Made here, and not yet by the server. */
  unborn: z.boolean(),
  /** As the server had it when these edits were begun; `null` where it has none. */
  before: versionValueSchema.nullable().default(null),
  /** What was sent of it and got no answer. */
  sent: z.array(versionValueSchema).default([]),
})
export type UnsavedVersion = Readonly<z.infer<typeof unsavedVersionSchema>>

/** All that was typed and is not saved yet, as it is kept over a reload. */
export const unsavedSchema = z.object({
  parcel: parcelSchema.nullable(),
  /** Those that go after it, each under its own name already. */
  divided: z.array(parcelSchema).default([]),
  /** The draft that the first of these edits was made on. */
  base: z.number(),
  edits: z.array(editSchema),
  versions: z.array(unsavedVersionSchema),
})
export type Unsaved = Readonly<z.infer<typeof unsavedSchema>>

type Queued = Readonly<z.infer<typeof parcelSchema>>

/** Edits of a draft that wait to be saved, and the saves that are on their way, one after the other. */
export class EditsOutbox {
  /** The first is the one that is on its way, or was: nobody knows. */
  #parcels: Queued[]
  #edits: Edit[]
  /** What was refused alone, while others of the same save are still to go. */
  #refused: Edit[] = []

  constructor(from: Pick<Unsaved, 'parcel' | 'divided' | 'edits'> = { parcel: null, divided: [], edits: [] }) {
    this.#parcels = [...(from.parcel === null ? [] : [from.parcel]), ...from.divided]
    this.#edits = [...from.edits]
  }

  get isEmpty(): boolean {
    return this.#parcels.length === 0 && this.#edits.length === 0 && this.#refused.length === 0
  }

  /** What no answer has come for, in the order in which it was made. */
  get waiting(): readonly Edit[] {
    return [...(this.#parcels[0]?.edits ?? []), ...this.after]
  }

  /** What was made after the save that is on its way. */
  get after(): readonly Edit[] {
    return [...this.#parcels.slice(1).flatMap(({ edits }) => edits), ...this.#refused, ...this.#edits]
  }

  get kept(): Pick<Unsaved, 'parcel' | 'divided' | 'edits'> {
    const [parcel = null, ...divided] = this.#parcels
    return { parcel, divided, edits: [...this.#refused, ...this.#edits] }
  }

  put(edits: readonly Edit[]): void {
    for (const edit of edits) this.#edits = gathered(this.#edits, edit)
  }

  /** What is to be sent next; the same as last time where no answer came. `null` where nothing waits. */
  next(base: number, fresh: () => string): Parcel | null {
    if (this.#parcels.length === 0 && this.#refused.length > 0) return null
    if (this.#parcels.length === 0) {
      if (this.#edits.length === 0) return null
      this.#parcels = [{ save: fresh(), base, edits: this.#edits.slice(0, MOST) }]
      this.#edits = this.#edits.slice(MOST)
    }
    const [first] = this.#parcels
    if (first === undefined) return null
    const parcel = first.base === null ? { ...first, base } : { ...first, base: first.base }
    this.#parcels[0] = parcel
    return parcel
  }

  answered(): void {
    this.#parcels = this.#parcels.slice(1)
  }

  /** A save that was refused whole goes edit by edit: each is a save of its own from now on, under a name that lasts. */
  divide(fresh: () => string): void {
    const [first, ...rest] = this.#parcels
    if (first === undefined) return
    this.#parcels = [...first.edits.map((edit) => ({ save: fresh(), base: null, edits: [edit] })), ...rest]
  }

  /** A save that was refused alone keeps none of the others back. */
  setAside(): void {
    const [first] = this.#parcels
    if (first !== undefined) this.#refused = [...this.#refused, ...first.edits]
    this.answered()
  }

  /** A save that was refused is not tried again as it was: its edits wait with the others, in their order. */
  refused(): void {
    const all = [...this.#refused, ...this.#parcels.flatMap(({ edits }) => edits)]
    const later = this.#edits
    this.#parcels = []
    this.#refused = []
    this.#edits = [...all]
    this.put(later)
  }

  clear(): void {
    this.#parcels = []
    this.#refused = []
    this.#edits = []
  }
}
