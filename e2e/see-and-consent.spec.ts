import { expect, request, test, type Page } from '@playwright/test'
import { ask, openScreen, signIn, site } from './studio'

test('a draft is seen on the live site, version by version, and handed on; nothing of it is counted', async ({
  page,
  context,
  browser,
}) => {
  await signIn(page)
  await openScreen(page, '/tests')
  await page.getByRole('link', { name: 'Ask for the cello by its name' }).click()
  const [live] = await Promise.all([context.waitForEvent('page'), page.getByRole('button', { name: 'Open the site' }).click()])
  const strip = live.getByRole('complementary', { name: 'What you are looking at' })
  await expect(strip).toContainText('Ask for the cello by its name not live yet')
  const button = (of: Page) => of.locator('main a.button').first()
  await expect(button(live)).toHaveText('Bring me the cello')
  const own = strip.getByRole('group', { name: 'Ask for the cello by its name' })
  await own.getByRole('link', { name: 'Original' }).click()
  await expect(button(live)).toHaveText('Reserve a cello')
  await expect(own.getByRole('link', { name: 'Original' })).toHaveAttribute('aria-current', 'true')

  // Somebody else, with the link alone.
  const { address } = await ask<{ address: string }>(page, 'test.look', { test: page.url().split('/').at(-1) })
  const colleague = await browser.newContext()
  const theirs = await colleague.newPage()
  await theirs.goto(address)
  await expect(button(theirs)).toHaveText('Bring me the cello')
  expect((await colleague.cookies()).map(({ name }) => name)).toEqual(['see'])
  await theirs.getByRole('link', { name: 'Stop looking' }).click()
  await expect(button(theirs)).toHaveText('Reserve a cello')
  await expect(theirs.getByText('You are looking')).toHaveCount(0)
  await colleague.close()
})

test('visitors are asked before anything is kept, and what they say holds', async ({ page, browser }) => {
  await signIn(page, 'ada')
  await openScreen(page, '/settings')
  const asks = page.getByRole('switch', { name: 'Ask visitors before anything is kept' })
  await asks.click()
  await expect(asks).toBeChecked()
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
    await asks.click()
    await expect(asks).not.toBeChecked()
  }
  const jar = await request.newContext()
  await expect.poll(async () => (await (await jar.get(site)).text()).includes('class="consent"')).toBe(false)
  await jar.dispose()
})
