import { RehearseScreen } from '@/studio/rehearse/rehearse-screen'
import { requireAccount } from '../session'

export const metadata = { title: 'Rehearse' }

export default async function Page({ searchParams }: { searchParams: Promise<{ test?: string }> }) {
  return <RehearseScreen account={await requireAccount()} chosen={(await searchParams).test ?? null} />
}
