import { stringify } from 'csv-stringify/sync'

export type Cell = string | number | null

/** What a spreadsheet would calculate, and not show (OWASP, CSV injection); in wide forms too. */
const FORMULA = /^[=+\-@\t\r\uFF1D\uFF0B\uFF0D\uFF20]/

/**
 * Lines of a table (RFC 4180, so they end with CRLF). A text that a spreadsheet would take for a formula is kept a text; a
 * number is a number, below zero as well.
 */
export function csvLines(rows: readonly (readonly Cell[])[]): string {
  return stringify(
    rows.map((row) => row.map((cell) => (typeof cell === 'string' && FORMULA.test(cell) ? `'${cell}` : cell))),
    { record_delimiter: 'windows' },
  )
}
