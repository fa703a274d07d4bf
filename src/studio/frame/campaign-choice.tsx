'use client'

import { useAsk } from '../talk'

/** One of the campaigns, or none. */
export function CampaignChoice({
  id,
  value,
  disabled,
  none = 'No campaign',
  change,
}: {
  id?: string
  value: string
  disabled?: boolean
  none?: string
  change: (campaign: string) => void
}) {
  const asked = useAsk('campaign.list', {})
  const names = [...new Set([...(asked.data?.campaigns ?? []).map(({ name }) => name), ...(value === '' ? [] : [value])])]
  return (
    <select
      id={id}
      aria-label="Campaign"
      className="control"
      value={value}
      disabled={disabled}
      onChange={({ target }) => change(target.value)}
    >
      <option value="">{none}</option>
      {names.map((name) => (
        <option key={name}>{name}</option>
      ))}
    </select>
  )
}
