import { expect, test } from '@playwright/test'
import { openScreen, openAgain, sheet, signIn, writeInPlace } from './studio'

test('a page is walked, written, varied, compared and brought back by keyboard alone', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/site/about')
  const title = sheet(page).locator('h1')
  await expect(title).toHaveText('A library with a workshop at the back')

  // In reading order: the page, its head, the main part, a section, columns, a column, the heading.
  for (let step = 0; step < 7; step++) await page.keyboard.press('ArrowDown')
  await expect(title).toHaveAttribute('data-chosen', '')
  await writeInPlace(page, 'A library that mends')
  await expect(title).toHaveText('A library that mends')
  await page.keyboard.press('Control+z')
  await expect(title).toHaveText('A library with a workshop at the back')
  await page.keyboard.press('Control+Shift+z')
  await expect(title).toHaveText('A library that mends')
  await page.keyboard.press('Control+z')
  await expect(page.getByText('draft saved')).toBeVisible()

  await page.keyboard.press('v')
  await expect(page.getByLabel('Name of the version')).toHaveValue('Variant 1')
  await writeInPlace(page, 'Nine hundred instruments, one bench')
  await page.keyboard.press(',')
  await expect(title).toHaveText('A library with a workshop at the back')
  await page.keyboard.press('.')
  await expect(title).toHaveText('Nine hundred instruments, one bench')

  await page.keyboard.press(';')
  const beside = (name: string) => page.frameLocator(`iframe[title="The page: ${name}, beside"]`).locator('h1')
  await expect(beside('Original')).toHaveText('A library with a workshop at the back')
  await expect(beside('Variant 1')).toHaveText('Nine hundred instruments, one bench')
  await expect(beside('Variant 1')).toHaveAttribute('data-differs', '')
  await page.keyboard.press(';')

  await page.keyboard.press('o')
  await expect(page.getByRole('tree')).toBeVisible()
  await page.keyboard.press('1')
  await expect(sheet(page).locator('html')).toHaveJSProperty('clientWidth', 390)
  await page.keyboard.press('3')

  // What was typed is there after coming back; the version goes away again.
  await openAgain(page)
  await sheet(page).locator('h1').click()
  await page.getByRole('button', { name: 'Put Variant 1 on the page' }).click()
  await expect(title).toHaveText('Nine hundred instruments, one bench')
  await page.getByRole('button', { name: 'Remove', exact: true }).first().click()
  await expect(page.getByRole('button', { name: 'Put Variant 1 on the page' })).toHaveCount(0)
})
