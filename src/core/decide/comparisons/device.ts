import * as z from 'zod'
import { devices } from '../visitor'
import { comparisonKind, oneOf } from './comparison'

const schema = z.object({ kind: z.literal('device'), device: z.enum(devices) })
const words = { phone: 'phone', tablet: 'tablet', computer: 'computer' } as const

export const device = comparisonKind(schema, {
  label: 'comes with a',
  sentence: (comparison) => [oneOf('Device', comparison.device, words, (to) => ({ ...comparison, device: to }))],
  holds: (comparison, visitor) => visitor.device === comparison.device,
  begins: () => ({ kind: 'device', device: 'phone' as const }),
  remembered: true,
})
