import { brotliDecompressSync, gunzipSync } from 'node:zlib'
import { coded, codedFromParts } from './coding'

const HTML = 'text/html; charset=utf-8'
const long = () => Buffer.from('<p>Cello</p>'.repeat(200))
const sent = (accepts: string | undefined, { body = long(), type = HTML, etag = '"a1"' as string | null } = {}) =>
  coded(body, type, accepts, etag)

test.each([
  ['gzip, deflate, br', 'br', '"a1-br"'],
  ['br;q=0.1, gzip', 'br', '"a1-br"'],
  ['gzip', 'gzip', '"a1-gzip"'],
  ['*', 'br', '"a1-br"'],
  ['br;q=0, *', 'gzip', '"a1-gzip"'],
])('who takes %s is sent %s, under a tag of its own', (accepts, coding, etag) => {
  const { body, said, etag: tag } = sent(accepts)
  expect(said.headers).toEqual({ 'content-encoding': coding, vary: 'accept-encoding' })
  expect(said.lines).toEqual(['content-encoding', coding, 'vary', 'accept-encoding'])
  expect(tag).toBe(etag)
  expect((coding === 'br' ? brotliDecompressSync(body) : gunzipSync(body)).equals(long())).toBe(true)
  expect(body.length).toBeLessThan(200)
})

test.each([[undefined], [''], ['identity'], ['deflate'], ['br;q=0, gzip;q=0'], [', ,']])(
  'who says %p is sent what it is, and told that others may be sent something else',
  (accepts) => {
    const { body, said, etag } = sent(accepts)
    expect([body.equals(long()), said.headers, said.lines, etag]).toEqual([
      ...[true, { vary: 'accept-encoding' }, ['vary', 'accept-encoding']],
      '"a1"',
    ])
  },
)

test.each([
  ['text/css', true],
  ['text/javascript; charset=utf-8', true],
  ['application/json', true],
  ['application/xml', true],
  ['application/javascript', true],
  ['application/atom+xml', true],
  ['application/rss+xml', true],
  ['image/svg+xml', true],
  ['image/png', false],
  ['application/octet-stream', false],
  ['video/text/css', false],
])('%s: whether it is made smaller is %s', (type, isSmaller) => {
  const { said, etag } = sent('gzip', { type })
  expect(said.headers).toEqual(isSmaller ? { 'content-encoding': 'gzip', vary: 'accept-encoding' } : {})
  expect(etag).toBe(isSmaller ? '"a1-gzip"' : '"a1"')
})

test('what fits into a packet is sent as it is; a thousand bytes are the first that are made smaller', () => {
  const of = (length: number) => sent('gzip', { body: Buffer.alloc(length, 'a') })
  expect([of(999).said.lines, of(999).body.length, of(999).etag]).toEqual([[], 999, '"a1"'])
  expect(of(1000).said.lines).toContain('gzip')
  expect(sent('gzip', { etag: null }).etag).toBeNull()
})

test('bytes are put into a coding once, for as long as they are kept', () => {
  const body = long()
  const first = sent('gzip', { body }).body
  expect(sent('gzip', { body }).body).toBe(first)
  expect(sent('br', { body }).body).not.toBe(first)
  expect(sent('gzip', { body }).body).toBe(first)
  expect(sent('gzip').body).not.toBe(first)
})

test('of a page that is not kept only the form that is wanted is made', () => {
  const made: string[] = []
  const assembly = {
    plain: () => (made.push('plain'), Buffer.from('plain')),
    inGzip: () => (made.push('gzip'), Buffer.from('gzip')),
  }
  const gzip = codedFromParts(assembly, 'gzip, br')
  expect([gzip.body.toString(), gzip.said.headers['content-encoding'], gzip.etag]).toEqual(['gzip', 'gzip', null])
  const plain = codedFromParts(assembly, 'br')
  expect([plain.body.toString(), plain.said.headers, plain.etag]).toEqual(['plain', { vary: 'accept-encoding' }, null])
  expect(made).toEqual(['gzip', 'plain'])
})
