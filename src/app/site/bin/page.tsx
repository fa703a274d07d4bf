import { BinScreen } from '@/studio/site/bin-screen'
import { requireAccount } from '../../session'

export const metadata = { title: 'The bin' }

export default async function Page() {
  return <BinScreen account={await requireAccount()} />
}
