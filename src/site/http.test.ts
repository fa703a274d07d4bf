import { brotliDecompressSync, gunzipSync } from 'node:zlib'
import { compiledWith, frontPage, siteOf } from './test-site'

const page = frontPage({ text: { type: 'text', props: { words: `<p>${'Borrow an instrument. '.repeat(200)}</p>` } } })
const film = Buffer.from(Array.from({ length: 100 }, (_, n) => n))
const style = Buffer.from('.button { color: brown }\n'.repeat(200))
const origin = 'https://site.example'
const { site } = siteOf(compiledWith({ documents: [page] }, { origin }), {
  origin,
  assets: new Map([
    ['/look/site.css', { body: style, type: 'text/css; charset=utf-8', etag: '"style"' }],
    ['/look/faces/figtree-WX7P2KQ4.woff2', { body: film, type: 'font/woff2', etag: '"face"' }],
  ]),
  media: new Map([['m-1', { whole: { body: film, type: 'video/webm', etag: '"film"' }, sizes: [], ready: true }]]),
})
const get = (url: string, headers: Record<string, string> = {}) => site.inject({ url, headers })

test.each<[string, string, string, number, string]>([
  ['DELETE', '/', 'a page', 405, 'GET, HEAD, OPTIONS'],
  ['POST', '/nowhere', 'what is no page', 405, 'GET, HEAD, OPTIONS'],
  ['PUT', '/look/site.css', 'a file', 405, 'GET, HEAD, OPTIONS'],
  ['GET', '/collect', 'what only takes', 405, 'POST, OPTIONS'],
  ['GET', '/forms/front/form', 'a form', 405, 'POST, OPTIONS'],
  ['OPTIONS', '/', 'a question', 204, 'GET, HEAD, OPTIONS'],
  ['OPTIONS', '/collect', 'a question to what takes', 204, 'POST, OPTIONS'],
  ['TRACE', '/', 'an echo', 405, 'GET, HEAD, OPTIONS'],
])('%s %s: %s', async (method, url, _, status, allow) => {
  const { statusCode, headers } = await site.inject({ method: method as 'GET', url })
  expect([statusCode, headers.allow]).toEqual([status, allow])
  expect(headers['content-security-policy']).toContain("default-src 'none'")
})

test('every page says what it may do and be done to', async () => {
  for (const url of ['/', '/nowhere', '/look/site.css'])
    expect((await get(url)).headers).toMatchObject({
      'permissions-policy': expect.stringContaining('camera=()'),
      'cross-origin-opener-policy': 'same-origin-allow-popups',
    })
})

describe('sent in a coding', () => {
  test.each([
    ['gzip, deflate, br', 'br', brotliDecompressSync],
    ['gzip', 'gzip', gunzipSync],
    ['br;q=0, gzip;q=0.5', 'gzip', gunzipSync],
  ] as const)('%s gets %s, the same words, and a tag that is its own', async (accepts, coding, open) => {
    const [plain, small] = [await get('/'), await get('/', { 'accept-encoding': accepts })]
    expect([small.headers['content-encoding'], small.headers.vary]).toEqual([coding, 'accept-encoding'])
    expect(open(small.rawPayload).equals(plain.rawPayload)).toBe(true)
    expect(small.rawPayload.length).toBeLessThan(plain.rawPayload.length / 4)
    expect(small.headers.etag).not.toBe(plain.headers.etag)
    const again = await get('/', { 'accept-encoding': accepts, 'if-none-match': String(small.headers.etag) })
    expect([again.statusCode, again.headers['content-length'], again.body]).toEqual([304, undefined, ''])
  })

  test('who takes none, or asks for a film, gets the bytes as they are', async () => {
    expect((await get('/', { 'accept-encoding': 'identity' })).headers['content-encoding']).toBeUndefined()
    expect((await get('/media/m-1', { 'accept-encoding': 'br' })).headers['content-encoding']).toBeUndefined()
    const head = await site.inject({ method: 'HEAD', url: '/look/site.css', headers: { 'accept-encoding': 'br' } })
    expect([head.statusCode, head.body]).toEqual([200, ''])
  })
})

test.each([
  ['"style"', 304],
  ['W/"style"', 304],
  ['"other", W/"style"', 304],
  ['*', 304],
  ['"other"', 200],
])('if-none-match: %s is answered with %d', async (tag, status) => {
  expect((await get('/look/site.css', { 'if-none-match': tag })).statusCode).toBe(status)
})

test.each<[string, Record<string, string>, number, number[] | null]>([
  ['the first ten', { range: 'bytes=0-9' }, 206, [0, 9]],
  ['the last ten', { range: 'bytes=-10' }, 206, [90, 99]],
  ['to the end', { range: 'bytes=95-' }, 206, [95, 99]],
  ['past the end', { range: 'bytes=200-300' }, 416, null],
  ['something else than bytes', { range: 'lines=1-2' }, 200, null],
  ['of the same film', { range: 'bytes=0-9', 'if-range': '"film"' }, 206, [0, 9]],
  ['of another film', { range: 'bytes=0-9', 'if-range': '"older"' }, 200, null],
])('a range: %s', async (_, headers, status, bytes) => {
  const answer = await get('/media/m-1', headers)
  expect(answer.statusCode).toBe(status)
  if (bytes !== null) expect([answer.rawPayload[0], answer.rawPayload.at(-1)]).toEqual(bytes)
  if (status === 416) expect(answer.headers['content-range']).toBe('bytes */100')
})

test('a file with a digest in its name is kept for a year', async () => {
  expect((await get('/look/faces/figtree-WX7P2KQ4.woff2')).headers['cache-control']).toContain('immutable')
  expect((await get('/look/site.css')).headers['cache-control']).toBe('public, max-age=300')
})

test('what robots are told: every page once, by its whole address, and nothing that only takes', async () => {
  const map = await get('/sitemap.xml')
  expect(map.headers['content-type']).toBe('application/xml; charset=utf-8')
  expect([...map.body.matchAll(/<loc>([^<]*)<\/loc>/g)].map(([, address]) => address)).toEqual(['https://site.example/'])
  expect((await get('/robots.txt')).body).toContain('Sitemap: https://site.example/sitemap.xml')
  expect((await get('/')).body).toContain('<link rel="canonical" href="https://site.example/">')
})

test('a site says its own name and language, and nothing of anybody else’s', async () => {
  const identity = { name: 'Quiet & Co', language: 'pt-BR', mark: 'violin', smallPrint: 'Since Tuesday.' }
  const named = compiledWith({ documents: [page], identity })
  expect(named.view.identity.name).toBe('Quiet & Co')
  const html = (await get('/')).body
  expect(html).toMatch(/<html lang="en"/)
  expect(html).not.toMatch(/pinemoth|moth\.svg/i)
  expect((await get('/favicon.ico')).statusCode).toBe(404)
})

test('a connection outlasts the minute for which proxies keep theirs, so that none is closed under a request', () => {
  expect(site.server.keepAliveTimeout).toBeGreaterThan(65_000)
  expect(site.server.headersTimeout).toBeGreaterThan(site.server.keepAliveTimeout)
})
