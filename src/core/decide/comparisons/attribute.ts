import * as z from 'zod'
import { attributeNameSchema, attributeValueSchema } from '../attributes'
import { comparisonKind, oneOf } from './comparison'

const schema = z.object({
  kind: z.literal('attribute'),
  name: attributeNameSchema,
  is: z.boolean(),
  value: attributeValueSchema,
})

/** Such as a membership, or being signed in: only the site itself knows, and says. */
export const attribute = comparisonKind(schema, {
  label: 'as the site says, their',
  sentence: (comparison, { attributes }) => {
    const own = attributes.find(({ name }) => name === comparison.name)
    const named = (values: readonly string[], now: string) =>
      (values.includes(now) ? values : [...values, now]).map((value) => ({ value, label: value }))
    return [
      {
        control: 'choice',
        label: 'Attribute',
        value: comparison.name,
        options: named(
          attributes.map(({ name }) => name),
          comparison.name,
        ),
        put: (to) => {
          const found = attributes.find(({ name }) => name === to)
          const [first] = found?.values ?? []
          return found === undefined || first === undefined ? null : { ...comparison, name: found.name, value: first }
        },
      },
      oneOf('Is', comparison.is ? 'is' : 'not', { is: 'is', not: 'is not' }, (code) => ({ ...comparison, is: code === 'is' })),
      {
        control: 'choice',
        label: 'Value',
        value: comparison.value,
        options: named(own?.values ?? [], comparison.value),
        put: (to) => (own?.values.includes(to) === true ? { ...comparison, value: to } : null),
      },
    ]
  },
  /** Of whom the site says nothing, it is not. */
  holds: ({ name, is, value }, { attributes }) => (attributes.get(name) === value) === is,
  begins: ({ attributes: [first] }) => {
    const [value] = first?.values ?? []
    return first === undefined || value === undefined ? null : { kind: 'attribute', name: first.name, is: true, value }
  },
  remembered: true,
})
