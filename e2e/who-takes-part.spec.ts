import { expect, request, test } from '@playwright/test'
import { ask, choose, newVariant, openScreen, served, sheet, signIn, site, startTest } from './studio'

const phone =
  'Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.0 Mobile/15E148 Safari/604.1'
const computer = 'Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:140.0) Gecko/20100101 Firefox/140.0'

/** What new visitors read in the title of a page, without repetition, and whether any of them was drawn. */
async function titles(path: string, userAgent: string, extraHTTPHeaders: Record<string, string> = {}) {
  const found = new Set<string>()
  let drawn = false
  for (let number = 0; number < 20; number++) {
    const fresh = await request.newContext({ userAgent, extraHTTPHeaders })
    const html = await (await fresh.get(site + path)).text()
    found.add(/<h1[^>]*>([^<]*)</.exec(html)?.[1] ?? '')
    drawn ||= (await fresh.storageState()).cookies.some(({ name }) => name === 'kept')
    await fresh.dispose()
  }
  return { found: [...found].sort(), drawn }
}

test('a test for some visitors: said as a sentence, seen before how many that is, and kept to by the site', async ({ page }) => {
  await signIn(page, 'ada')
  await openScreen(page, '/site/workshop-accordion')
  await sheet(page).locator('h1').click()
  const original = await sheet(page).locator('h1').innerText()
  await newVariant(page)
  await page.getByRole('complementary').getByLabel('Words', { exact: true }).fill('An evening with bellows')
  await expect(page.getByText('draft saved')).toBeVisible()
  await page.getByRole('button', { name: 'Make a test of it' }).click()

  const visitors = page.getByRole('region', { name: 'Visitors' })
  await expect(visitors.getByText('Everybody: add a condition to narrow it.')).toBeVisible()
  await visitors.getByRole('button', { name: 'Add a condition' }).click()
  await choose(page, visitors.getByLabel('What is compared'), 'comes with a')
  await choose(page, visitors.getByLabel('Device'), 'phone')
  await expect(visitors.getByText(/Of the visitors of the last 28 days about \d+(\.\d+)?% would have taken part/)).toBeVisible()
  await expect(
    page
      .getByText(/^Saved/i)
      .or(page.getByText('saved'))
      .first(),
  ).toBeVisible()

  // One more, that belongs to the first: phones in Welsh, or whoever comes by the school letter.
  await choose(page, visitors.getByLabel('How the conditions are joined'), 'any of these holds')
  await visitors.getByRole('button', { name: 'Add several that belong together' }).click()
  const inner = visitors.locator('.rule .rule')
  await choose(page, inner.getByLabel('What is compared'), 'reads in')
  await choose(page, inner.getByLabel('Language that the browser asks for first').first(), 'Welsh')

  // An empty “any” is for nobody, and holds the start up, with the step that settles it.
  await inner.getByRole('button', { name: 'Remove this condition' }).click()
  await visitors.getByRole('button', { name: 'Remove this condition' }).first().click()
  await visitors.getByRole('button', { name: 'Remove this condition' }).first().click()
  await expect(page.getByText('Nobody can take part', { exact: false })).toBeVisible({ timeout: 15_000 })
  await page.getByRole('button', { name: 'Let everybody take part' }).click()
  await expect(visitors.getByText('Everybody: add a condition to narrow it.')).toBeVisible()

  await visitors.getByRole('button', { name: 'Add a condition' }).click()
  await choose(page, visitors.getByLabel('What is compared'), 'comes with a')
  await startTest(page, 'Looked into the workshops')
  const { design } = await ask<{ design: { audience: unknown } }>(page, 'test.open', { test: page.url().split('/').at(-1) })
  expect(design.audience).toEqual({ kind: 'all', of: [{ kind: 'device', device: 'phone' }] })
  await served(page)

  expect(await titles('/workshops/accordion', phone)).toEqual({
    found: ['An evening with bellows', original].sort(),
    drawn: true,
  })
  expect(await titles('/workshops/accordion', computer)).toEqual({ found: [original], drawn: false })

  // While it runs, who takes part is locked.
  await expect(visitors.getByLabel('What is compared')).toBeDisabled()
  await ask(page, 'test.end', { test: page.url().split('/').at(-1) })
  await served(page)
})

test('a browser is given nothing to keep that no rule asks for', async () => {
  const jar = await request.newContext({ userAgent: computer })
  await jar.get(`${site}/contact?utm_medium=e-mail`)
  expect(
    (await jar.storageState()).cookies
      .map(({ name }) => name)
      .filter((name) => name !== 'kept')
      .sort(),
  ).toEqual(['visit', 'visitor'])
  await jar.dispose()
})

test('who is left out is said once, for all tests and counts, with what that does', async ({ page }) => {
  await signIn(page, 'ada')
  await openScreen(page, '/settings')
  const band = page.getByRole('region', { name: 'Left out' })
  const listed = band.getByLabel('Addresses that are left out, one on each line')
  await listed.fill('127.0.0.0/8\nlocalhost')
  await band.getByRole('button', { name: 'Keep these addresses' }).click()
  await expect(page.getByText(/an address such as 192\.0\.2\.7/)).toBeVisible()
  // What was typed is still there, and can be mended.
  await listed.fill('127.0.0.0/8\n::1')
  await band.getByRole('button', { name: 'Keep these addresses' }).click()
  await expect(page.getByText('Kept, and live.')).toBeVisible()
  await served(page)

  const given = async () => {
    const fresh = await request.newContext({ userAgent: computer })
    await fresh.get(`${site}/`)
    const { cookies } = await fresh.storageState()
    await fresh.dispose()
    return cookies.map(({ name }) => name)
  }
  expect(await given()).toEqual([])
  await expect(band.getByText(/Listed addresses.*[1-9]\d* pages? in the last 7 days/)).toBeVisible({ timeout: 30_000 })

  await listed.fill('')
  await band.getByRole('button', { name: 'Keep these addresses' }).click()
  await served(page)
  await expect.poll(given).toContain('visitor')
})
