import { parse, type ParseError } from 'jsonc-parser'
import * as z from 'zod'
import { documentSchema } from '../document'
import { designSchema, versionSchema } from '../experiment'
import { goalSchema } from '../goals'
import { documentIdSchema, nodeIdSchema } from '../ids'
import { FileFault } from './fault'

const about = { format: z.literal('upbeat-sprig'), version: z.literal(1) }

/** A document, a version of a part, or a test, as a file of its own. */
export const exchangeSchema = z.discriminatedUnion('kind', [
  z.object({ ...about, kind: z.literal('document'), document: documentSchema }),
  z.object({
    ...about,
    kind: z.literal('variant'),
    document: documentIdSchema,
    node: nodeIdSchema,
    variant: versionSchema,
  }),
  z.object({
    ...about,
    kind: z.literal('test'),
    design: designSchema,
    /** Every version of the test's parts, with the part it is of. */
    versions: z.array(versionSchema.extend({ part: z.number().int().min(0).max(3) })),
    goals: z.array(goalSchema),
  }),
])
export type Exchange = Readonly<z.infer<typeof exchangeSchema>>

export function writeExchange(content: Exchange): string {
  return `${JSON.stringify(content, null, 2)}\n`
}

/** @throws {FileFault} with the line of a mistake in the JSON, or the path of a value that is not allowed */
export function readExchange(text: string): Exchange {
  const parsed = exchangeSchema.safeParse(parseJson(text))
  if (parsed.success) return parsed.data
  const [issue] = parsed.error.issues
  const path = issue?.path.map(String).join(' › ') || 'the whole'
  throw new FileFault(`${path}: ${issue?.message ?? 'not understood'}.`)
}

export function parseJson(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    // The engine does not say where; this parser does.
    const faults: ParseError[] = []
    parse(text, faults, { disallowComments: true, allowEmptyContent: false })
    const before = text.slice(0, faults[0]?.offset ?? 0).split('\n')
    throw new FileFault('This is no JSON from here on.', before.length, (before.at(-1)?.length ?? 0) + 1)
  }
}

/** The published schema (JSON Schema 2020-12), made from the schemas that check what comes in. */
export function exchangeJsonSchema(): string {
  const schema = z.toJSONSchema(exchangeSchema, { io: 'input', unrepresentable: 'any' })
  return `${JSON.stringify({ title: 'Upbeat Sprig: documents, variants and tests', ...schema }, null, 2)}\n`
}
