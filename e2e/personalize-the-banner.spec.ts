import { expect, test, type Page } from '@playwright/test'
import { allCounted, choose, openScreen, reported, sheet, signIn, untilServed, visitor, visitorOf } from './studio'

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
  const shelf = page.getByRole('region', { name: 'Shelf' })
  await expect(shelf.getByText('1 of 2')).toBeVisible()
  await page.keyboard.press('.')
  await expect(sheet(page).locator('[data-n="home-banner"] h2')).toHaveText('Hold it first')
  await expect(shelf.getByText('2 of 2')).toBeVisible()

  // By which goal its gain is measured, and whom it holds out.
  await page.getByRole('link', { name: 'Change this' }).click()
  const measuring = page.getByRole('form', { name: 'How the gain is measured' })
  await choose(page, measuring.getByLabel('Goal that decides'), 'Looked at the plans')
  await measuring.getByLabel('Smallest gain worth having').fill('30')
  await measuring.getByRole('button', { name: 'Save' }).click()
  await expect(measuring.getByRole('button', { name: 'Save' })).toHaveCount(0)
  await page.getByRole('button', { name: 'Publish for visitors' }).click()
  await expect(page.getByText('live as it stands')).toBeVisible()

  const place = { document: 'home', node: 'home-banner' }
  const looker = await visitorOf(browser, { ...place, isHeld: false })
  const heldOut = await visitorOf(browser, { ...place, isHeld: true })
  const stranger = await visitor(browser)
  const looking = await looker.newPage()
  await looking.goto('/instruments/harp')
  await untilServed(looker, '/', 'Hold it first')
  await seesBanner(looking, 'Hold it first')
  const compared = await heldOut.newPage()
  await compared.goto('/instruments/harp')
  await seesBanner(compared, 'Yours by Friday')
  const strange = await stranger.newPage()
  await strange.goto('/')
  await expect(strange.locator('[data-n="home-banner"] h2')).toHaveText('Yours by Friday')
  // Whoever is shown it by no rule is not counted for one.
  await expect(strange.locator('[data-n="home-banner"]')).not.toHaveAttribute('data-e')
  await looking.goto('/plans')
  await Promise.all([looker.close(), heldOut.close(), stranger.close()])

  // The lens says of both what they get and why.
  for (const [pagesSeen, words, why] of [
    [['harp'], 'Hold it first', 'Shown: ‘For lookers’, by rule.'],
    [[], 'Yours by Friday', 'To get it: saw a page of type Instrument in this visit.'],
  ] as const) {
    await openScreen(page, `/lens?as=${encodeURIComponent(JSON.stringify({ pagesSeen }))}`)
    await untilLensShows(page, words)
    const part = page.getByRole('complementary', { name: 'Margin' }).locator('.lens-part').filter({ hasText: '‘For lookers’' })
    await expect(part).toContainText(why)
  }

  // What it gained is counted, and read like a test.
  await allCounted(page)
  const results = page.getByRole('region', { name: 'Results' })
  await openScreen(page, '/personalize/home/home-banner')
  await expect(results.getByTestId('live-sentence')).toContainText('We cannot say yet what ‘For lookers’ does')
  const table = results.getByRole('table').filter({ hasText: 'Looked at the plans, round 1' })
  await expect(table.getByRole('row', { name: /Original/ })).toHaveText(/Original\s*1\s*1\s*0/)
  await expect(table.getByRole('row', { name: /For lookers/ })).toHaveText(/For lookers\s*1\s*1\s*1/)

  // Taken off, it stays in the notebook with what was learned.
  await page.getByRole('button', { name: 'Take off the site' }).click()
  await page.getByLabel('What was learned').fill('Too few came to say.')
  await page.getByRole('button', { name: 'Take them off' }).click()
  await expect(page.getByText('not live: nobody sees it by rule')).toBeVisible()
  await openScreen(page, '/notebook?of=rules')
  await expect(page.getByLabel('What was learned').first()).toHaveValue('Too few came to say.')
  await expect(page.getByText('It ended too early to judge ‘For lookers’')).toBeVisible()
})

/** Other persons who are alike, until one is not held out. */
async function untilLensShows(page: Page, words: string): Promise<void> {
  const banner = page.frameLocator('iframe[title$="as this visitor gets it"]').locator('[data-n="home-banner"] h2')
  await expect(async () => {
    if ((await banner.textContent()) !== words) await page.getByRole('button', { name: 'Another person' }).click()
    await expect(banner).toHaveText(words, { timeout: 2000 })
  }).toPass()
}

/** Looks at the front page until the banner was really seen. */
async function seesBanner(page: Page, words: string): Promise<void> {
  await page.goto('/')
  const banner = page.locator('[data-n="home-banner"]')
  await expect(banner.locator('h2')).toHaveText(words)
  const seen = reported(page, 'seen')
  await banner.scrollIntoViewIfNeeded()
  await seen
}
