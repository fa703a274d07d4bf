import { SiteScreen } from '@/studio/site/site-screen'
import { requireAccount } from '../session'

export const metadata = { title: 'Site' }

export default async function Page() {
  return <SiteScreen account={await requireAccount()} />
}
