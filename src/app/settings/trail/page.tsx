import { redirect } from 'next/navigation'
import { TrailScreen } from '@/studio/settings/trail-screen'
import { requireAccount } from '../../session'

export const metadata = { title: 'Who did what' }

export default async function Page() {
  const account = await requireAccount()
  if (account.role !== 'administrator') redirect('/settings')
  return <TrailScreen account={account} />
}
