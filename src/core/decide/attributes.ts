import * as z from 'zod'
import { NOT_INHERITED } from '../own'

export const MOST_ATTRIBUTES = 20
export const MOST_VALUES = 20

/** Safe in a cookie without escaping, and readable as it is. */
const word = (what: string) =>
  z
    .string()
    .trim()
    .regex(/^[a-z0-9][a-z0-9-]{0,29}$/, `${what} has 1 to 30 of a–z, 0–9 and “-”`)
    .regex(NOT_INHERITED, 'this word cannot be used; choose another')

export const attributeNameSchema = word('the name of an attribute')
export const attributeValueSchema = word('a value')

/** Something that the site says of its visitors, such as their membership, and everything that it can say. */
export const attributeSchema = z.object({
  name: attributeNameSchema,
  values: z
    .array(attributeValueSchema)
    .min(1, 'name at least one value')
    .max(MOST_VALUES, `at most ${MOST_VALUES} values`)
    .refine((values) => new Set(values).size === values.length, 'a value stands there twice'),
})
export type Attribute = Readonly<z.infer<typeof attributeSchema>>

/** All that may be said; what is not in it is never kept of anybody. */
export const attributesSchema = z
  .array(attributeSchema)
  .max(MOST_ATTRIBUTES, `at most ${MOST_ATTRIBUTES} attributes`)
  .refine((all) => new Set(all.map(({ name }) => name)).size === all.length, 'two attributes have one name')

/** Of what is said, what may be: known names with values that they can have. */
export function allowedOf(said: Iterable<readonly [string, string]>, allowed: readonly Attribute[]): Map<string, string> {
  const kept = new Map<string, string>()
  for (const [name, value] of said)
    if (allowed.some((one) => one.name === name && one.values.includes(value))) kept.set(name, value)
  return kept
}
