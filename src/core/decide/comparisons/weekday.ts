import * as z from 'zod'
import { comparisonKind } from './comparison'

const names = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']
/** Monday is 1, Sunday is 7 (ISO 8601), by the site’s calendar. */
const schema = z.object({ kind: z.literal('weekday'), days: z.array(z.number().int().min(1).max(7)).min(1).max(7) })

export const weekday = comparisonKind(schema, {
  label: 'comes on',
  sentence: (comparison) => [
    {
      control: 'several',
      label: 'Days of the week',
      values: comparison.days.map(String),
      options: names.map((name, index) => ({ value: String(index + 1), label: name })),
      put: (values) => {
        const days = [...new Set(values.map(Number))].filter((day) => day >= 1 && day <= 7).sort((one, other) => one - other)
        return days.length === 0 ? null : { ...comparison, days }
      },
    },
  ],
  holds: ({ days }, { moment }) => days.includes(moment.weekday),
  begins: () => ({ kind: 'weekday', days: [6, 7] }),
  remembered: true,
})
