import { MeScreen } from '@/studio/settings/me-screen'
import { requireAccount } from '../../session'

export const metadata = { title: 'Your account' }

export default async function Page() {
  return <MeScreen account={await requireAccount()} />
}
