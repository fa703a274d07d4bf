import * as z from 'zod'
import { comparisonKind, written } from './comparison'

const schema = z.object({
  kind: z.literal('campaign'),
  campaign: z.string().trim().min(1, 'name the campaign').max(80),
})

export const campaign = comparisonKind(schema, {
  label: 'came by the campaign',
  sentence: (comparison) => [written('Campaign', comparison.campaign, 80, (to) => ({ ...comparison, campaign: to }))],
  holds: (comparison, { beginning }) => beginning.utm.campaign.toLowerCase() === comparison.campaign.toLowerCase(),
  begins: () => ({ kind: 'campaign', campaign: 'name' }),
  remembered: true,
})
