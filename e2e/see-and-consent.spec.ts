import { expect, request, test } from '@playwright/test'
import { openScreen, signIn, site } from './studio'

test('a draft is seen on the live site, version by version, and handed on; nothing of it is counted', async ({
  page,
  context,
  browser,
}) => {
  await signIn(page)
  await openScreen(page, '/tests')
  await page.getByRole('link', { name: 'Opening hours, said as an invitation' }).click()
  const [live] = await Promise.all([context.waitForEvent('page'), page.getByRole('button', { name: 'Open the site' }).click()])
  const strip = live.getByRole('complementary', { name: 'What you are looking at' })
  await expect(strip).toContainText('Opening hours, said as an invitation not live yet')
  await expect(live.getByText('Come by, the kettle is on')).toBeVisible()
  await strip.getByRole('link', { name: 'Original' }).click()
  await expect(live.getByText('The workshop is open')).toBeVisible()
  await expect(strip.getByRole('link', { name: 'Original' })).toHaveAttribute('aria-current', 'true')

  // Somebody else, with the link alone.
  const address = await page.evaluate(async () => {
    const answer = await fetch('/api/test.look', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ test: location.pathname.split('/').at(-1) }),
    })
    return ((await answer.json()) as { address: string }).address
  })
  const colleague = await browser.newContext()
  const theirs = await colleague.newPage()
  await theirs.goto(address)
  await expect(theirs.getByText('Come by, the kettle is on')).toBeVisible()
  expect((await colleague.cookies()).map(({ name }) => name)).toEqual(['see'])
  await theirs.getByRole('link', { name: 'Stop looking' }).click()
  await expect(theirs.getByText('The workshop is open')).toBeVisible()
  await expect(theirs.getByText('You are looking')).toHaveCount(0)
  await colleague.close()
})

test('visitors are asked before anything is kept, and what they say holds', async ({ page, browser }) => {
  await signIn(page, 'ada')
  await openScreen(page, '/settings')
  const ask = page.getByRole('switch', { name: 'Ask visitors before anything is kept' })
  await ask.click()
  await expect(ask).toBeChecked()
  try {
    const visitor = await browser.newContext()
    const seen = await visitor.newPage()
    await expect
      .poll(async () => {
        await seen.goto(site)
        return seen.getByRole('button', { name: 'Yes', exact: true }).count()
      })
      .toBe(1)
    await visitor.clearCookies()
    await seen.goto(site)
    expect(await visitor.cookies()).toEqual([])
    await seen.getByRole('button', { name: 'Yes', exact: true }).click()
    await expect(seen.getByRole('button', { name: 'Yes', exact: true })).toHaveCount(0)
    expect((await visitor.cookies()).map(({ name }) => name)).toEqual(expect.arrayContaining(['consent', 'visitor']))
    await visitor.close()
  } finally {
    await ask.click()
    await expect(ask).not.toBeChecked()
  }
  const jar = await request.newContext()
  await expect.poll(async () => (await (await jar.get(site)).text()).includes('class="consent"')).toBe(false)
  await jar.dispose()
})
