import { notFound } from 'next/navigation'
import { goalIdSchema } from '@/core/ids'
import { GoalScreen } from '@/studio/goals/goal-screen'
import { First } from '../../first'
import { requireAccount } from '../../session'

export const metadata = { title: 'Goal' }

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
