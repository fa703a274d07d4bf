import { notFound } from 'next/navigation'
import { goalIdSchema } from '@/core/ids'
import { GoalScreen } from '@/studio/goals/goal-screen'
import { First } from '../../first'
import { requireAccount } from '../../session'
import { titled } from '../../titled'

export async function generateMetadata({ params }: { params: Promise<{ goal: string }> }) {
  const id = goalIdSchema.safeParse((await params).goal)
  return titled(id.success ? { kind: 'goal', id: id.data } : null, 'Goal')
}

export default async function Page({ params }: { params: Promise<{ goal: string }> }) {
  const account = await requireAccount()
  const id = goalIdSchema.safeParse((await params).goal)
  if (!id.success) notFound()
  return (
    <First account={account} asks={[['goal.open', { goal: id.data }]]}>
      <GoalScreen account={account} goal={id.data} />
    </First>
  )
}
