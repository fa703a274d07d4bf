import { notFound } from 'next/navigation'
import { testIdSchema } from '@/core/ids'
import { TestScreen } from '@/studio/test/test-screen'
import { requireAccount } from '../../session'

export const metadata = { title: 'Test' }

export default async function Page({ params }: { params: Promise<{ test: string }> }) {
  const account = await requireAccount()
  const id = testIdSchema.safeParse((await params).test)
  if (!id.success) notFound()
  return <TestScreen account={account} test={id.data} />
}
