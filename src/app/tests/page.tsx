import { TestsScreen } from '@/studio/tests/tests-screen'
import { requireAccount } from '../session'

export const metadata = { title: 'Tests' }

export default async function Page() {
  return <TestsScreen account={await requireAccount()} />
}
