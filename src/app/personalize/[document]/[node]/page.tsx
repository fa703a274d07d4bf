import { notFound } from 'next/navigation'
import { partSchema } from '@/core/experiment'
import { GainScreen } from '@/studio/personalize/gain-screen'
import { requireAccount } from '../../../session'

export const metadata = { title: 'What its rules gain' }

export default async function Page({ params }: { params: Promise<{ document: string; node: string }> }) {
  const account = await requireAccount()
  const part = partSchema.safeParse(await params)
  if (!part.success) notFound()
  return <GainScreen account={account} part={part.data} />
}
