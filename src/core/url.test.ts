import { readUrl } from './url'

test.each([
  ['https://shop.example/a?b#c', 'https://shop.example/a?b#c'],
  ['https://例え.example/', 'https://xn--r8jz45g.example/'],
  // As the bytes of a header come: what was UTF-8 read as Latin-1, with a control sign in it.
  ['https://ä¾\u008bã\u0081\u0088.example/', null],
  ['https://', null],
  ['', null],
])('%j is read as %j', (address, href) => {
  expect(readUrl(address)?.href ?? null).toBe(href)
})
