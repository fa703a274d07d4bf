import { SettingsScreen } from '@/studio/settings/settings-screen'
import { requireAccount } from '../session'

export const metadata = { title: 'Settings' }

export default async function Page() {
  return <SettingsScreen account={await requireAccount()} />
}
