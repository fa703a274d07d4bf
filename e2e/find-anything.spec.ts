import { expect, test } from '@playwright/test'
import { newVariant, openScreen, sheet, signIn } from './studio'

test('anything is found by its words from every screen, and each screen tells its keys', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/notebook')
  await expect(page.getByRole('heading', { level: 1, name: 'Notebook' })).toBeVisible()
  await page.keyboard.press('/')
  await expect(page.getByRole('combobox', { name: /^Words of a page/ })).toBeFocused()
  await page.keyboard.type('plans and')
  const found = page.getByRole('listbox', { name: 'What was found' })
  await expect(found.getByRole('option', { selected: true })).toContainText('Plans and prices')
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/\/site\/plans$/)
  await expect(page).toHaveTitle('Plans and prices · Upbeat Sprig')
  await expect(page.getByRole('heading', { level: 1 })).toHaveCount(1)

  // A part of another page, by its words, from within the page itself.
  await sheet(page).locator('h1').click()
  await page.keyboard.press('Escape')
  await page.keyboard.press('/')
  await page.keyboard.type('borrow an instr')
  const part = page.getByRole('option').filter({ hasText: 'heading on “Pinemoth Instrument Library”' })
  await expect(part).toBeVisible()
  await part.click()
  await expect(page).toHaveURL(/\/site\/home\?part=/)
  await expect(page.getByRole('heading', { level: 2, name: 'Versions of the heading' })).toBeVisible()

  // One thing at a time: the keys close, and what was selected stays so.
  await page.keyboard.press('?')
  const keys = page.getByRole('dialog', { name: 'Keys on this screen' })
  await expect(keys.getByText('make a variant of what is selected')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(keys).toBeHidden()
  await expect(page.getByRole('heading', { level: 2, name: 'Versions of the heading' })).toBeVisible()

  // What can be done here is found by its name, too.
  await page.keyboard.press('/')
  await page.keyboard.type('open the outl')
  await page.getByRole('option', { name: 'Open the outline' }).click()
  await expect(page.getByRole('button', { name: 'Outline', pressed: true })).toBeVisible()
})

test('two versions stay side by side whatever is selected, until they are set alone again', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/site/cello')
  await sheet(page).locator('h1').click()
  await newVariant(page)
  await page.getByRole('button', { name: 'side by side' }).last().click()
  const both = page.locator('.side-by-side figure')
  await expect(both).toHaveCount(2)
  const second = page.frameLocator('iframe[title$=", beside"] >> nth=1')
  await second.locator('p').first().click()
  await expect(both).toHaveCount(2)
  await page.keyboard.press('Escape')
  await page.keyboard.press('Escape')
  await expect(both).toHaveCount(2)
  await page.getByRole('button', { name: 'Alone again' }).click()
  await expect(both).toHaveCount(0)
})

test('the whole site goes out and comes in again without a double, after saying what it does', async ({ page }) => {
  await signIn(page, 'ada')
  const archive = await (await page.request.get('/api/archive')).body()
  await openScreen(page, '/site')
  await page.getByLabel('Archive to load').setInputFiles({ name: 'site.zip', mimeType: 'application/zip', buffer: archive })
  const dialog = page.getByRole('dialog', { name: 'What loading this does' })
  await expect(dialog.getByText('all of it is here already')).toBeVisible()
  await expect(dialog.getByRole('button', { name: 'Load it' })).toHaveCount(0)
})

test.describe('at 200% of a small window', () => {
  test.use({ viewport: { width: 640, height: 400 } })
  test('everything is in reach and nothing scrolls sideways', async ({ page }) => {
    await signIn(page)
    for (const path of ['/', '/tests', '/site/plans', '/site/main-menu', '/site/ask-reserve-instrument']) {
      await openScreen(page, path)
      await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
      expect([path, await page.evaluate(() => document.documentElement.scrollWidth)]).toEqual([path, 640])
    }
    await openScreen(page, '/site/plans')
    for (const name of ['Publish', 'Undo', 'Outline'])
      await expect(page.getByRole('button', { name, exact: true })).toBeInViewport()
  })
})
