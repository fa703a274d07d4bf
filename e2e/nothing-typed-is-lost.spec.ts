import { expect, test, type Page } from '@playwright/test'
import { ask, choose, openAgain, openScreen, sheet, signIn } from './studio'

type Opened = { document: { nodes: Record<string, { props: Record<string, string> }> }; lock: number }
const saved = (page: Page) => expect(page.getByText('draft saved')).toBeVisible()
const kept = async (page: Page, node: string, prop = 'words') =>
  (await ask<Opened>(page, 'document.open', { document: 'schools' })).document.nodes[node]?.props[prop]

/** The part of the page with these words, and the field that holds them. */
async function select(page: Page, words: string, field: string) {
  await sheet(page).getByText(words).first().click()
  return page.getByRole('complementary').getByLabel(field, { exact: true })
}

test('what is typed while nothing answers is kept over a reload, and saved by itself when something does', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/site/schools')
  const field = await select(page, 'Forty-one schools so far', 'Words')
  await page.route('**/api/document.edit', (route) => route.abort())
  await field.fill('')
  // As many keystrokes as nobody could save one by one.
  await field.pressSequentially('Forty-two schools so far, and counting. '.repeat(15), { timeout: 90_000 })
  await expect(page.getByText('not saved yet')).toBeVisible()
  await expect(page.getByText('sent again by itself').first()).toBeVisible()
  const typed = await field.inputValue()
  expect(typed).toHaveLength(600)

  // Going on by a link asks first; so does leaving the page.
  await page.getByRole('link', { name: 'Tests', exact: true }).click()
  await expect(page.getByRole('dialog', { name: 'Leave with something unsaved?' })).toBeVisible()
  await page.getByRole('button', { name: 'Stay' }).click()
  const asked = page.waitForEvent('dialog').then((dialog) => dialog.accept())
  await openAgain(page)
  await asked
  await expect(sheet(page).getByText('Forty-two schools so far').first()).toBeVisible()
  await expect(page.getByText('not saved yet')).toBeVisible()

  await page.unroute('**/api/document.edit')
  await expect(page.getByText('draft saved')).toBeVisible({ timeout: 40_000 })
  expect(await kept(page, await nodeWith(page, 'Forty-two schools so far'))).toBe(typed)

  // Nothing waits any more, so nothing asks any more.
  await page.getByRole('link', { name: 'Tests', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'Tests', level: 1 })).toBeVisible()
})

const nodeWith = async (page: Page, words: string) =>
  Object.entries((await ask<Opened>(page, 'document.open', { document: 'schools' })).document.nodes).find(([, { props }]) =>
    props.words?.startsWith(words),
  )?.[0] ?? ''

test('what cannot be kept is said at its field, in a variant too, and everything else is saved', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/site/schools')
  await sheet(page).getByText('Write to us').click()
  const margin = page.getByRole('complementary')
  const outside = async (text: string) => {
    await choose(page, margin.getByRole('combobox').first(), 'outside')
    await margin.getByLabel('Address outside').fill(text)
    await margin.getByLabel('Address outside').press('Enter')
  }
  await outside('nowhere at all')
  await expect(margin.getByRole('alert')).toContainText('It is not saved; everything else is.')
  await expect(margin.getByLabel('Address outside')).toHaveValue('nowhere at all')
  await margin.getByLabel('Words', { exact: true }).fill('Write to the workshop')
  await saved(page)
  const button = await nodeWith(page, 'Write to the workshop')
  expect(await kept(page, button, 'link')).toBe('')

  // Publishing is possible as soon as something was typed.
  await expect(page.getByRole('button', { name: 'Publish', exact: true })).toBeEnabled()

  await page.getByRole('button', { name: 'New variant' }).click()
  await expect(page.getByLabel('Name of the version')).toBeVisible()
  await outside('nowhere at all')
  await expect(margin.getByRole('alert')).toContainText('It is not saved; everything else is.')
  await margin.getByLabel('Address outside').fill('shop.example/cellos')
  await margin.getByLabel('Address outside').press('Enter')
  await expect(margin.getByLabel('Address outside')).toHaveValue('https://shop.example/cellos')
  await expect(margin.getByRole('alert')).toHaveCount(0)
  await saved(page)
})

test('two people in different fields of one test sheet meet, as on a page', async ({ page, browser }) => {
  await signIn(page)
  const theirs = await browser.newContext({ viewport: { width: 1280, height: 800 } })
  const other = await theirs.newPage()
  await signIn(other, 'edgar')
  const { lines } = await ask<{ lines: { id: string; status: string }[] }>(page, 'test.list', {})
  const draft = lines.find(({ status }) => status === 'draft')?.id ?? ''
  for (const each of [page, other]) await openScreen(each, `/tests/${draft}`)
  const expected = other.getByLabel('Expected')
  await page.getByLabel('The problem').fill('Nobody reads the customers’ voices.')
  await expected.fill('More of them book a lesson.')
  const both = async () => {
    const { design } = await ask<{ design: { problem: string; expected: string } }>(page, 'test.open', { test: draft })
    return [design.problem, design.expected]
  }
  await expect.poll(both).toEqual(['Nobody reads the customers’ voices.', 'More of them book a lesson.'])
  await expect(other.locator('.trouble')).toHaveCount(0)
  await theirs.close()
})
