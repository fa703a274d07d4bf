import { SettingsScreen } from '@/studio/settings/settings-screen'
import { First } from '../first'
import { requireAccount } from '../session'

export const metadata = { title: 'Settings' }

export default async function Page() {
  const account = await requireAccount()
  return (
    <First
      account={account}
      asks={[
        ['setting.read', {}],
        ['key.list', {}],
        ['standIn.read', { page: 1, orders: 1 }],
      ]}
    >
      <SettingsScreen account={account} />
    </First>
  )
}
