'use client'

import { SheetOver } from '../controls/sheet-over'
import { Choice } from '../controls/choices'
import { useState } from 'react'
import type { CsvField, CsvMapping, Output } from '@/contract/contract'
import type { OrderPreview } from './bring-orders'
import { TakingBar } from './taking-bar'
import { useMessages } from '../frame/messages'
import { count, plural } from '../frame/wording'
import { useAsk, useTell } from '../talk'

const decimalWords = [
  { value: '.', label: 'a point, as in 1,234.50' },
  { value: ',', label: 'a comma, as in 1.234,50' },
] as const

const dayWords = [
  { value: 'dayFirst', label: 'day first: 31/12/2026' },
  { value: 'monthFirst', label: 'month first: 12/31/2026' },
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
export function OrdersSheet({ preview, close }: { preview: OrderPreview; close: () => void }) {
  const message = useMessages()
  const { table } = preview
  const [mapping, setMapping] = useState<CsvMapping>(preview.mapping)
  const [isAsked, setAsked] = useState(false)
  const take = useTell('order.take', () => setAsked(true))
  const bringIn = () => take.mutate({ table, mapping }, { onError: (reason) => void message.error(reason.message, 8) })
  const { data: progress } = useAsk(
    'order.progress',
    { table },
    { enabled: isAsked, every: (last) => (last === undefined || last.state === 'reading' ? 500 : false) },
  )
  const found = foundIn(preview, mapping)
  return (
    <SheetOver
      wide={860}
      title={isAsked ? titles[progress?.state ?? 'reading'] : `${plural(preview.lines, 'line', 'lines')} to bring in`}
      {...(isAsked
        ? {}
        : {
            act: {
              words: 'Bring them in',
              go: bringIn,
              busy: take.isPending,
              disabled: isTwofold(found.decimal) || isTwofold(found.dayOrder),
            },
          })}
      close={close}
    >
      {isAsked ? (
        <Going progress={progress} />
      ) : (
        <Columns preview={preview} mapping={mapping} found={found} change={setMapping} />
      )}
    </SheetOver>
  )
}

const titles: Readonly<Record<Output<'order.progress'>['state'], string>> = {
  reading: 'Being brought in',
  done: 'Brought in',
  refused: 'Not brought in',
}

function Going({ progress }: { progress: Output<'order.progress'> | undefined }) {
  if (progress === undefined) return <p className="quiet">The table waits for its turn.</p>
  if (progress.state === 'refused') return <p role="alert">{progress.fault} Nothing of it was taken.</p>
  if (progress.state === 'done') return <Report report={progress.report} />
  return (
    <>
      <TakingBar progress={progress} />
      <p className="quiet">It goes on when this is closed. The list of goals shows how far it is.</p>
    </>
  )
}

type Twofold<Of> = Of | 'none' | 'unclear' | 'both'
interface Found {
  readonly decimal: Twofold<'.' | ','>
  readonly dayOrder: Twofold<'dayFirst' | 'monthFirst'>
}
const isTwofold = (found: string) => found === 'unclear' || found === 'both'

/** What the chosen columns say, or somebody said of them. */
function foundIn({ decimals, dayOrders }: OrderPreview, { value, at, decimal, dayOrder }: CsvMapping): Found {
  return {
    decimal: decimal ?? (value === null ? 'none' : (decimals[value] ?? 'none')),
    dayOrder: dayOrder ?? (at === null ? 'none' : (dayOrders[at] ?? 'none')),
  }
}

function Columns({
  preview,
  mapping,
  found,
  change,
}: {
  preview: OrderPreview
  mapping: CsvMapping
  found: Found
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
                change({
                  ...mapping,
                  [field]: chosen,
                  ...(field === 'value' ? { decimal: null } : field === 'at' ? { dayOrder: null } : {}),
                })
              }
            />
          </label>
        ))}
        <label>
          <span>Before the cents</span>
          <Choice
            aria-label="What stands before the cents"
            invalid={isTwofold(found.decimal)}
            placeholder="say which"
            value={found.decimal === '.' || found.decimal === ',' ? found.decimal : found.decimal === 'none' ? '.' : null}
            options={[...decimalWords]}
            change={(decimal) => change({ ...mapping, decimal })}
          />
        </label>
        <label>
          <span>Date order</span>
          <Choice
            aria-label="Date order"
            invalid={isTwofold(found.dayOrder)}
            placeholder="say which"
            value={
              found.dayOrder === 'dayFirst' || found.dayOrder === 'monthFirst'
                ? found.dayOrder
                : found.dayOrder === 'none'
                  ? 'dayFirst'
                  : null
            }
            options={[...dayWords]}
            change={(dayOrder) => change({ ...mapping, dayOrder })}
          />
        </label>
      </div>
      {isTwofold(found.decimal) ? (
        <p className="field-fault" role="alert">
          {found.decimal === 'both'
            ? 'Some amounts have a comma before the cents and others a point. Say which of them is meant.'
            : 'The amounts can be read in two ways: 1.234 may be more than a thousand, or a little more than one. Say what stands before the cents.'}
        </p>
      ) : null}
      {isTwofold(found.dayOrder) ? (
        <p className="field-fault" role="alert">
          {found.dayOrder === 'both'
            ? 'In some dates the day comes first and in others the month. Say which of them is meant.'
            : 'The dates can be read in two ways: 3/4/2026 may be in March or in April. Say what comes first.'}
        </p>
      ) : null}
      <p className="quiet">A time without a zone is read by the clock of {preview.timeZone}, the site’s.</p>
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

function Report({ report }: { report: Output<'order.progress'>['report'] }) {
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
