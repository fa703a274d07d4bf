import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { expect, test, type Page } from '@playwright/test'
import { allCounted, ask, awayFromMidnight, openScreen, signIn, site, visitor } from './studio'

/** A shop's receipt: a page of another origin that carries a snippet. */
async function receipt(snippet: () => string): Promise<{ origin: string; server: Server }> {
  const server = createServer((_, response) => {
    response.setHeader('content-type', 'text/html; charset=utf-8')
    response.end(`<!doctype html><title>Thank you</title><h1>Thank you</h1>${snippet()}`)
  })
  await new Promise<void>((listening) => server.listen(0, '127.0.0.1', listening))
  return { origin: `http://127.0.0.1:${(server.address() as AddressInfo).port}`, server }
}
const reached = async (page: Page, goal: string) => (await ask<{ times: number }>(page, 'goal.open', { goal })).times

test('a page elsewhere reports by a snippet with its key, for the visitor who was sent there, until the key is taken back', async ({
  page,
  browser,
}) => {
  await awayFromMidnight()
  let snippet = ''
  const { origin, server } = await receipt(() => snippet)
  await signIn(page, 'ada')
  await openScreen(page, '/settings')
  await page.getByLabel('What the key is for').fill('The receipt of the shop')
  await page.getByLabel('Origin', { exact: true }).fill(origin)
  await page.getByRole('button', { name: 'Make a key' }).click()
  const key = await page.locator('.key-said').innerText()
  expect(key.length).toBeGreaterThan(20)

  await openScreen(page, '/goals/played')
  await expect(page.getByText('Nothing has been seen from it yet.')).toBeVisible()
  snippet = (await page.getByLabel('Snippet').innerText()).replaceAll('YOUR-KEY', key)
  const before = await reached(page, 'played')

  const goThere = async () => {
    const context = await visitor(browser)
    const someone = await context.newPage()
    await someone.goto('/about')
    const told = someone.waitForResponse((answer) => answer.url() === `${site}/report` && answer.request().method() === 'POST')
    await expect
      .poll(async () => {
        await someone.goto(`${site}/out?to=${encodeURIComponent(`${origin}/receipt`)}`)
        return someone.url()
      })
      .toMatch(/receipt\?sprig=[0-9a-f]{32}$/)
    expect((await told).status()).toBe(200)
    await context.close()
  }
  await goThere()
  await expect.poll(() => reached(page, 'played')).toBe(before + 1)
  await expect(page.getByText('It has been seen')).toBeVisible()

  await openScreen(page, '/settings')
  const row = page.getByRole('row', { name: new RegExp(origin) })
  await row.getByRole('button', { name: 'Take it back' }).click()
  await expect(row).toContainText('taken back')
  const refused = async () =>
    (
      await page.request.post(`${site}/report`, {
        headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
        data: { id: `late-${Date.now()}`, kind: 'event', name: 'played-in-the-shop' },
      })
    ).status()
  await expect.poll(refused).toBe(401)
  // What was taken in before the site heard of it counts.
  await allCounted(page)
  const after = await reached(page, 'played')
  const context = await visitor(browser)
  const late = await context.newPage()
  // Its origin is not listed any more, so the browser does not even send it (Fetch standard, CORS protocol).
  const refusal = late.waitForEvent('requestfailed', (sent) => sent.url() === `${site}/report`)
  await late.goto(`${origin}/receipt`)
  await refusal
  await allCounted(page)
  await context.close()
  expect(await reached(page, 'played')).toBe(after)
  server.closeAllConnections()
  server.close()
})
