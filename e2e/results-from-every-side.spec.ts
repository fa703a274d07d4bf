import { expect, test } from '@playwright/test'
import { choose, openAgain, openScreen, signIn } from './studio'

test('a result is divided by one thing at a time, of everybody or of some, and the address keeps it', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/tests/t-3')
  await page.getByText('By one thing at a time: to explore, not to decide').click()
  const table = page.getByRole('table', { name: /^Reserved an instrument, by device/ })
  await expect(table.getByRole('row', { name: /^phone/ })).toContainText(/% of [\d,]+/)
  await expect(page).toHaveURL(/by=device/)
  // A visitor’s traits are known one at a time, so that a trait is not narrowed by another.
  await expect(page.getByLabel('Of whom')).toHaveCount(0)

  await choose(page, page.getByLabel('Divided by'), 'day')
  const days = page.getByRole('table', { name: /^Reserved an instrument, by day/ })
  const today = new Date().toISOString().slice(0, 4)
  await expect(days.getByRole('row').nth(1)).toContainText(today)
  const everybody = await days.getByRole('row').nth(2).innerText()
  await choose(page, page.getByLabel('Of whom'), 'phone')
  await expect(page).toHaveURL(/by=day&only=device%3Dphone/)
  await expect(days.getByRole('row').nth(2)).not.toHaveText(everybody)
  await openAgain(page)
  await expect(page.getByLabel('Of whom')).toHaveValue(/\d/)
  await expect(days.getByRole('row').nth(1)).toContainText(today)

  // What an address asks for that is nothing is passed over.
  await openScreen(page, '/tests/t-3?by=constructor&only=constructor%3D1&goal=gone&round=gone')
  await expect(page.getByTestId('live-sentence')).toContainText('Nothing to pay yet')
  await expect(page.getByText('By one thing at a time: to explore, not to decide')).toBeVisible()
})

test('which part does what, what ran beside it, how visitors were divided, and what they had done before are told with the result', async ({
  page,
}) => {
  await signIn(page)
  await openScreen(page, '/tests/t-6')
  await expect(page.getByRole('img', { name: /The card list: ‘In rows’ adds between/ })).toBeVisible()
  await page.getByRole('button', { name: 'Table of “Which part does what”' }).click()
  await expect(page.getByRole('row', { name: /The card list In rows/ })).toContainText(/[+−][\d.]+ points?/)

  await openScreen(page, '/tests/t-7')
  const beside = page.getByRole('region', { name: 'Tests that ran beside it' })
  await expect(beside).toContainText('The title of the instruments, and how they are laid out')
  await expect(beside).toContainText(/[\d,]+ visitors were in both/)

  await openScreen(page, '/tests/t-8')
  await expect(page.getByRole('img', { name: /The split over time/ })).toContainText(/Original.*Forty minutes.*As a card/)
  await page.getByRole('button', { name: 'Table of “How visitors were divided”' }).click()
  await expect(page.getByRole('row', { name: /the split followed what visitors did/ }).first()).toContainText(
    /Forty minutes [3-9]\d/,
  )
  const sentence = await page.getByTestId('live-sentence').innerText()
  await page.getByText('Take out what visitors had done before they saw it').click()
  await expect(page.getByRole('heading', { name: 'Lift over the original, what was done before taken out' })).toBeVisible()
  await expect(page).toHaveURL(/before=out/)
  await openAgain(page)
  await expect(page.getByLabel('Take out what visitors had done before they saw it')).toBeChecked()
  // It is shown, and decides nothing.
  await expect(page.getByTestId('live-sentence')).toHaveText(sentence)
})

test('what happened while it ran is written down, and past tests of a kind stand beside each other', async ({ page }) => {
  await signIn(page, 'edgar')
  await openScreen(page, '/tests/t-7')
  await page.getByLabel('New note').fill('The van was away, so fewer people came')
  await page.getByRole('button', { name: 'Write the note' }).click()
  await expect(page.getByRole('region', { name: 'Notes' }).getByRole('listitem')).toContainText('Edgar Fenn: The van was away')

  await openScreen(page, '/notebook?tag=titles')
  await expect(page.getByRole('article')).toHaveCount(4)
  await expect(page.getByRole('article').first()).toContainText('changes the words of the heading')
  await page.getByText('Kinds compared', { exact: true }).click()
  const headings = page.getByRole('region', { name: 'Tests of a heading' })
  await expect(headings).toContainText(/\d+ tests settled; \d paid\. A variant changed its rate by [+−]\d/)
  await expect(headings.getByRole('link', { name: 'What the plans page says first' })).toBeVisible()
})

test('a rehearsal comes through the pages as visitors get them, and says whether every version works', async ({ page }) => {
  await signIn(page, 'edgar')
  await openScreen(page, '/rehearse?test=t-4')
  await page.getByText('Through the pages, forms and reports').click()
  const visitors = page.getByLabel('Visitors', { exact: true })
  await visitors.fill('200')
  await visitors.blur()
  await page.getByText('Who they are, and when they come').click()
  const studioUsers = page.getByLabel('Share: are signed in to the studio')
  await studioUsers.fill('10')
  await studioUsers.blur()
  await page.getByRole('button', { name: 'Send the visitors' }).click()
  const rehearsal = page.getByRole('region', { name: 'The rehearsal' })
  await expect(rehearsal).toContainText('All of 200 simulated visitors', { timeout: 60_000 })
  await expect(rehearsal).toContainText('Everybody could do what they came for, in every version.')
  await expect(rehearsal).toContainText(
    /[1-9]\d* to bots, [1-9]\d* to people of the studio; [1-9]\d* visitors came back on another day/,
  )
})

test('a split that is not as planned is said before anything else, with what to look at, and nothing is read from it', async ({
  page,
}) => {
  await signIn(page, 'edgar')
  await openScreen(page, '/rehearse?test=t-4')
  await choose(page, page.getByLabel('What is the matter with Save me a place'), 'one in ten does not report')
  await page.getByLabel('True rate of Save me a place').fill('60')
  await page.getByRole('button', { name: 'Send the visitors' }).click()
  const rehearsal = page.getByRole('region', { name: 'The rehearsal' })
  await expect(rehearsal).toContainText('All of 20,000 simulated visitors', { timeout: 90_000 })
  await expect(page.getByTestId('rehearsal-sentence')).toHaveText(/^These counts are not to be trusted/)
  await expect(rehearsal.getByText('Look at this, likeliest first:')).toBeVisible()
  await expect(rehearsal.getByRole('row', { name: /Save me a place/ }).first()).toContainText('not to be trusted')
  // Twice the rate is no gain while the counts are wrong.
  await expect(rehearsal.getByText(/is better/)).toHaveCount(0)
  await expect(rehearsal.getByText('No evidence is drawn from counts that are not to be trusted.')).toBeVisible()
  await expect(rehearsal.getByText(/clear since/)).toHaveCount(0)
})
