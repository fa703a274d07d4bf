import { expect, request, test } from '@playwright/test'
import { site, visitor } from './studio'

/* The demo has a test running on the reservation form's title. */
const ORIGINAL = 'Reserve yours'
const titleOf = (html: string) => /<h1[^>]*>([^<]*)</.exec(html)?.[1] ?? ''
const browserAgent = 'Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:140.0) Gecko/20100101 Firefox/140.0'

test('without a cookie jar every request is a new visitor; with one, the same variant comes back', async () => {
  const anonymous = new Set<string>()
  for (let tries = 0; tries < 25; tries++) {
    const fresh = await request.newContext({ userAgent: browserAgent })
    anonymous.add(titleOf(await (await fresh.get(`${site}/reserve`)).text()))
    await fresh.dispose()
  }
  expect(anonymous.size).toBeGreaterThan(1)

  const jar = await request.newContext({ userAgent: browserAgent })
  const first = await jar.get(`${site}/reserve`)
  expect(first.headers()['cache-control']).toBe('private, no-store')
  const words = titleOf(await first.text())
  for (let again = 0; again < 10; again++) expect(titleOf(await (await jar.get(`${site}/reserve`)).text())).toBe(words)
  await jar.dispose()
})

test('a bot gets the original, gets no cookie, and is not counted', async () => {
  const bot = await request.newContext({ userAgent: 'ExampleSpider/1.0 (+https://spider.example/bot)' })
  for (let tries = 0; tries < 10; tries++) {
    const answer = await bot.get(`${site}/reserve`)
    const html = await answer.text()
    expect(titleOf(html)).toBe(ORIGINAL)
    expect(html).not.toContain('data-e=')
    expect(answer.headers()['set-cookie']).toBeUndefined()
  }
  await bot.dispose()
})

test('who does not want to be tracked gets the original and no cookie', async () => {
  const quiet = await request.newContext({ userAgent: browserAgent, extraHTTPHeaders: { 'sec-gpc': '1' } })
  const answer = await quiet.get(`${site}/reserve`)
  expect(titleOf(await answer.text())).toBe(ORIGINAL)
  expect(answer.headers()['set-cookie']).toBeUndefined()
  await quiet.dispose()
})

test('without JavaScript the variant is in the page all the same', async ({ browser }) => {
  const titles = new Set<string>()
  for (let tries = 0; tries < 12 && titles.size < 2; tries++) {
    const context = await visitor(browser, { javaScriptEnabled: false })
    const page = await context.newPage()
    await page.goto('/reserve')
    titles.add(await page.locator('h1').innerText())
    await context.close()
  }
  expect(titles.size).toBe(2)
})

test('a page on which nothing varies may be kept by the browser', async () => {
  const jar = await request.newContext({ userAgent: browserAgent })
  const first = await jar.get(`${site}/about`)
  const etag = first.headers().etag ?? ''
  expect(etag).not.toBe('')
  expect((await jar.get(`${site}/about`, { headers: { 'if-none-match': etag } })).status()).toBe(304)
  await jar.dispose()
})

test('what is not there, not understood or not from here is refused plainly', async () => {
  const jar = await request.newContext({ userAgent: browserAgent })
  const lost = await jar.get(`${site}/nowhere`)
  expect(lost.status()).toBe(404)
  expect(await lost.text()).toContain('There is no page here.')
  const foreign = await jar.post(`${site}/collect`, { headers: { origin: 'https://evil.example' }, data: {} })
  expect(foreign.status()).toBe(403)
  await jar.get(`${site}/about`)
  const nonsense = await jar.post(`${site}/collect`, {
    data: '{"d":"home","e":[{"i":"x","k":"page"}]}',
    headers: { 'content-type': 'text/plain' },
  })
  expect([nonsense.status(), await nonsense.text()]).toEqual([400, expect.stringContaining('e.0.i')])
  await jar.dispose()
})

test.describe('at every width', () => {
  for (const width of [390, 834, 1280]) {
    test(`${width} px: no page scrolls sideways`, async ({ browser }) => {
      const context = await visitor(browser, { viewport: { width, height: 800 } })
      const page = await context.newPage()
      for (const path of ['/', '/instruments', '/plans', '/reserve', '/journal', '/instruments/cello']) {
        await page.goto(path)
        expect(await page.evaluate(() => document.documentElement.scrollWidth - innerWidth), path).toBeLessThanOrEqual(0)
      }
      await context.close()
    })
  }
})
