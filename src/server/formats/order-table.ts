import { parse } from 'csv-parse/sync'
import * as z from 'zod'
import type { CsvColumn, CsvField, CsvMapping } from '@/contract/contract'
import { happenedOutside, outsideReportSchema } from '@/core/goals'
import type { Happening } from '@/core/events'
import { eventIdOf } from '@/serving/event-id'
import {
  amountOf,
  dayOrderOf,
  decimalOf,
  FileFault,
  isoOf,
  type DayOrder,
  type Decimal,
  type FoundDayOrder,
  type FoundDecimal,
} from '@/core/formats'
import { isSameData } from '@/core/same-data'
import type { Calendar } from '@/core/time'

export interface OrderTable {
  readonly columns: readonly string[]
  readonly rows: readonly { readonly line: number; readonly cells: readonly string[] }[]
  /** Lines whose quotes do not match. */
  readonly broken: readonly number[]
}

const recordsSchema = z.array(z.object({ record: z.array(z.string()), info: z.object({ lines: z.number() }) }))
type Records = z.infer<typeof recordsSchema>

const DELIMITERS = [',', ';', '\t', '|'] as const
/** A quoted value goes over so many lines at the most, where something in the table is wrong. */
const MOST_LINES = 20

/**
 * A table of orders or conversions (RFC 4180, or with semicolons, tabs or bars); its first line names the columns. Before it
 * may stand what spreadsheets write there, `sep=;`, and remarks that begin with “#”. Where the quotes of a line do not match,
 * that line is named and the others are read.
 *
 * @throws {FileFault}
 */
export function readOrderTable(text: string): OrderTable {
  const { lines, delimiter } = begun(text.replace(/^\uFEFF/, '').split(/\r?\n/))
  const whole = recordsOf(lines.join('\n'), delimiter)
  const { records, broken } = whole === null ? lineByLine(lines, delimiter) : { records: whole, broken: [] }
  const [first, ...rest] = records
  if (first === undefined || first.record.length < 2)
    throw new FileFault('Line 1: the first line has to name at least two columns.')
  return { columns: first.record, rows: rest.map(({ record, info }) => ({ line: info.lines, cells: record })), broken }
}

/** The lines as they are numbered, those emptied that say nothing of an order; and what stands between values. */
function begun(lines: readonly string[]): { lines: string[]; delimiter: string } {
  const hint = /^sep=(.)$/i.exec(lines[0]?.trim() ?? '')?.[1]
  const head = lines.findIndex((line, at) => line.trim() !== '' && !line.startsWith('#') && !(at === 0 && hint !== undefined))
  const names = lines[head] ?? ''
  const delimiter = hint ?? [...DELIMITERS].sort((one, other) => names.split(other).length - names.split(one).length)[0] ?? ','
  // After the names only what can be no order: shops write “#1001”, and a remark has a space there and no second value.
  const isRemark = (line: string, at: number) => at < head || (/^#\s/.test(line) && !line.includes(delimiter))
  return { lines: lines.map((line, at) => (isRemark(line, at) ? '' : line)), delimiter }
}

/** `null` where quotes do not match. */
function recordsOf(text: string, delimiter: string): Records | null {
  try {
    const options = { delimiter, info: true, trim: true, relax_column_count: true, skip_empty_lines: true } as const
    return recordsSchema.parse(parse(text, options))
  } catch {
    return null
  }
}

function lineByLine(lines: readonly string[], delimiter: string): { records: Records; broken: number[] } {
  const records: Records[number][] = []
  const broken: number[] = []
  for (let at = 0; at < lines.length; at++) {
    if ((lines[at] ?? '').trim() === '') continue
    let taken = 0
    for (let length = 1; length <= MOST_LINES && at + length <= lines.length; length++) {
      const found = recordsOf(lines.slice(at, at + length).join('\n'), delimiter)
      if (found?.length !== 1 || found[0] === undefined) continue
      records.push({ record: found[0].record, info: { lines: at + length } })
      taken = length
      break
    }
    if (taken === 0) broken.push(at + 1)
    else at += taken - 1
  }
  return { records, broken }
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
    decimal: null,
    dayOrder: null,
  }
}

/** What each column, read as amounts, says of its decimal sign. */
export function decimalsOf({ columns, rows }: OrderTable): FoundDecimal[] {
  return columns.map((_, column) => decimalOf(rows.map(({ cells }) => cells[column] ?? '')))
}

/** What each column, read as dates, says of which number is the day. */
export function dayOrdersOf({ columns, rows }: OrderTable): FoundDayOrder[] {
  return columns.map((_, column) => dayOrderOf(rows.map(({ cells }) => cells[column] ?? '')))
}

const SHOWN_ROWS = 5

/** What somebody has to see of a table to say what its columns are. */
export interface OrderColumns {
  readonly columns: readonly string[]
  readonly rows: readonly (readonly string[])[]
  readonly lines: number
  readonly mapping: CsvMapping
  readonly decimals: readonly FoundDecimal[]
  readonly dayOrders: readonly FoundDayOrder[]
}

export function columnsOf(table: OrderTable): OrderColumns {
  return {
    columns: table.columns,
    rows: table.rows.slice(0, SHOWN_ROWS).map(({ cells }) => cells),
    lines: table.rows.length + table.broken.length,
    mapping: guessMapping(table.columns),
    decimals: decimalsOf(table),
    dayOrders: dayOrdersOf(table),
  }
}

