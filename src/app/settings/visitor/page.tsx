import { redirect } from 'next/navigation'
import { VisitorScreen } from '@/studio/settings/visitor-screen'
import { requireAccount } from '../../session'

export const metadata = { title: 'What is kept of a visitor' }

export default async function Page() {
  const account = await requireAccount()
  if (account.role !== 'administrator') redirect('/settings')
  return <VisitorScreen account={account} />
}
