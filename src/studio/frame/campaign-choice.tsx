'use client'

import { Select } from 'antd'
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
    <Select
      id={id}
      aria-label="Campaign"
      className="broad"
      showSearch
      optionFilterProp="label"
      value={value}
      disabled={disabled}
      options={[{ value: '', label: none }, ...names.map((name) => ({ value: name, label: name }))]}
      onChange={change}
    />
  )
}
