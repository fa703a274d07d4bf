import { calendarOf } from '@/core/time'
import type { CsvMapping } from '@/contract/contract'
import { dayOrdersOf, decimalsOf, guessMapping, readLines, readOrderTable } from './order-table'

const now = new Date('2026-03-10T02:30:00Z')

function read(text: string, zone = 'UTC', said: Partial<CsvMapping> = {}) {
  const table = readOrderTable(text)
  const mapping = { ...guessMapping(table.columns), ...said }
  const lines = [...readLines(table, { mapping, now, currency: 'EUR', calendar: calendarOf(zone) })]
  const faulty = (kind: 'refused' | 'repeated') =>
    lines.flatMap((one) => (one.is === kind ? [{ line: one.line, fault: one.fault }] : []))
  return {
    happened: lines.flatMap((one) => (one.is === 'happened' ? [one] : [])),
    refused: faulty('refused').sort((one, other) => one.line - other.line),
    repeated: faulty('repeated'),
  }
}

test.each([
  ['UTC', '2026-03-02T10:00:00.000Z', '2026-03-02T12:00:00.000Z'],
  ['Asia/Tokyo', '2026-03-02T01:00:00.000Z', '2026-03-02T03:00:00.000Z'],
  ['America/Los_Angeles', '2026-03-02T18:00:00.000Z', '2026-03-02T20:00:00.000Z'],
])('times without a zone are by the clock of the site: %s', (zone, ten, noon) => {
  const { happened } = read('order;date;amount\n1;2026-03-02 10:00;5\n2;2026-03-02;5\n3;2026-03-02T10:00:00Z;5', zone)
  expect(happened.map(({ at }) => at.toISOString())).toEqual([ten, noon, '2026-03-02T10:00:00.000Z'])
})

test('today has happened, east and west of Greenwich; a day that there is not has not', () => {
  for (const [zone, today] of [
    ['Pacific/Auckland', '2026-03-10'],
    ['America/Los_Angeles', '2026-03-09'],
  ] as const)
    expect(read(`order,date,amount\n1,${today},5`, zone)).toMatchObject({ happened: [{ line: 2 }], refused: [] })
  expect(read('order,date,amount\n1,2026-02-30,5').refused).toEqual([
    { line: 2, fault: expect.stringContaining('“2026-02-30” is no moment') },
  ])
})

test('the decimal sign is that of the whole column', () => {
  const values = (text: string) => read(text).happened.map(({ happening }) => 'value' in happening && happening.value)
  expect(values('order;amount\n1;1.234\n2;12,50')).toEqual([1234, 12.5])
  expect(values('order;amount\n1;1,234\n2;12.50')).toEqual([1234, 12.5])
  expect(() => read('order;amount\n1;1.234')).toThrow('can be read in two ways')
  expect(() => read('order;amount\n1;12.50\n2;12,50')).toThrow('which of them is meant')
  expect(read('order;amount\n1;1.234', 'UTC', { decimal: ',' }).happened).toMatchObject([{ happening: { value: 1234 } }])
  expect(decimalsOf(readOrderTable('order;amount;note\n1;1.234;x'))).toEqual(['none', 'unclear', 'none'])
})

test('which number of a date is the day is that of the whole column, or asked for once', () => {
  const days = (text: string, said: Partial<CsvMapping> = {}) =>
    read(text, 'UTC', said).happened.map(({ at }) => at.toISOString().slice(0, 16))
  expect(days('order;date;amount\n1;03/02/2026;5\n2;25/02/2026 9:30 pm;5')).toEqual(['2026-02-03T12:00', '2026-02-25T21:30'])
  expect(days('order;date;amount\n1;03/02/2026;5\n2;02/25/2026;5')).toEqual(['2026-03-02T12:00', '2026-02-25T12:00'])
  expect(() => days('order;date;amount\n1;03/02/2026;5')).toThrow('whether the day or the month comes first')
  expect(days('order;date;amount\n1;03/02/2026;5', { dayOrder: 'monthFirst' })).toEqual(['2026-03-02T12:00'])
  expect(days('order;date;amount\n1;3.2.2026;5\n2;2 Mar 2026;5')).toEqual(['2026-02-03T12:00', '2026-03-02T12:00'])
  expect(read('order;date;amount\n1;31.2.2026;5').refused).toMatchObject([{ line: 2 }])
  expect(dayOrdersOf(readOrderTable('order;date\n1;3/2/2026'))).toEqual(['none', 'unclear'])
})

test('an order that is repeated is said, and counts as it stood first', () => {
  const { happened, repeated } = read('order,amount\n7,5.00\n8,6.00\n7,5.00\n7,9.00')
  expect(happened.map(({ line }) => line)).toEqual([2, 3])
  expect(repeated).toEqual([
    { line: 4, fault: 'it says again what line 2 says' },
    { line: 5, fault: 'it says again what line 2 says, but otherwise: that line counts' },
  ])
})

test('a line whose quotes do not match is named, and all others are taken', () => {
  const { happened, refused } = read(
    'order,amount,note\n1,5.00,"fine"\n2,6.00,"not closed\n3,7.00,"over\ntwo lines"\n4,8.00,x"y\n5,9.00,z',
  )
  expect(happened.map(({ happening }) => 'order' in happening && happening.order)).toEqual(['1', '3', '5'])
  expect(refused).toEqual([
    { line: 3, fault: 'its quotes do not match' },
    { line: 6, fault: 'its quotes do not match' },
  ])
})

test.each([
  ['what a spreadsheet says of itself', 'sep=;\norder;amount\n1;5,00', [3]],
  ['bars', 'order|amount\n1|5.00', [2]],
  ['remarks before and between', '# from the shop\n\norder,amount\n1001,5.00\n# a remark\n1002,6.00', [4, 6]],
  ['a byte-order mark', '\uFEFForder,amount\n1,5.00', [2]],
])('%s', (_, text, lines) => {
  expect(read(text)).toMatchObject({ happened: lines.map((line) => ({ line })), refused: [] })
})

test('moments as programs count them, and with an offset', () => {
  const { happened } = read('order,date,amount\n1,1772445600,5\n2,1772445600000,5\n3,2026-03-02T12:00:00+02:00,5')
  expect(happened.map(({ at }) => at.toISOString())).toEqual(Array(3).fill('2026-03-02T10:00:00.000Z'))
})
