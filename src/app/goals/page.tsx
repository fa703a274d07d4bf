import { GoalsScreen } from '@/studio/goals/goals-screen'
import { requireAccount } from '../session'

export const metadata = { title: 'Goals' }

export default async function Page() {
  return <GoalsScreen account={await requireAccount()} />
}
