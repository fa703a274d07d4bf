'use client'

import dynamic from 'next/dynamic'
import type { AccountView, DocumentView } from '@/contract/contract'
import type { DocumentId } from '@/core/ids'
import { Screen, Waiting } from '../frame/screen'
import { PageDesk } from '../page/page-desk'
import { useAsk } from '../talk'

/* A page is what is opened most; what the others need besides is loaded with them. */
const MenuDesk = dynamic(() => import('../menu/menu-desk').then((room) => room.MenuDesk))
const CallDesk = dynamic(() => import('../call/call-desk').then((room) => room.CallDesk))
const LetterDesk = dynamic(() => import('../letter/letter-desk').then((room) => room.LetterDesk))
const StyleDesk = dynamic(() => import('../style/style-desk').then((room) => room.StyleDesk))

const desks = {
  page: PageDesk,
  template: PageDesk,
  shared: PageDesk,
  menu: MenuDesk,
  callToAction: CallDesk,
  style: StyleDesk,
  letter: LetterDesk,
} as const

/** A document on the desk that suits its kind. */
export function DocumentScreen({
  account,
  document,
  first,
}: {
  account: AccountView
  document: DocumentId
  first: DocumentView | undefined
}) {
  const asked = useAsk('document.open', { document }, { every: 8000, first })
  if (asked.data === undefined)
    return <Screen account={account} sheet={<Waiting error={asked.error} again={() => void asked.refetch()} />} margin={null} />
  const Desk = desks[asked.data.document.kind]
  return <Desk key={document} account={account} view={asked.data} refetch={() => void asked.refetch()} />
}