/** Something that happened, by a line of the table. */
export interface HappenedLine {
  readonly line: number
  readonly id: string
  readonly visitor: string
  readonly at: Date
  readonly happening: Happening
}
export interface FaultyLine {
  readonly line: number
  readonly fault: string
}
/** `repeated`: it says again what a line above it said, and counts nothing. */
export type ReadLine =
  | (HappenedLine & { readonly is: 'happened' })
  | (FaultyLine & { readonly is: 'refused' })
  | (FaultyLine & { readonly is: 'repeated' })

export interface TableManner {
  readonly mapping: CsvMapping
  readonly now: Date
  readonly currency: string
  readonly calendar: Calendar
}

/**
 * The lines of a table as what happened. A line with an order number is an order, or a refund where its kind or its sign
 * says so; one without is a conversion by the name of its event. The same line makes the same id, so a table can be
 * brought in twice; within a table the first line of an order is the one that counts. One after the other, as they are
 * asked for: a large table costs its reader no pause.
 *
 * @throws {FileFault} where the amounts or the dates can be read in two ways and nobody said in which
 */
export function* readLines(table: OrderTable, manner: TableManner): Generator<ReadLine> {
  const forms = { decimal: decimalFor(table, manner.mapping), dayOrder: dayOrderFor(table, manner.mapping) }
  const first = new Map<string, Pick<HappenedLine, 'line' | 'at' | 'happening'>>()
  for (const line of table.broken) yield { is: 'refused', line, fault: 'its quotes do not match' }
  for (const row of table.rows) {
    const read = readLine(row, table.columns.length, forms, manner)
    if ('fault' in read) {
      yield { is: 'refused', ...read }
      continue
    }
    const before = first.get(read.id)
    if (before === undefined) {
      first.set(read.id, { line: read.line, at: read.at, happening: read.happening })
      yield { is: 'happened', ...read }
    } else {
      const differs = isSameData([read.happening, read.at.getTime()], [before.happening, before.at.getTime()])
        ? ''
        : ', but otherwise: that line counts'
      yield { is: 'repeated', line: read.line, fault: `it says again what line ${before.line} says${differs}` }
    }
  }
}

function dayOrderFor({ rows }: OrderTable, { at, dayOrder }: CsvMapping): DayOrder {
  if (at === null || dayOrder !== null) return dayOrder ?? 'dayFirst'
  const found = dayOrderOf(rows.map(({ cells }) => cells[at] ?? ''))
  if (found === 'unclear') throw new FileFault('The dates can be read in two ways. Say whether the day or the month comes first.')
  if (found === 'both')
    throw new FileFault('In some dates the day comes first and in others the month. Say which of them is meant.')
  return found === 'none' ? 'dayFirst' : found
}

function decimalFor({ rows }: OrderTable, { value, decimal }: CsvMapping): Decimal {
  if (value === null || decimal !== null) return decimal ?? '.'
  const found = decimalOf(rows.map(({ cells }) => cells[value] ?? ''))
  if (found === 'unclear')
    throw new FileFault('The amounts can be read in two ways. Say whether a comma or a point stands before the cents.')
  if (found === 'both')
    throw new FileFault('Some amounts have a comma before the cents and others a point. Say which of them is meant.')
  return found === 'none' ? '.' : found
}

function readLine(
  { line, cells }: OrderTable['rows'][number],
  width: number,
  { decimal, dayOrder }: { readonly decimal: Decimal; readonly dayOrder: DayOrder },
  { mapping, now, currency, calendar }: TableManner,
): HappenedLine | FaultyLine {
  if (cells.length !== width) return { line, fault: `it has ${cells.length} values where ${width} columns are named` }
  const cell = (field: CsvColumn) => {
    const at = mapping[field]
    return at === null ? '' : (cells[at] ?? '').trim()
  }
  const amount = cell('value') === '' ? undefined : amountOf(cell('value'), decimal)
  if (amount === null) return { line, fault: `“${cell('value')}” is no amount` }
  const at = cell('at') === '' ? undefined : momentOf(cell('at'), dayOrder, now, calendar)
  if (at === null)
    return { line, fault: `“${cell('at')}” is no moment; write 2026-03-02 10:00, 02/03/2026, 2 Mar 2026 or 2026-03-02T10:00:00Z` }
  const number = cell('number')
  const shared = {
    id: eventIdOf(`line ${number || cells.join(' ')}`),
    ...(at === undefined ? {} : { at: at.toISOString() }),
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
  const outcome = happenedOutside(read.data, now.getTime(), { currency, roundOf: () => null })
  if ('fault' in outcome) return { line, fault: `${outcome.field}: ${outcome.fault}` }
  const own =
    number === '' ? `conversion ${cells.join(' ')}` : isRefund ? `refund ${number} ${cells.join(' ')}` : `order ${number} `
  return { line, id: eventIdOf(own), visitor: read.data.visitor ?? eventIdOf(`nobody ${own}`), ...outcome }
}

/** A day alone is its noon, and today, before noon, this moment. */
function momentOf(text: string, dayOrder: DayOrder, now: Date, calendar: Calendar): Date | null {
  // Seconds or milliseconds since 1970, as programs count them.
  if (/^\d{9,10}$|^\d{13}$/.test(text)) return new Date(Number(text) * (text.length === 13 ? 1 : 1000))
  const read = calendar.read(isoOf(text, dayOrder) ?? text)
  if (read === null) return null
  return read.isDay && calendar.dayOf(read.at) === calendar.dayOf(now) && read.at > now ? now : read.at
}
