import { TodayScreen } from '@/studio/today/today-screen'
import { requireAccount } from './session'

export default async function Page() {
  return <TodayScreen account={await requireAccount()} />
}
