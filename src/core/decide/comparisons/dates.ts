import * as z from 'zod'
import { comparisonKind, type Word } from './comparison'

/** Days of the site’s calendar, both of them still in it; `null`: without a beginning, or without an end. */
const schema = z
  .object({ kind: z.literal('dates'), from: z.iso.date().nullable(), until: z.iso.date().nullable() })
  .refine(({ from, until }) => from === null || until === null || from <= until, 'the last day is before the first')

type Dates = z.infer<typeof schema>

export const dates = comparisonKind(schema, {
  label: 'comes from',
  sentence: (comparison) => [
    dated('First day', comparison.from, (from) => ({ ...comparison, from })),
    'until',
    dated('Last day', comparison.until, (until) => ({ ...comparison, until })),
  ],
  holds: ({ from, until }, { moment: { day } }) => (from === null || day >= from) && (until === null || day <= until),
  begins: () => ({ kind: 'dates', from: null, until: null }),
  // How many came on other days says nothing of these.
  remembered: false,
})

function dated(label: string, value: string | null, put: (day: string | null) => Dates): Word<Dates> {
  return { control: 'day', label, value, put: (day) => (day === null || z.iso.date().safeParse(day).success ? put(day) : null) }
}
