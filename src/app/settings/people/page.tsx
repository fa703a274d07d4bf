import { redirect } from 'next/navigation'
import { PeopleScreen } from '@/studio/settings/people-screen'
import { requireAccount } from '../../session'

export const metadata = { title: 'People' }

export default async function Page() {
  const account = await requireAccount()
  if (account.role !== 'administrator') redirect('/settings')
  return <PeopleScreen account={account} />
}
