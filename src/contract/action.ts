import * as z from 'zod'
import { conditionSchema } from '@/core/decide'
import { documentKinds } from '@/core/document'
import { designSchema, manners, partSchema, statuses, versionSchema } from '@/core/experiment'
import { documentIdSchema, nodeIdSchema, testIdSchema } from '@/core/ids'

/** Editors make and prepare; publishers also put live: publish, start, stop, decide; administrators say what may run. */
export const roles = ['editor', 'publisher', 'administrator'] as const

export type Role = (typeof roles)[number]

/** Each role may do what those before it may. */
export function mayAs(role: Role, needed: Role): boolean {
  return roles.indexOf(role) >= roles.indexOf(needed)
}

export const when = z.iso.datetime()

export const lock = z.number().int().min(0)

export const accountView = z.object({ id: z.string(), email: z.string(), name: z.string(), role: z.enum(roles) })
export type AccountView = z.infer<typeof accountView>

export const pageStates = ['draft', 'published', 'changed'] as const

export const share = z.object({ name: z.string(), visits: z.number() })

export const versionView = versionSchema.extend({
  node: nodeIdSchema,
  manner: z.enum(manners),
  condition: conditionSchema.nullable(),
  test: testIdSchema.nullable(),
  lock,
})
export type VersionView = z.infer<typeof versionView>

export const testBrief = z.object({
  id: testIdSchema,
  name: z.string(),
  status: z.enum(statuses),
  /** The part in the document that was opened. */
  node: nodeIdSchema,
  parts: z.array(partSchema),
  arms: designSchema.shape.arms,
})

/** A document as a place where another one is used. */
export const placeLine = z.object({ id: documentIdSchema, kind: z.enum(documentKinds), title: z.string(), path: z.string() })
export type PlaceLine = z.infer<typeof placeLine>

export const day = z.iso.date()

/** Where a part is drawn alone, small, and on how wide a page. */
export const miniatureView = z.object({ address: z.string(), width: z.number() })
export type MiniatureView = z.infer<typeof miniatureView>

export const interval = z.tuple([z.number(), z.number()]).nullable()

/** One action: what it takes, what it gives, who may. Commands change something; the rest only read. */
export interface Action<In extends z.ZodType, Out extends z.ZodType, Changes extends boolean> {
  readonly input: In
  readonly output: Out
  readonly role: Role
  readonly changes: Changes
}

export const action =
  <Changes extends boolean>(role: Role, changes: Changes) =>
  <In extends z.ZodType, Out extends z.ZodType>(input: In, output: Out): Action<In, Out, Changes> => ({
    input,
    output,
    role,
    changes,
  })

export const asks = action('editor', false)
export const edits = action('editor', true)
export const goesLive = action('publisher', true)
export const rulesSite = action('administrator', true)
export const seesAll = action('administrator', false)

export const nothing = z.object({})
export const paging = { page: z.number().int().min(1).max(100_000).default(1), search: z.string().max(120).default('') }
export const PAGE_SIZE = 50
export const listOf = <Line extends z.ZodType>(line: Line) => z.object({ lines: z.array(line), total: z.number() })
