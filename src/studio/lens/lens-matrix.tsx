'use client'

import type { Output, SavedVisitor } from '@/contract/contract'
import type { MadeUp } from '@/core/lens'
import { DrawnMiniature } from '../frame/drawn-miniature'
import { Waiting } from '../frame/screen'
import { useAsk } from '../talk'

/** Every saved visitor beside all that varies on the site: what each of them gets, at one glance. */
export function LensMatrix({
  visitor,
  saved,
  choose,
}: {
  visitor: MadeUp
  saved: readonly SavedVisitor[]
  choose: (visitor: MadeUp, document: Output<'lens.matrix'>['columns'][number]['document']) => void
}) {
  const all = [{ name: 'The visitor above', visitor }, ...saved.map((one) => ({ name: one.name, visitor: one.visitor }))]
  const asked = useAsk('lens.matrix', { visitors: all }, { keepLast: true })
  const matrix = asked.data
  if (matrix === undefined) return <Waiting error={asked.error} again={() => void asked.refetch()} />
  if (matrix.columns.length === 0)
    return <p className="empty">Nothing varies on the site: no test runs, and no part is shown by rule.</p>
  return (
    <div className="table-scroll lens-matrix" tabIndex={0} role="region" aria-label="Visitors and parts, wider than the sheet">
      <table>
        <caption className="off-screen">What each visitor is shown of every part that varies</caption>
        <thead>
          <tr>
            <th scope="col">Visitor</th>
            {matrix.columns.map(({ key, title, part, test }) => (
              <th key={key} scope="col">
                {part}
                <span className="quiet">
                  {title} · {test === null ? 'by rule' : 'by chance'}
                </span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {matrix.rows.map(({ name, cells }, row) => (
            <tr key={name}>
              <th scope="row">{name}</th>
              {matrix.columns.map((column, at) => {
                const cell = cells[at]
                const shown = column.versions.find(({ version }) => version === cell?.version) ?? column.versions[0]
                const of = all[row]
                if (cell === undefined || shown === undefined || of === undefined) return <td key={column.key} />
                const words = shown.name === 'Original' ? 'original' : `‘${shown.name}’`
                return (
                  <td key={column.key} className={shown.name === 'Original' ? '' : 'varied'}>
                    <button
                      type="button"
                      aria-label={`${name}: ${column.part}, ${words}. Look at it.`}
                      onClick={() => choose(of.visitor, column.document)}
                    >
                      <span className="miniature">
                        <DrawnMiniature {...shown.miniature} label={shown.name} />
                      </span>
                      <span>{words}</span>
                      <span className="quiet">{whyWords[cell.reason.code]}</span>
                    </button>
                  </td>
                )
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

const whyWords: { readonly [Of in Output<'lens.matrix'>['rows'][number]['cells'][number]['reason']['code']]: string } = {
  leftOut: 'left out',
  paused: 'paused',
  otherAudience: 'not for them',
  outsideShare: 'takes no part',
  kept: 'kept',
  drawn: 'by chance',
  ruleMatched: 'fits the rule',
  heldOut: 'held out',
  noRuleMatched: 'no rule fits',
}
