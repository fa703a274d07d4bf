import * as z from 'zod'
import { testIdSchema, versionIdSchema } from '../../ids'
import type { Visitor } from '../visitor'
import { comparisonKind, oneOf } from './comparison'

const schema = z.object({ kind: z.literal('given'), test: testIdSchema, version: versionIdSchema, given: z.boolean() })

/** Which version of a test this browser was given, as long as it keeps it: while the test ran and after it. */
export const given = comparisonKind(schema, {
  label: 'was given',
  sentence: (comparison, { tests }) => {
    const options = tests.flatMap(({ id, name, versions }) =>
      versions.map((version) => ({ value: `${id} ${version.id}`, label: `‘${version.name}’ in “${name}”` })),
    )
    const value = `${comparison.test} ${comparison.version}`
    return [
      {
        control: 'choice',
        label: 'Version of a test',
        value,
        options: options.some((one) => one.value === value)
          ? options
          : [...options, { value, label: 'a version of a test that is gone' }],
        put: (to) => {
          const test = tests.find(({ id, versions }) => versions.some((version) => `${id} ${version.id}` === to))
          const version = test?.versions.find(({ id }) => `${test.id} ${id}` === to)
          return test === undefined || version === undefined ? null : { ...comparison, test: test.id, version: version.id }
        },
      },
      oneOf('Given', comparison.given ? 'given' : 'not', { given: 'before', not: 'never' }, (code) => ({
        ...comparison,
        given: code === 'given',
      })),
    ]
  },
  holds: ({ test, version, given: wanted }, { kept }) => wasGiven(kept, test, version) === wanted,
  begins: ({ tests: [test] }) => {
    const version = test?.versions[1] ?? test?.versions[0]
    return test === undefined || version === undefined ? null : { kind: 'given', test: test.id, version: version.id, given: true }
  },
  remembered: true,
})

/** Whoever was drawn anew keeps it under a name with a number behind it. */
function wasGiven(kept: Visitor['kept'], test: string, version: string): boolean {
  for (const [name, own] of kept) if (own === version && (name === test || name.startsWith(`${test}-g`))) return true
  return false
}
