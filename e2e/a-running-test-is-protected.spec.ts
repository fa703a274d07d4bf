import { expect, test, type Page } from '@playwright/test'
import { ask, choose, newVariant, openScreen, served, sheet, signIn, site, startTest, takeOver, visitor } from './studio'

const publish = (page: Page) => page.getByRole('button', { name: 'Publish', exact: true }).click()
const saved = (page: Page) => expect(page.getByText('draft saved')).toBeVisible()

test('a form varied by a test is sent in both versions, each as it was shown; what would disturb the test says so', async ({
  page,
  browser,
}) => {
  await signIn(page, 'ada')
  await openScreen(page, '/site/contact')
  // The variant asks for a telephone number instead of the e-mail, and leads to another page.
  await sheet(page).getByText('Send us a line').click()
  await newVariant(page)
  await page.getByLabel('Name of the version').fill('By telephone')
  const margin = page.getByRole('complementary')
  await margin.getByLabel('Button', { exact: true }).fill('Call me')
  await saved(page)
  await sheet(page).locator('.form-field.email').click()
  await margin.getByLabel('Label', { exact: true }).fill('Your telephone')
  await margin.getByLabel('Name', { exact: true }).fill('telephone')
  await choose(page, 'Kind', 'Telephone')
  await saved(page)
  await page.getByRole('button', { name: 'Make a test of it' }).click()
  await expect(page.getByRole('region', { name: 'Goals' })).toBeVisible()
  await startTest(page, 'Looked into the workshops')
  const testAddress = page.url()
  await served(page)

  // Each version is sent as it was shown, and taken by what it asked for.
  const sent = new Set<string>()
  for (let tries = 0; tries < 25 && sent.size < 2; tries++) {
    const theirs = await visitor(browser)
    const contact = await theirs.newPage()
    await contact.goto('/contact')
    const button = contact.locator('form button[type=submit]')
    const words = await button.innerText()
    if (!sent.has(words)) {
      await contact.getByLabel('Your name').fill(`Nelly, ${words}`)
      if (words === 'Call me') await contact.getByLabel('Your telephone').fill('0491 570 156')
      else await contact.getByLabel('E-mail').fill('nelly@example.org')
      await contact.getByLabel('What is it about?').fill('A cello')
      await button.click()
      await expect(contact).toHaveURL(`${site}/trial-lesson/thanks`)
      sent.add(words)
    }
    await theirs.close()
  }
  expect([...sent].sort()).toEqual(['Call me', 'Send'])
  const { entries } = await ask<{ entries: { values: Record<string, string> }[] }>(page, 'standIn.read', {})
  const mine = entries.map(({ values }) => values).filter(({ name }) => name?.startsWith('Nelly, ') === true)
  expect(mine.find(({ name }) => name === 'Nelly, Call me')).toMatchObject({ telephone: '0491 570 156' })
  expect(mine.find(({ name }) => name === 'Nelly, Send')).toMatchObject({ email: 'nelly@example.org' })

  // Publishing what does not touch the test asks nothing more; what the original shows of it does.
  await openScreen(page, '/site/contact')
  await sheet(page).locator('h1').click()
  await margin.getByLabel('Words', { exact: true }).fill('Write, or ring the bell')
  await sheet(page).getByText('Send us a line').click()
  await margin.getByLabel('Title', { exact: true }).fill('Write us a line')
  await saved(page)
  await publish(page)
  const dialog = page.getByRole('dialog')
  const publishNow = async () => {
    const answered = page.waitForResponse((answer) => answer.url().endsWith('/api/document.publish'))
    await dialog.getByRole('button', { name: 'Publish' }).click()
    expect((await answered).status()).toBe(200)
    await served(page)
  }
  await expect(dialog.getByText('rests on this')).toBeVisible()
  await dialog.getByRole('radio', { name: /Leave that part as it is/ }).check()
  await publishNow()
  expect(await (await page.request.get(`${site}/contact`)).text()).toMatch(/ring the bell[^]*Send us a line/)

  await publish(page)
  await dialog.getByRole('radio', { name: /open the next round/ }).check()
  await publishNow()
  expect(await (await page.request.get(`${site}/contact`)).text()).toContain('Write us a line')
  await openScreen(page, testAddress)
  await expect(page.getByText(/Round 2,.*going on/)).toBeVisible()

  // A goal that it counts is changed: the sheet shows it as it was, and offers the next round.
  await openScreen(page, '/goals')
  await page.getByRole('link', { name: 'Looked into the workshops' }).click()
  await page.waitForURL(/\/goals\/./)
  await page.getByLabel('Worth of one conversion').fill('3')
  await expect(page.getByText('goes on counting this goal as it was')).toBeVisible()
  await page.getByRole('button', { name: 'Open its next round' }).click()
  await expect(page.getByText('The next round counts the goal as it is now.')).toBeVisible()
  await openScreen(page, testAddress)
  await expect(page.getByText(/Round 3,.*going on/)).toBeVisible()
  await takeOver(page, 'By telephone')
})

test('a variant in which the goal can no longer be pressed, or that leads nowhere, does not start', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/site/plans')
  await sheet(page).locator('h1').click()
  await newVariant(page)
  await page.getByLabel('Name of the version').fill('Without a way on')
  const button = sheet(page).locator('a.button').first()
  await button.click()
  const margin = page.getByRole('complementary')
  // A heading may lead somewhere as well: what is changed has to be the price with its button.
  await expect(margin.getByLabel('Button', { exact: true })).toHaveValue(await button.innerText())
  await choose(page, margin.getByRole('combobox').first(), 'outside')
  await saved(page)
  await page.getByRole('button', { name: 'Make a test of it' }).click()
  await choose(page, 'Goal that decides', 'Looked into the workshops')
  await expect(page.getByText(/leads nowhere\. Choose where it leads/)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Start the test' })).toBeDisabled()
  await page.getByRole('button', { name: 'Remove' }).click()
  await page.getByRole('button', { name: 'Remove the draft' }).click()
  await expect(page.getByRole('heading', { name: 'Tests', level: 1 })).toBeVisible()
})
