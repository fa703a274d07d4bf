'use client'

import dynamic from 'next/dynamic'
import { useState } from 'react'
import type { Output } from '@/contract/contract'
import { decoded } from '@/core/formats/decoded'
import { FileFault } from '@/core/formats/fault'
import { useMessages } from '../frame/messages'
import { FileChoice } from '../controls/file-choice'
import { Refused, talk } from '../talk'

const OrdersSheet = dynamic(() => import('./orders-sheet').then((room) => room.OrdersSheet), { ssr: false })

/** Orders and conversions from a table, which is looked at before it is brought in. */
export function BringOrders() {
  const message = useMessages()
  const [table, setTable] = useState<{ readonly text: string; readonly preview: Output<'order.preview'> } | null>(null)
  const look = async (file: File) => {
    try {
      const { text } = decoded(new Uint8Array(await file.arrayBuffer()))
      setTable({ text, preview: await talk('order.preview', { text }) })
    } catch (reason) {
      const known = reason instanceof FileFault || reason instanceof Refused
      message.error(known ? reason.message : 'This file cannot be read.', 8)
    }
  }
  return (
    <>
      <FileChoice label="Table of orders" accept=".csv,text/csv,text/plain" take={(file) => void look(file)}>
        Bring in orders
      </FileChoice>
      {table === null ? null : <OrdersSheet {...table} close={() => setTable(null)} />}
    </>
  )
}
