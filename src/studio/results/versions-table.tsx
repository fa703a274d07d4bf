import type { ReactNode } from 'react'
import type { ResultView } from '@/contract/contract'
import { VersionMark } from '../frame/marks'

interface Props {
  readonly caption: string
  /** What stands in each line. */
  readonly first: string
  readonly rates: readonly Pick<ResultView['rates'][number], 'version' | 'name'>[]
  readonly children: ReactNode
}

/** A table with a column for each version; with many of them it scrolls by itself. */
export function VersionsTable({ caption, first, rates, children }: Props) {
  return (
    <div className="table-scroll">
      <table className="rows figures by-version">
        <caption>{caption}</caption>
        <thead>
          <tr>
            <th>{first}</th>
            {rates.map(({ version, name }, index) => (
              <th key={version} className="number">
                <VersionMark index={index} /> {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>{children}</tbody>
      </table>
    </div>
  )
}
