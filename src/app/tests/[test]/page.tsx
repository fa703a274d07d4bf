import { notFound } from 'next/navigation'
import { testIdSchema } from '@/core/ids'
import { TestScreen } from '@/studio/test/test-screen'
import { First } from '../../first'
import { requireAccount } from '../../session'
import { titled } from '../../titled'

export async function generateMetadata({ params }: { params: Promise<{ test: string }> }) {
  const id = testIdSchema.safeParse((await params).test)
  return titled(id.success ? { kind: 'test', id: id.data } : null, 'Test')
}

export default async function Page({ params }: { params: Promise<{ test: string }> }) {
  const account = await requireAccount()
  const id = testIdSchema.safeParse((await params).test)
  if (!id.success) notFound()
  const test = id.data
  return (
    <First
      account={account}
      asks={[
        ['test.open', { test }],
        ['result.read', { test, round: null, crowd: 0, goal: null }],
        ['site.madeUp', {}],
      ]}
    >
      <TestScreen account={account} test={test} />
    </First>
  )
}
