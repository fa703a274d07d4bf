import { parse } from 'csv-parse/sync'
import fc from 'fast-check'
import { csvLines } from './csv'

test('what is written is read again as it was, but for what would be a formula', () => {
  const cell = fc.oneof(fc.string(), fc.constantFrom('a,b', 'say "so"', 'two\r\nlines', 'ünï'))
  fc.assert(
    fc.property(fc.array(fc.array(cell, { minLength: 2, maxLength: 2 }), { minLength: 1 }), (rows) => {
      const guarded = rows.map((row) =>
        row.map((text) => (/^[=+\-@\t\r\uFF1D\uFF0B\uFF0D\uFF20]/.test(text) ? `'${text}` : text)),
      )
      expect(parse(csvLines(rows), { record_delimiter: '\r\n' })).toEqual(guarded)
    }),
  )
})

test.each<[string | number | null, string]>([
  ['=1+1', "'=1+1"],
  ['@sum', "'@sum"],
  ['\t=1', "'\t=1"],
  ['\uFF1D1', "'\uFF1D1"],
  [-0.5, '-0.5'],
  [null, ''],
])('%p is written as %p', (value, written) => {
  expect(csvLines([[value, 'x']])).toBe(`${written},x\r\n`)
})
