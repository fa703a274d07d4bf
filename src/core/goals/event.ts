import * as z from 'zod'
import { documentIdSchema, nodeIdSchema, roundIdSchema, versionIdSchema } from '../ids'

const round = { round: roundIdSchema, version: versionIdSchema }
const document = documentIdSchema

/** What can happen, as it is kept on its way to being counted. */
export const happeningSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('assigned'), ...round }),
  z.object({ kind: z.literal('seen'), ...round }),
  z.object({
    kind: z.literal('page'),
    document,
    path: z.string(),
    pageType: z.string(),
    /** The first page of a visit, with where the visitor came from and on what; `null` for every other page. */
    arrival: z.object({ source: z.string(), device: z.string() }).nullable(),
  }),
  /** A call to action was really seen. */
  z.object({ kind: z.literal('call'), document, call: documentIdSchema }),
  /** `nodes`: the component that was pressed, then those it stands in, from the inside out. */
  z.object({
    kind: z.literal('click'),
    document,
    nodes: z.array(nodeIdSchema).readonly(),
    markers: z.array(z.string()).readonly(),
  }),
  z.object({ kind: z.literal('form'), document, nodes: z.array(nodeIdSchema).readonly() }),
  z.object({ kind: z.literal('outbound'), document, address: z.string() }),
  z.object({ kind: z.literal('read'), document, node: nodeIdSchema }),
  z.object({ kind: z.literal('stay'), document, seconds: z.number() }),
  /** `value` in the site's currency; below zero for a refund of the order with this number. */
  z.object({ kind: z.literal('order'), order: z.string(), value: z.number() }),
  z.object({ kind: z.literal('event'), name: z.string(), value: z.number().nullable() }),
  /** A call to action in a newsletter that was opened, or whose link was followed, by whom it was sent to. */
  z.object({
    kind: z.literal('letter'),
    call: documentIdSchema,
    letter: z.number(),
    recipient: z.string(),
    did: z.enum(['shown', 'followed']),
  }),
])
export type Happening = Readonly<z.infer<typeof happeningSchema>>

/** Something a visitor did or was shown, with the moment at which it counts. */
export type VisitorEvent = { readonly visitor: string; readonly at: Date } & Happening
