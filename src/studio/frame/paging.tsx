import { Pagination } from 'antd'
import { useState } from 'react'
import { PAGE_SIZE } from '@/contract/contract'

/** The page of a list that is looked at; back to the first one whenever what is asked for changes. */
export function usePage(asked: string): readonly [number, (page: number) => void] {
  const [at, setAt] = useState({ asked, page: 1 })
  return [at.asked === asked ? at.page : 1, (page) => setAt({ asked, page })]
}

/** The way through a list that is longer than a page. */
export function Paging({ page, total, turn }: { page: number; total: number; turn: (page: number) => void }) {
  if (total <= PAGE_SIZE) return null
  return (
    <nav className="paging" aria-label="Pages of the list">
      <Pagination current={page} total={total} pageSize={PAGE_SIZE} showSizeChanger={false} onChange={turn} />
    </nav>
  )
}
