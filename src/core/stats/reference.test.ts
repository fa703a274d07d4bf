import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import * as z from 'zod'
import { families } from './families'

/*
 * Values from 50-digit arithmetic, compared with R, SciPy and statsmodels (each file names its source). A number passes
 * when |got − want| <= tolerance·|want| + absolute.
 */
const familySchema = z.object({
  tolerance: z.number(),
  absolute: z.record(z.string(), z.number()),
  cases: z.array(
    z.object({
      input: z.record(z.string(), z.unknown()),
      expected: z.record(z.string(), z.unknown()),
      tolerance: z.number().optional(),
    }),
  ),
})

describe.each(Object.entries(families))('%s reproduces its reference values', (name, compute) => {
  const text = readFileSync(join(__dirname, 'reference', `${name}.json`), 'utf8')
  const family = familySchema.parse(JSON.parse(text))

  test.each(family.cases.map(({ input, ...rest }) => [JSON.stringify(input), input, rest] as const))(
    '%s',
    (_, input, { expected, tolerance }) => {
      const got = compute(input)
      for (const [field, want] of Object.entries(expected)) {
        const key = name === 'distribution' && typeof input.function === 'string' ? input.function : field
        const absolute = family.absolute[key] ?? family.absolute.default ?? 0
        expectNear(`${field}`, got[field], want, tolerance ?? family.tolerance, absolute)
      }
    },
  )
})

function expectNear(field: string, got: unknown, want: unknown, tolerance: number, absolute: number): void {
  if (Array.isArray(want)) {
    expect(got).toHaveLength(want.length)
    want.forEach((part, index) => expectNear(field, Array.isArray(got) ? got[index] : undefined, part, tolerance, absolute))
  } else if (typeof want === 'number') {
    const near = typeof got === 'number' && Math.abs(got - want) <= tolerance * Math.abs(want) + absolute
    expect(`${field}: ${near ? want : String(got)}`).toBe(`${field}: ${want}`)
  } else if (typeof want === 'object' && want !== null) {
    const found = (got ?? {}) as Record<string, unknown>
    for (const [key, part] of Object.entries(want)) expectNear(`${field}.${key}`, found[key], part, tolerance, absolute)
  } else if (want === 'Infinity' || want === '-Infinity') expect(got).toBe(Number(want))
  else expect(got).toEqual(want)
}
