import { toCsv } from './chart-frame'

test('a table becomes CSV by RFC 4180, and no cell becomes a formula', () => {
  const csv = toCsv({
    columns: [
      { name: 'variant', as: 'words' },
      { name: 'lift', as: 'lift' },
    ],
    rows: [
      ['Say "hello", now', 0.2],
      ['=HYPERLINK("x")', -0.1],
      ['two\nlines', null],
    ],
  })
  expect(csv).toBe('variant,lift\r\n"Say ""hello"", now",0.2\r\n"\'=HYPERLINK(""x"")",-0.1\r\n"two\nlines",\r\n')
})
