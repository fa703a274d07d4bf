import * as z from 'zod'
import { conditionSchema, segmentSchema } from '@/core/decide'
import { documentKinds, editSchema, MOST_CHILDREN, type DocumentKind } from '@/core/document'
import { designSchema, versionSchema } from '@/core/experiment'
import { goalSchema } from '@/core/goals'
import { documentIdSchema, nodeIdSchema } from '@/core/ids'
import type { Field } from '../component-type'
import { componentTypes, rootTypes, type KnownType } from '../types'
import type { Branch, BranchEdit } from './branch'

/** A link that leads nowhere here is left open, and said; the rest is as the product takes it. */
const LONGEST_LINK = 500

function fieldSchema(field: Field): z.ZodType {
  return (field.control === 'link' ? z.string().max(LONGEST_LINK) : field.schema).optional()
}

const branches = new Map<string, z.ZodType<Branch>>()

/** A part of this type: its own fields and no others, and what may stand in it. */
function branchSchema({ type, label, fields, holds }: KnownType): z.ZodType<Branch> {
  const inner = z.lazy(() => oneOf(holds))
  return z
    .strictObject({
      id: nodeIdSchema.optional(),
      type: z.literal(type),
      props: z
        .strictObject(Object.fromEntries(Object.entries(fields).map(([name, field]) => [name, fieldSchema(field)])))
        .optional(),
      ...(holds.length === 0
        ? { children: z.array(z.never()).max(0).optional() }
        : { children: z.array(inner).max(MOST_CHILDREN).optional() }),
    })
    .meta({ id: type, description: `A ${label}.` }) as unknown as z.ZodType<Branch>
}
for (const [name, type] of componentTypes) branches.set(name, branchSchema(type))

function branchNamed(type: string): z.ZodType<Branch> {
  const found = branches.get(type)
  if (found === undefined) throw new RangeError(`there is no component type “${type}”`)
  return found
}

function oneOf(types: readonly string[]): z.ZodType<Branch> {
  const [first, second, ...rest] = types.map(branchNamed)
  if (first === undefined) return z.never()
  return second === undefined
    ? first
    : (z.discriminatedUnion('type', [first, second, ...rest] as never) as unknown as z.ZodType<Branch>)
}

const [set, insert, ...otherEdits] = editSchema.options
const branchEdit = z.discriminatedUnion('kind', [
  set,
  z.object({ ...insert.shape, tree: oneOf([...componentTypes.keys()]) }),
  ...otherEdits,
]) as unknown as z.ZodType<BranchEdit>

const branchVersion = z.object({ ...versionSchema.shape, edits: z.array(branchEdit).max(500) })

const documentOf = (kind: DocumentKind) =>
  z.object({ id: documentIdSchema, kind: z.literal(kind), root: branchNamed(rootTypes[kind]) })
const [page, ...otherKinds] = documentKinds
const branchDocument = z.discriminatedUnion('kind', [documentOf(page), ...otherKinds.map(documentOf)])

const segments = z.array(segmentSchema).max(200)

const about = { format: z.literal('upbeat-sprig'), version: z.literal(2) }

/** A document, a version of a part, a test, segments, or the rules of a part, as a file of its own. */
export const exchangeSchema = z.discriminatedUnion('kind', [
  z.object({ ...about, kind: z.literal('document'), document: branchDocument }),
  z.object({
    ...about,
    kind: z.literal('variant'),
    document: documentIdSchema,
    node: nodeIdSchema,
    variant: branchVersion,
  }),
  z.object({
    ...about,
    kind: z.literal('test'),
    design: designSchema,
    /** Every version of the test's parts, with the part it is of. */
    versions: z.array(branchVersion.extend({ part: z.number().int().min(0).max(3) })).max(200),
    goals: z.array(goalSchema).max(100),
  }),
  z.object({ ...about, kind: z.literal('segments'), segments }),
  z.object({
    ...about,
    kind: z.literal('rules'),
    document: documentIdSchema,
    node: nodeIdSchema,
    /** Those that the rules name. */
    segments,
    /** In their order: the first that fits is shown. */
    rules: z.array(branchVersion.extend({ condition: conditionSchema })).max(50),
  }),
])

/**
 * The published schema (JSON Schema 2020-12), made from the schemas that check what comes in.
 *
 * @param id where it is to be had, which is its name
 */
export function exchangeJsonSchema(id: string): string {
  const schema = z.toJSONSchema(exchangeSchema, { io: 'input' })
  const description =
    'A document has at most 3000 parts, 40 deep. Ids of parts are kept where no other part has them; a part without one gets one. A version stands in a test once.'
  return `${JSON.stringify({ $id: id, title: 'Upbeat Sprig: documents, variants, tests, segments and rules', description, ...schema }, null, 2)}\n`
}
