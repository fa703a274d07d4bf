import { expect, test } from '@playwright/test'
import { choose, openScreen, signIn } from './studio'

test('the lens shows the site as somebody made up would get it, says why, and what would have to be otherwise', async ({
  page,
}) => {
  await signIn(page)
  await openScreen(page, '/lens')
  const visitor = page.getByRole('region', { name: 'The visitor' })
  const margin = page.getByRole('complementary', { name: 'Margin' })
  const shown = page.frameLocator('iframe[title$="as this visitor gets it"]')
  await visitor.getByLabel('Hour').fill('9')
  await expect(shown.locator('[data-n="home-lesson-title"]')).toHaveText('Try before you rent')
  const why = margin.locator('.lens-part').filter({ hasText: 'Try before you rent' })
  await expect(why).toContainText('Shown: the original, by rule.')
  await expect(why).toContainText('saw a page of type Instrument in this visit (false)')
  await expect(why).toContainText('To get it: saw a page of type Instrument in this visit.')

  // By the clock.
  await visitor.getByLabel('Hour').fill('20')
  await expect(shown.locator('[data-n="home-lesson-title"]')).toHaveText(/Lessons until nine tonight|Try before you rent/)
  await untilShown(page, 'Lessons until nine tonight')
  await expect(why).toContainText('Shown: ‘In the evening’, by rule.')

  // A link of the page is followed, and what was left has been seen: an instrument, then back.
  await shown.getByRole('link', { name: 'See the instruments' }).click()
  await expect(page.locator('iframe[title^="Ten instruments"], iframe[title*="nstruments"]').first()).toBeVisible()
  await choose(page, 'Page', 'Cello')
  // The page before has the same link: what is left is what is shown.
  await expect(page.locator('iframe[title^="Rent a cello"]')).toBeVisible()
  await shown.getByRole('link', { name: 'Plans' }).first().click()
  await choose(page, 'Page', 'Pinemoth Instrument Library')
  await expect(why).toContainText('Shown: ‘Lookers’, by rule.')
  await expect(shown.locator('[data-n="home-lesson-title"]')).toHaveText('Try the one you have looked at')
  await expect(why).toContainText('‘In the evening’ is not asked: the rule above fits')

  // The address is all that it takes to share it.
  const address = page.url()
  await openScreen(page, '/lens')
  await page.goto(address)
  await expect(shown.locator('[data-n="home-lesson-title"]')).toHaveText('Try the one you have looked at')

  // Saved, it stands beside the others and all that varies.
  await margin.getByLabel('Name for this visitor').fill('Evening looker')
  await margin.getByRole('button', { name: 'Save', exact: true }).click()
  await page.getByText('All that varies').click()
  const matrix = page.getByRole('region', { name: 'Visitors and parts, wider than the sheet' })
  const row = matrix.getByRole('row', { name: /^Evening looker/ })
  await expect(row.getByRole('button', { name: /Try before you rent.*‘Lookers’/ })).toBeVisible()
  await matrix.getByRole('button', { name: /^Neighbour in Harrowby: The heading “Five towns/ }).click()
  await expect(visitor.getByRole('combobox', { name: 'Region' })).toHaveValue('Harrowby')
  await margin.getByRole('button', { name: 'Remove Evening looker' }).click()
  await expect(margin.getByRole('button', { name: 'Evening looker', exact: true })).toHaveCount(0)
})

/** Other persons who are alike, until one is not held out. */
async function untilShown(page: import('@playwright/test').Page, words: string): Promise<void> {
  const title = page.frameLocator('iframe[title$="as this visitor gets it"]').locator('[data-n="home-lesson-title"]')
  await expect(async () => {
    if ((await title.textContent()) !== words) await page.getByRole('button', { name: 'Another person' }).click()
    await expect(title).toHaveText(words, { timeout: 2000 })
  }).toPass()
}
