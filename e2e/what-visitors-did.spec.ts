import { expect, test } from '@playwright/test'
import { allCounted, openScreen, reported, signIn, visitor } from './studio'

test('what visitors do in a test is told without a goal: what they press and where, where they go, how fast it was', async ({
  page,
  browser,
}) => {
  const guest = await visitor(browser)
  const visiting = await guest.newPage()
  await Promise.all([reported(visiting, 'seen'), visiting.goto('/reserve')])
  const pressed = reported(visiting, 'click')
  await visiting.getByLabel('Your name').click()
  await pressed
  const measured = reported(visiting, 'speed')
  await visiting.getByRole('link', { name: 'Workshops' }).first().click()
  await measured
  await expect(visiting.getByRole('heading', { level: 1 })).toBeVisible()
  await reported(visiting, 'page').catch(() => undefined)
  await guest.close()

  await signIn(page)
  await allCounted(page)
  await openScreen(page, '/tests/t-3')
  await page.getByText('What visitors did on the page, and how fast it was for them').click()
  const next = page.getByRole('table', { name: 'Where they went from there' })
  await expect(next.getByRole('row', { name: /^Workshops/ })).toContainText('1')
  const looked = page.getByRole('table', { name: 'How it was looked at' })
  await expect(looked.getByRole('row', { name: /Original/ })).toContainText(/\d s/)
  await expect(page.getByRole('table', { name: 'What they pressed' }).getByRole('row').nth(1)).toContainText('The form')

  // On the page, in each version and at each width.
  const frame = page.frameLocator('iframe[title^="Presses on"]')
  await expect(frame.locator('svg circle').first()).toBeVisible()
  await expect(frame.locator('h1')).toHaveText('Reserve yours')
  await page.getByLabel('Version shown').click()
  await page.getByRole('option', { name: 'Nothing to pay yet' }).click()
  await expect(frame.locator('h1')).toHaveText('Reserve yours. Nothing to pay yet.')
  await page.getByLabel('Device').click()
  await page.getByRole('option', { name: 'Phones' }).click()
  await expect(frame.locator('svg circle').first()).toBeVisible()
})
