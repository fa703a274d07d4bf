import { expect, test, type BrowserContext } from '@playwright/test'
import { choose, openScreen, reported, sheet, signIn, site, untilServed, visitor, writeInPlace } from './studio'

const ORIGINAL = 'Borrow an instrument. Keep it as long as you play.'
const SHORTER = 'Rent by the month. Play for life.'
/** The heading marked for counting. Another part of the page is, too, at the hours of its rule. */
const VARIED = /<h1[^>]* data-e=/

const headingFor = async (context: BrowserContext) => {
  const page = context.pages()[0] ?? (await context.newPage())
  await page.goto('/')
  return { page, words: await page.locator('h1').innerText() }
}

test('an editor tests the main heading, reads the result, takes the variant over and back', async ({ page, browser }) => {
  await signIn(page)

  // A variant of the main heading, its words changed in place; and a second one left as it is.
  await openScreen(page, '/site/home')
  await sheet(page).locator('h1').click()
  await page.getByRole('button', { name: 'New variant' }).click()
  await expect(page.getByLabel('Name of the version')).toHaveValue('Variant 1')
  await page.getByLabel('Name of the version').fill('By the month')
  await sheet(page).locator('h1').click()
  await writeInPlace(page, SHORTER)
  await expect(sheet(page).locator('h1')).toHaveText(SHORTER)
  await expect(page.getByRole('listitem').filter({ hasText: 'changes the words of the heading' })).toBeVisible()
  await page.getByRole('button', { name: 'New variant' }).click()
  await expect(page.getByLabel('Name of the version')).toHaveValue('Variant 1')
  await page.getByRole('button', { name: 'Put Original on the page' }).click()
  await expect(sheet(page).locator('h1')).toHaveText(ORIGINAL)

  // A test of them, with the question, and the goal chosen by its page.
  await page.getByRole('button', { name: 'Make a test of them' }).click()
  await expect(page.getByText('Nothing says what counts as success.')).toBeVisible()
  await page.getByLabel('Name of the test').fill('What the front page promises')
  await page.getByLabel('The problem').fill('Visitors do not see that they may rent by the month.')
  await page.getByLabel('The change').fill('Say it in the heading.')
  await page.getByRole('button', { name: 'Make a goal by pointing' }).click()
  await choose(page, page.getByRole('dialog').getByLabel('Page', { exact: true }).first(), '/reserve/confirmed')
  await page.getByRole('button', { name: 'Use this goal' }).click()
  await expect(page.getByLabel('Goal that decides').first()).toHaveValue('Reserved an instrument')
  await expect(page.getByText(/It counts when “.*” is shown/)).toBeVisible()

  // Readiness blocks the variant that does not differ; its note settles it.
  await expect(page.getByText('does not differ from the original')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Start the test' })).toBeDisabled()
  await page.getByRole('button', { name: 'Leave it out' }).click()
  await expect(page.getByText('Ready to start')).toBeVisible()
  await page.getByRole('button', { name: 'Start the test' }).click()
  await expect(page.getByText('The test is running.')).toBeVisible()
  const testAddress = page.url()

  // Visitors get one of the two by chance, and keep it.
  const first = await visitor(browser)
  await untilServed(first, '/', VARIED)
  const contexts = [first]
  const seen = new Set<string>()
  for (let tries = 0; tries < 20 && seen.size < 2; tries++) {
    const context = tries === 0 ? first : await visitor(browser)
    if (tries > 0) contexts.push(context)
    const { words } = await headingFor(context)
    expect([ORIGINAL, SHORTER]).toContain(words)
    seen.add(words)
    for (let again = 0; again < 3; again++) expect((await headingFor(context)).words).toBe(words)
  }
  expect([...seen].sort()).toEqual([ORIGINAL, SHORTER].sort())

  // One who saw the variant goes through to the confirmation, and is counted.
  const chosen = contexts.find((context) => context.pages()[0] !== undefined) ?? first
  const [open = await chosen.newPage()] = chosen.pages()
  const seenBy = reported(open, 'seen')
  const { page: walk } = await headingFor(chosen)
  await seenBy
  await walk.goto('/reserve')
  await walk.getByLabel('From').fill('2027-01-04')
  await walk.getByLabel('Your name').fill('Nelly Reed')
  await walk.getByLabel('E-mail').fill('nelly@example.org')
  for (const list of await walk.locator('form select').all()) await list.selectOption({ index: 1 })
  await walk.getByRole('button', { name: 'Reserve it' }).click()
  await expect(walk.getByRole('heading', { name: 'It is yours' })).toBeVisible()
  const resultTable = page.getByRole('table', { name: /Reserved an instrument/ })
  const reached = async () => {
    const cells = await resultTable.locator('tbody tr td:nth-child(4)').allInnerTexts()
    return cells.map(Number).reduce((sum, value) => sum + value, 0)
  }
  await expect.poll(reached, { timeout: 20_000 }).toBe(1)
  await expect(page.getByTestId('live-sentence')).toContainText('Nothing can be said before')

  // A rehearsal with a true effect finds it; the live sentence is untouched by it.
  await page.getByRole('link', { name: 'Rehearse this test' }).click()
  await page.waitForURL(/\/rehearse/)
  await page.getByLabel('Visitors', { exact: true }).fill('20000')
  await page.getByLabel('Days').fill('21')
  await page.getByLabel('True rate of Original').fill('10')
  // So much that chance cannot hide it: who is given what is drawn anew in each run.
  await page.getByLabel('True rate of By the month').fill('14')
  await page.getByRole('button', { name: 'Send the visitors' }).click()
  await expect(page.getByText('All of 20,000 simulated visitors over 21 days have come')).toBeVisible({ timeout: 120_000 })
  await expect(page.getByTestId('rehearsal-sentence')).toContainText('‘By the month’ is better')
  await openScreen(page, testAddress)
  await expect(page.getByTestId('live-sentence')).toContainText('Nothing can be said before')
  await expect.poll(reached).toBe(1)

  // Taken over all the same: the reason is asked for, and written down.
  await page.getByRole('button', { name: 'Take ‘By the month’ over' }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByText('changes the words of the heading')).toBeVisible()
  await expect(dialog.getByRole('button', { name: 'Take it over' })).toBeDisabled()
  await dialog.getByLabel('Reason').fill('The rehearsal was convincing, and the director likes it.')
  await dialog.getByRole('button', { name: 'Take it over' }).click()
  await expect(page.getByText('took ‘By the month’ over')).toBeVisible()

  const third = await visitor(browser)
  await untilServed(third, '/', SHORTER)
  expect((await headingFor(third)).words).toBe(SHORTER)
  expect(await (await third.request.get(`${site}/`)).text()).not.toMatch(VARIED)

  await page.getByRole('link', { name: 'Notebook' }).click()
  const entry = page.getByRole('article').filter({ hasText: 'What the front page promises' })
  await expect(entry.getByText('The rehearsal was convincing')).toBeVisible()
  await expect(entry.getByRole('figure')).toHaveCount(2)
  const picture = (name: string) => entry.frameLocator(`iframe[title="${name}, as it looked"]`).locator('h1')
  await expect(picture('Original')).toHaveText(ORIGINAL)
  await expect(picture('By the month')).toHaveText(SHORTER)

  // And back.
  await openScreen(page, testAddress)
  await page.getByRole('button', { name: 'Take the decision back' }).click()
  await page.getByRole('button', { name: 'Take it back' }).click()
  await expect(page.getByRole('button', { name: 'Keep the original' })).toBeVisible()
  await untilServed(third, '/', ORIGINAL)
  expect((await headingFor(third)).words).toBe(ORIGINAL)
  await Promise.all(contexts.map((context) => context.close()))
})
