import { dehydrate, HydrationBoundary, QueryClient } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import type { AccountView, ActionName, Input } from '@/contract/contract'
import { readFirst } from './read-first'

/** A question that a screen asks as soon as it is there. */
type Question = { readonly [Name in ActionName]: readonly [Name, Input<Name>] }[ActionName]

/** A screen with the answers to what it asks at once, so that nothing on it moves when they come. */
export async function First({
  account,
  asks,
  children,
}: {
  account: AccountView
  asks: readonly Question[]
  children: ReactNode
}) {
  const client = new QueryClient()
  await Promise.all(
    asks.map(async (question) => {
      const answer = await readFirst(question[0], question[1] as never, account)
      if (answer !== undefined) client.setQueryData([...question], answer)
    }),
  )
  return <HydrationBoundary state={dehydrate(client)}>{children}</HydrationBoundary>
}
