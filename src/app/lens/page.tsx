import { LensScreen } from '@/studio/lens/lens-screen'
import { requireAccount } from '../session'

export const metadata = { title: 'Lens' }

export default async function Page() {
  return <LensScreen account={await requireAccount()} />
}
