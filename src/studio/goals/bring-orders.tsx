'use client'

import dynamic from 'next/dynamic'
import { useState } from 'react'
import { csvPreview, type Output } from '@/contract/contract'
import type * as z from 'zod'
import { useMessages } from '../frame/messages'
import { FileChoice } from '../controls/file-choice'
import { send } from '../media/upload'
import { Refused, useAsk } from '../talk'
import { TakingBar } from './taking-bar'

const OrdersSheet = dynamic(() => import('./orders-sheet').then((room) => room.OrdersSheet), { ssr: false })

export type OrderPreview = z.infer<typeof csvPreview>

/** Orders and conversions from a table, which is looked at before it is brought in; that goes on when the sheet is closed. */
export function BringOrders() {
  const message = useMessages()
  const [preview, setPreview] = useState<OrderPreview | null>(null)
  const [sending, setSending] = useState(false)
  const look = async (file: File) => {
    setSending(true)
    try {
      setPreview(csvPreview.parse(await send(`/api/orders?${new URLSearchParams({ title: file.name }).toString()}`, file)))
    } catch (reason) {
      message.error(reason instanceof Refused ? reason.message : 'This file cannot be read.', 8)
    } finally {
      setSending(false)
    }
  }
  return (
    <>
      <FileChoice label="Table of orders" accept=".csv,text/csv,text/plain" busy={sending} take={(file) => void look(file)}>
        Bring in orders
      </FileChoice>
      {preview === null ? null : <OrdersSheet preview={preview} close={() => setPreview(null)} />}
    </>
  )
}

const EVERY = 1000

/** Tables that are being read while nobody looks, a line each. */
export function BeingRead() {
  const asked = useAsk(
    'order.reading',
    {},
    { every: (last) => (last === undefined || last.tables.length > 0 ? EVERY : 10 * EVERY) },
  )
  const tables: Output<'order.reading'>['tables'] = asked.data?.tables ?? []
  return tables.map((table) => <TakingBar key={table.table} progress={table} />)
}
