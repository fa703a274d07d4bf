import { expect, test } from '@playwright/test'
import { choose, openScreen, sheet, signIn, untilServed, visitor } from './studio'

test('people who saw an instrument get another banner than people who did not', async ({ page, browser }) => {
  await signIn(page)
  await openScreen(page, '/site/home')
  await sheet(page)
    .locator('[data-n="home-banner"]')
    .click({ position: { x: 12, y: 12 } })
  await page.getByRole('button', { name: 'New version for some visitors' }).click()
  await page.getByLabel('Name of the version').fill('For lookers')

  // The sentence of the rule, by its words.
  await page.getByRole('button', { name: 'Add a condition' }).click()
  await choose(page, 'Page type', 'Instrument')
  await expect(page.getByText('for: saw a page of type Instrument in this visit')).toBeVisible()

  // Another call to action in the same place.
  await choose(page, 'Call to action', 'Hold it first')
  await expect(sheet(page).locator('[data-n="home-banner"] h2')).toHaveText('Hold it first')

  // Stepping through default and version, in place.
  await page.keyboard.press('Escape')
  await sheet(page)
    .locator('[data-n="home-banner"]')
    .click({ position: { x: 12, y: 12 } })
  await page.keyboard.press(',')
  await expect(sheet(page).locator('[data-n="home-banner"] h2')).toHaveText('Yours by Friday')
  await page.keyboard.press('.')
  await expect(sheet(page).locator('[data-n="home-banner"] h2')).toHaveText('Hold it first')

  await page.getByRole('button', { name: 'Publish for visitors' }).click()
  await expect(page.getByText('Live as it stands here.')).toBeVisible()

  const looker = await visitor(browser)
  const stranger = await visitor(browser)
  const looking = await looker.newPage()
  await looking.goto('/instruments/harp')
  await untilServed(looker, '/', 'Hold it first')
  await looking.goto('/')
  await expect(looking.locator('[data-n="home-banner"] h2')).toHaveText('Hold it first')
  const strange = await stranger.newPage()
  await strange.goto('/')
  await expect(strange.locator('[data-n="home-banner"] h2')).toHaveText('Yours by Friday')
  await Promise.all([looker.close(), stranger.close()])

  await page.getByRole('button', { name: 'Take off the site' }).click()
  await expect(page.getByText('Not live: nobody sees it yet.')).toBeVisible()
})
