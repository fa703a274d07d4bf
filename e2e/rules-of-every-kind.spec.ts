import { expect, test, type BrowserContext } from '@playwright/test'
import { ask, choose, openScreen, sheet, signIn, visitorOf } from './studio'

const phone = { userAgent: 'Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) Mobile/15E148 Safari/604.1' }
const tablet = { userAgent: 'Mozilla/5.0 (iPad; CPU OS 18_0 like Mac OS X) Mobile/15E148 Safari/604.1' }

interface Opened {
  readonly document: { readonly nodes: Readonly<Record<string, { readonly props: Readonly<Record<string, string>> }>> }
}

test('a rule’s version may be another type of component, or nothing; a copy of it cannot be tested as it is', async ({
  page,
  browser,
}) => {
  await signIn(page)
  await openScreen(page, '/site/marimba')
  await sheet(page).getByText('What you get').click()
  const ruleFor = async (name: string, device: string) => {
    await page.getByRole('button', { name: 'New version for some visitors' }).click()
    await page.getByLabel('Name of the version').fill(name)
    await page.getByRole('button', { name: 'Add a condition' }).click()
    await choose(page, 'What is compared', 'comes with a')
    await choose(page, 'Device', device)
  }
  await ruleFor('Quoted', 'phone')
  await choose(page, 'Turn it into', 'quote')
  await expect(page.getByText('turns the heading “What you get” into a quote')).toBeVisible()
  await ruleFor('Without', 'tablet')
  await page.keyboard.press('Escape')
  await sheet(page).getByText('What you get').click()
  await page.keyboard.press('Delete')
  await expect(page.getByText('hides the heading “What you get”')).toBeVisible()
  await page.getByRole('button', { name: 'Publish for visitors' }).click()
  await expect(page.getByText('Live as it stands here.')).toBeVisible()

  const { document } = await ask<Opened>(page, 'document.open', { document: 'marimba' })
  const node = Object.keys(document.nodes).find((id) => document.nodes[id]?.props.words === 'What you get') ?? ''
  const place = { document: 'marimba', node, isHeld: false }
  const [onPhone, onTablet, onComputer] = await Promise.all([
    visitorOf(browser, place, phone),
    visitorOf(browser, place, tablet),
    visitorOf(browser, place),
  ])
  /** Whether it is a heading there, and whether it is there at all. */
  const shownTo = async (context: BrowserContext) => {
    const body = await (await context.request.get('/instruments/marimba')).text()
    return [/<h2[^>]*>What you get/.test(body), body.includes('What you get')]
  }
  await expect.poll(() => shownTo(onPhone), { timeout: 10_000 }).toEqual([false, true])
  expect([await shownTo(onTablet), await shownTo(onComputer)]).toEqual([
    [false, false],
    [true, true],
  ])
  await Promise.all([onPhone.close(), onTablet.close(), onComputer.close()])

  // The test of a rule's version begins with a copy of it, and says that nobody could tell the two apart.
  await page.getByRole('button', { name: 'Test this version' }).last().click()
  await expect(page.getByText(/This test is for those to whom a rule shows ‘(Quoted|Without)’/)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Start the test' })).toBeDisabled()
})
