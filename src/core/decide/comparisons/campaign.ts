import * as z from 'zod'
import { comparisonKind } from './comparison'

const schema = z.object({
  kind: z.literal('campaign'),
  campaign: z.string().trim().min(1, 'name the campaign').max(80),
})

export const campaign = comparisonKind(schema, {
  label: 'came by the campaign',
  after: '',
  words: (comparison) => `came by the campaign ${comparison.campaign}`,
  holds: (comparison, visitor) => visitor.campaign?.toLowerCase() === comparison.campaign.toLowerCase(),
  begins: () => ({ kind: 'campaign', campaign: 'name' }),
})
