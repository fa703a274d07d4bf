import { expect, test } from '@playwright/test'
import { choose, openScreen, signIn } from './studio'

test('a table of orders is looked at, asked about where it can be read in two ways, and brought in with a report', async ({
  page,
}) => {
  await signIn(page)
  await openScreen(page, '/goals')
  const today = new Date().toISOString().slice(0, 10)
  const text = `order;date;amount\nWalk-${Date.now()};${today};12,50\nWalk-2;03/04/2024;7,50\nWalk-3;${today};many\n`
  await page.getByLabel('Table of orders').setInputFiles({ name: 'shop.csv', mimeType: 'text/csv', buffer: Buffer.from(text) })
  const sheet = page.getByRole('dialog')
  await expect(sheet.getByRole('heading', { name: '3 lines to bring in' })).toBeVisible()
  await expect(sheet.getByRole('alert')).toContainText('3/4/2026 may be in March or in April')
  await expect(sheet.getByRole('button', { name: 'Bring them in' })).toBeDisabled()
  await choose(page, 'Date order', 'month first')
  await sheet.getByRole('button', { name: 'Bring them in' }).click()
  await expect(sheet.getByRole('heading', { name: 'Brought in' })).toBeVisible({ timeout: 30_000 })
  await expect(sheet.getByText('1 line was taken.')).toBeVisible()
  await expect(sheet.getByText(/Line 3: .*more than 90 days ago/)).toBeVisible()
  await expect(sheet.getByText('Line 4: “many” is no amount')).toBeVisible()
})
