import { useState } from 'react'
import { PAGE_SIZE } from '@/contract/contract'
import { count } from './wording'

/** The page of a list that is looked at; back to the first one whenever what is asked for changes. */
export function usePage(asked: string): readonly [number, (page: number) => void] {
  const [at, setAt] = useState({ asked, page: 1 })
  return [at.asked === asked ? at.page : 1, (page) => setAt({ asked, page })]
}

/** The way through a list that is longer than a page. */
export function Paging({ page, total, turn }: { page: number; total: number; turn: (page: number) => void }) {
  if (total <= PAGE_SIZE) return null
  const last = Math.ceil(total / PAGE_SIZE)
  return (
    <nav className="paging" aria-label="Pages of the list">
      <button type="button" disabled={page <= 1} onClick={() => turn(page - 1)}>
        Before
      </button>
      <label>
        Page{' '}
        <select className="control" value={page} onChange={({ target }) => turn(Number(target.value))}>
          {Array.from({ length: last }, (_, index) => (
            <option key={index} value={index + 1}>
              {count(index + 1)}
            </option>
          ))}
        </select>{' '}
        of {count(last)}
      </label>
      <button type="button" disabled={page >= last} onClick={() => turn(page + 1)}>
        After
      </button>
    </nav>
  )
}
