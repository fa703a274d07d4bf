'use client'

import type { AccountView } from '@/contract/contract'
import type { DocumentId } from '@/core/ids'
import { CallDesk } from '../call/call-desk'
import { Screen, Waiting } from '../frame/screen'
import { MenuDesk } from '../menu/menu-desk'
import { PageDesk } from '../page/page-desk'
import { StyleDesk } from '../style/style-desk'
import { useAsk } from '../talk'

const desks = {
  page: PageDesk,
  template: PageDesk,
  shared: PageDesk,
  menu: MenuDesk,
  callToAction: CallDesk,
  style: StyleDesk,
} as const

/** A document on the desk that suits its kind. */
export function DocumentScreen({ account, document }: { account: AccountView; document: DocumentId }) {
  const asked = useAsk('document.open', { document }, { every: 8000 })
  if (asked.data === undefined)
    return <Screen account={account} sheet={<Waiting error={asked.error} again={() => void asked.refetch()} />} margin={null} />
  const Desk = desks[asked.data.document.kind]
  return <Desk key={document} account={account} view={asked.data} refetch={() => void asked.refetch()} />
}
