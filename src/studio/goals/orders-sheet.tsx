'use client'

import { SheetOver } from '../controls/sheet-over'
import { Choice } from '../controls/choices'
import { useState } from 'react'
import type { CsvField, CsvMapping, Output } from '@/contract/contract'
import { useMessages } from '../frame/messages'
import { count, plural } from '../frame/wording'
import { useTell } from '../talk'

const decimalWords = [
  { value: '.', label: 'a point, as in 1,234.50' },
  { value: ',', label: 'a comma, as in 1.234,50' },
] as const

const fieldWords: Readonly<Record<CsvField, string>> = {
  number: 'Order number',
  at: 'When',
  value: 'Value',
  visitor: 'Visitor',
  event: 'Name of the event',
  kind: 'Kind (order, refund)',
  currency: 'Currency',
}

/** What each column of a table is, as far as can be seen; then it is brought in, with a report of what was not taken. */
export function OrdersSheet({ text, preview, close }: { text: string; preview: Output<'order.preview'>; close: () => void }) {
  const message = useMessages()
  const [mapping, setMapping] = useState<CsvMapping>(preview.mapping)
  const [report, setReport] = useState<Output<'order.take'> | null>(null)
  const take = useTell('order.take', setReport)
  const bringIn = () => take.mutate({ text, mapping }, { onError: (reason) => void message.error(reason.message, 8) })
  const found = mapping.value === null ? 'none' : (preview.decimals[mapping.value] ?? 'none')
  const isOpen = mapping.decimal === null && (found === 'unclear' || found === 'both')
  return (
    <SheetOver
      wide={860}
      title={report === null ? `${plural(preview.lines, 'line', 'lines')} to bring in` : 'Brought in'}
      act={{
        words: report === null ? 'Bring them in' : 'Done',
        go: report === null ? bringIn : close,
        busy: take.isPending,
        disabled: isOpen,
      }}
      close={close}
    >
      {report === null ? (
        <Columns preview={preview} mapping={mapping} found={found} isOpen={isOpen} change={setMapping} />
      ) : (
        <Report report={report} />
      )}
    </SheetOver>
  )
}

function Columns({
  preview,
  mapping,
  found,
  isOpen,
  change,
}: {
  preview: Output<'order.preview'>
  mapping: CsvMapping
  found: Output<'order.preview'>['decimals'][number] | 'none'
  isOpen: boolean
  change: (mapping: CsvMapping) => void
}) {
  return (
    <>
      <p className="quiet">
        Say what each column is. A line with an order number is an order; one without is a conversion by the name of its event. A
        line that was brought in before is passed over.
      </p>
      <div className="csv-mapping">
        {(Object.keys(fieldWords) as CsvField[]).map((field) => (
          <label key={field}>
            <span>{fieldWords[field]}</span>
            <Choice
              aria-label={fieldWords[field]}
              value={mapping[field]}
              options={[
                { value: null, label: 'not in the table' },
                ...preview.columns.map((label, index) => ({ value: index, label: label || `column ${index + 1}` })),
              ]}
              change={(chosen: number | null) =>
                change({ ...mapping, [field]: chosen, ...(field === 'value' ? { decimal: null } : {}) })
              }
            />
          </label>
        ))}
        <label>
          <span>Before the cents</span>
          <Choice
            aria-label="What stands before the cents"
            invalid={isOpen}
            placeholder="say which"
            value={mapping.decimal ?? (found === '.' || found === ',' ? found : found === 'none' ? '.' : null)}
            options={[...decimalWords]}
            change={(decimal) => change({ ...mapping, decimal })}
          />
        </label>
      </div>
      <p className={isOpen ? 'field-fault' : 'quiet'} role={isOpen ? 'alert' : undefined}>
        {isOpen
          ? found === 'both'
            ? 'Some amounts have a comma before the cents and others a point. Say which of them is meant.'
            : 'The amounts can be read in two ways: 1.234 may be more than a thousand, or a little more than one. Say what stands before the cents.'
          : `A time without a zone is read by the clock of ${preview.timeZone}, the site’s.`}
      </p>
      <div className="table-scroll">
        <table className="rows">
          <thead>
            <tr>
              {preview.columns.map((name, index) => (
                <th key={index}>{name}</th>
              ))}
            </tr>
          </thead>
          <tbody>
            {preview.rows.map((cells, line) => (
              <tr key={line}>
                {cells.map((cell, index) => (
                  <td key={index}>{cell}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  )
}

function Report({ report }: { report: Output<'order.take'> }) {
  return (
    <>
      <p>
        {plural(report.taken, 'line was', 'lines were')} taken
        {report.known === 0 ? '' : `, ${count(report.known)} had been brought in before`}.
      </p>
      {report.repeatedInAll === 0 ? null : (
        <>
          <p>
            {plural(report.repeatedInAll, 'line repeats', 'lines repeat')} another one of this table and{' '}
            {report.repeatedInAll === 1 ? 'counts' : 'count'} nothing:
          </p>
          <ul className="where-used">
            {report.repeated.map(({ line, fault }) => (
              <li key={line}>
                Line {line}: {fault}
              </li>
            ))}
          </ul>
        </>
      )}
      {report.refusedInAll === 0 ? null : <p>{plural(report.refusedInAll, 'line was', 'lines were')} not taken:</p>}
      <ul className="where-used">
        {report.refused.map(({ line, fault }) => (
          <li key={line}>
            Line {line}: {fault}
          </li>
        ))}
      </ul>
    </>
  )
}
