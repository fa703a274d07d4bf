import * as z from 'zod'
import { devices } from '../visitor'
import { comparisonKind } from './comparison'

const schema = z.object({ kind: z.literal('device'), device: z.enum(devices) })

export const device = comparisonKind(schema, {
  label: 'comes on a',
  after: '',
  words: (comparison) => `comes on a ${comparison.device}`,
  holds: (comparison, visitor) => visitor.device === comparison.device,
  begins: () => ({ kind: 'device', device: 'phone' as const }),
})
