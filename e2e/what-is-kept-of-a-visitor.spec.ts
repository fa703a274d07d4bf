import { expect, test } from '@playwright/test'
import { openScreen, openAgain, signIn, site, studio } from './studio'

test('what is kept of a visitor is shown to an administrator by their digits, and taken away', async ({ page, browser }) => {
  const visitor = await browser.newContext()
  const visiting = await visitor.newPage()
  await visiting.goto(site)
  await visiting.getByRole('link', { name: 'Plans' }).first().click()
  await expect(visiting).toHaveURL(/plans/)
  const digits = (await visitor.cookies()).find(({ name }) => name === 'visitor')?.value ?? ''
  const id = /[0-9a-f]{32}/.exec(digits)?.[0] ?? ''
  expect(id).not.toBe('')

  await signIn(page, 'ada')
  await openScreen(page, '/settings/visitor')
  await page.getByLabel('The visitor’s digits, or the number of an order').fill(id)
  const kept = page.getByRole('region', { name: 'What they did' })
  // Reports come when a page is left, and are counted a moment later.
  await expect(async () => {
    await page.getByRole('button', { name: 'Find', exact: true }).click()
    await openAgain(page)
    await page.getByLabel('The visitor’s digits, or the number of an order').fill(id)
    await page.getByRole('button', { name: 'Find', exact: true }).click()
    await expect(kept).toContainText('looked at /plans', { timeout: 2000 })
  }).toPass({ timeout: 20_000 })

  await visitor.close()
  await page.getByRole('button', { name: 'Take it all away' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Take it away' }).click()
  await expect(page.getByText('Nothing is kept of anybody by this.')).toBeVisible()
  await openScreen(page, '/settings/trail')
  await expect(page.getByText(`took away all that was kept of`).first()).toBeVisible()
})

test('nobody but an administrator sees what is kept of a visitor', async ({ page }) => {
  await signIn(page, 'edgar')
  await openScreen(page, '/settings/visitor')
  await expect(page).toHaveURL(/\/settings$/)
  const answer = await page.request.post('/api/visitor.show', {
    headers: { origin: studio, 'content-type': 'application/json' },
    data: { who: '0'.repeat(32) },
  })
  expect(answer.status()).toBe(403)
})
