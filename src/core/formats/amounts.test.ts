import fc from 'fast-check'
import { amountOf, decimalOf, type Decimal } from './amounts'

test.each([
  [['12', '1200'], 'none'],
  [['1.234', '1,234'], 'unclear'],
  [['1.234', '12,50'], ','],
  [['1,234', '12.5'], '.'],
  [['1.234.567', '8.000'], ','],
  [["1'234.50"], '.'],
  [['12,50', '12.50'], 'both'],
  [['0.123'], '.'],
  [['n/a', '', '€ 5,90'], ','],
] as const)('the amounts %j have the decimal sign “%s”', (cells, found) => {
  expect(decimalOf(cells)).toBe(found)
})

test.each([
  ['1,234.50', '.', 1234.5],
  ['1.234,50', ',', 1234.5],
  ['€ 24', '.', 24],
  ['24 EUR', ',', 24],
  ['-5', '.', -5],
  ['5-', '.', -5],
  ['(5.20)', '.', -5.2],
  ['−5,20', ',', -5.2],
  ['1 234,5', ',', 1234.5],
  ['1.234', '.', 1.234],
  ['1.234', ',', 1234],
  ['12.34', ',', null],
  ['1.2.3', '.', null],
  ['12 apples', '.', null],
  ['', '.', null],
  ['constructor', '.', null],
] as const)('“%s” with “%s” is %s', (text, decimal, value) => {
  expect(amountOf(text, decimal)).toBe(value)
})

test('an amount comes back as it was written, in either manner, and a column of them says its sign', () => {
  const cents = fc.integer({ min: -99_999_999, max: 99_999_999 })
  const sign = fc.constantFrom<Decimal>('.', ',')
  fc.assert(
    fc.property(fc.array(cents, { minLength: 1 }), sign, (values, decimal) => {
      const written = values.map((value) =>
        (value / 100).toLocaleString(decimal === '.' ? 'en-US' : 'de-DE', { minimumFractionDigits: 2 }),
      )
      expect(written.map((text) => amountOf(text, decimal))).toEqual(values.map((value) => value / 100))
      expect(decimalOf(written)).toBe(decimal)
    }),
  )
})
