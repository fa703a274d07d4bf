import { parse } from 'csv-parse/sync'
import * as z from 'zod'
import type { CsvField, CsvMapping } from '@/contract/contract'
import { happenedOutside, outsideReportSchema, type Happening } from '@/core/goals'
import { FileFault } from '@/core/formats'
import { eventIdOf } from '@/site/collect/report'

export interface OrderTable {
  readonly columns: readonly string[]
  readonly rows: readonly { readonly line: number; readonly cells: readonly string[] }[]
}

const recordsSchema = z.array(z.object({ record: z.array(z.string()), info: z.object({ lines: z.number() }) }))

/** A table of orders or conversions (RFC 4180, or with semicolons or tabs); its first line names the columns. @throws {FileFault} */
export function readOrderTable(text: string): OrderTable {
  const [head = ''] = text.split(/\r?\n/, 1)
  const delimiter = [',', ';', '\t'].sort((one, other) => head.split(other).length - head.split(one).length)[0] ?? ','
  let records: z.infer<typeof recordsSchema>
  try {
    const options = { delimiter, bom: true, info: true, trim: true, relax_column_count: true, skip_empty_lines: true } as const
    records = recordsSchema.parse(parse(text, options))
  } catch (reason) {
    throw new FileFault(`This is no table of values: ${reason instanceof Error ? reason.message : 'it cannot be read'}.`)
  }
  const [first, ...rest] = records
  if (first === undefined || first.record.length < 2)
    throw new FileFault('Line 1: the first line has to name at least two columns.')
  return { columns: first.record, rows: rest.map(({ record, info }) => ({ line: info.lines, cells: record })) }
}

const usual: Readonly<Record<CsvField, RegExp>> = {
  number: /^(order|order.?(number|no|id)|number|id|reference)$/i,
  at: /^(at|date|time|when|created|ordered|day|timestamp)/i,
  value: /(value|amount|total|sum|price|revenue|paid)/i,
  visitor: /(visitor|sprig)/i,
  event: /(event|goal|what)/i,
  kind: /(kind|type)/i,
  currency: /(currency|iso)/i,
}

/** The columns as their names suggest. */
export function guessMapping(columns: readonly string[]): CsvMapping {
  const column = (field: CsvField) => {
    const found = columns.findIndex((name) => usual[field].test(name.trim()))
    return found < 0 ? null : found
  }
  return {
    number: column('number'),
    at: column('at'),
    value: column('value'),
    visitor: column('visitor'),
    event: column('event'),
    kind: column('kind'),
    currency: column('currency'),
  }
}

export type TableLine =
  | { readonly line: number; readonly id: string; readonly visitor: string; readonly at: Date; readonly happening: Happening }
  | { readonly line: number; readonly fault: string }

/**
 * The lines of a table as what happened. A line with an order number is an order, or a refund where its kind or its sign
 * says so; one without is a conversion by the name of its event. The same line makes the same id, so a table can be
 * brought in twice.
 */
export function readLines({ columns, rows }: OrderTable, mapping: CsvMapping, now: number, currency: string): TableLine[] {
  return rows.map(({ line, cells }): TableLine => {
    if (cells.length !== columns.length)
      return { line, fault: `it has ${cells.length} values where ${columns.length} columns are named` }
    const cell = (field: CsvField) => {
      const at = mapping[field]
      return at === null ? '' : (cells[at] ?? '').trim()
    }
    const amount = cell('value') === '' ? undefined : amountOf(cell('value'))
    if (amount !== undefined && Number.isNaN(amount)) return { line, fault: `“${cell('value')}” is no amount` }
    const at = cell('at') === '' ? undefined : momentOf(cell('at'), now)
    if (at === null) return { line, fault: `“${cell('at')}” is no date; write 2026-03-02 or 2026-03-02T10:00:00Z` }
    const number = cell('number')
    const shared = {
      id: `line ${number || cells.join(' ')}`.slice(0, 120),
      ...(at === undefined ? {} : { at }),
      ...(cell('visitor') === '' ? {} : { visitor: cell('visitor') }),
      ...(cell('currency') === '' ? {} : { currency: cell('currency').toUpperCase() }),
    }
    const isRefund = (amount ?? 0) < 0 || /^(refund|return|credit)/i.test(cell('kind'))
    const value = amount === undefined ? {} : { value: Math.abs(amount) }
    const read = outsideReportSchema.safeParse(
      number === ''
        ? { ...shared, kind: 'event', name: cell('event'), ...value }
        : { ...shared, kind: isRefund ? 'refund' : 'order', order: number, ...value },
    )
    if (!read.success)
      return { line, fault: `${read.error.issues[0]?.path.join('.') ?? ''}: ${read.error.issues[0]?.message ?? ''}` }
    const outcome = happenedOutside(read.data, now, currency)
    if ('fault' in outcome) return { line, fault: `${outcome.field}: ${outcome.fault}` }
    const own =
      number === '' ? `conversion ${cells.join(' ')}` : isRefund ? `refund ${number} ${cells.join(' ')}` : `order ${number} `
    return { line, id: eventIdOf(own), visitor: read.data.visitor ?? eventIdOf(`nobody ${own}`), ...outcome }
  })
}

/** “1,234.50”, “1.234,50”, “€ 24”, “-5”. */
function amountOf(text: string): number {
  const bare = text.replace(/[^\d.,-]/g, '')
  const decimal = /,\d{1,2}$/.test(bare) ? bare.replace(/\./g, '').replace(',', '.') : bare.replace(/,/g, '')
  return /^-?\d+(\.\d+)?$/.test(decimal) ? Number(decimal) : Number.NaN
}

/** A day alone is its noon, and today, before noon, this moment. */
function momentOf(text: string, now: number): string | null {
  if (!/^\d{4}-\d{2}-\d{2}/.test(text)) return null
  const isDay = /^\d{4}-\d{2}-\d{2}$/.test(text)
  const isToday = isDay && text === new Date(now).toISOString().slice(0, 10)
  const noon = Date.parse(isDay ? `${text}T12:00:00Z` : text)
  const time = isToday ? Math.min(noon, now) : noon
  return Number.isNaN(time) ? null : new Date(time).toISOString()
}
