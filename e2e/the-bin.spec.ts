import { expect, test } from '@playwright/test'
import { choose, openScreen, served, sheet, signIn, site } from './studio'

test('a page is thrown away with a redirect, and brought back from the bin', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/site/gift')
  await expect(sheet(page).locator('h1')).toBeVisible()
  const title = await page.locator('.page-bar h1').innerText()
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Publish' }).click()
  await expect(page.getByText('Published: visitors see it now.')).toBeVisible()
  await served(page)
  expect((await page.request.get(`${site}/gift`)).status()).toBe(200)

  await page.getByRole('button', { name: 'Move to the bin' }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByText('It can be brought back for 30 days')).toBeVisible()
  await choose(page, 'Whoever asks for its address is led to', 'Plans and prices')
  await dialog.getByRole('button', { name: 'Move it to the bin' }).click()
  await expect(page).toHaveURL(/\/site$/)
  await expect(page.getByRole('link', { name: title, exact: true })).toHaveCount(0)
  await served(page)
  const led = await page.request.get(`${site}/gift`, { maxRedirects: 0 })
  expect([led.status(), led.headers().location]).toEqual([301, '/plans'])

  await page.getByRole('link', { name: 'Open the bin' }).click()
  await page.waitForURL(/\/site\/bin/)
  await page.getByRole('button', { name: `Bring “${title}” back` }).click()
  await expect(page.getByText('It is back, as a draft.')).toBeVisible()
  await expect(page.getByText('Nothing is in the bin.')).toBeVisible()
  await openScreen(page, '/site/gift')
  await expect(page.locator('.page-bar').getByText('not published')).toBeVisible()
})
