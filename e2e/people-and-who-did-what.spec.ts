import { expect, test } from '@playwright/test'
import { openScreen, openAgain, signIn, studio } from './studio'

// Her own for each run, so that the same demo can be run against again.
const who = `Nora ${Date.now() % 100_000}`
const email = `nora-${Date.now()}@pinemoth.example`
const password = 'kettle orchid plaster moon'

test('somebody is invited, comes in by the link, gets another role, is signed out everywhere, and all of it is written down', async ({
  page,
  browser,
}) => {
  await signIn(page, 'ada')
  await openScreen(page, '/settings/people')
  await page.getByLabel('Name', { exact: true }).fill(who)
  await page.getByLabel('E-mail').fill(email)
  await page.getByRole('button', { name: 'Make the invitation' }).click()
  const link = await page.getByRole('status').locator('code').innerText()
  expect(link).toContain(`${studio}/welcome/`)
  await expect(page.getByRole('row', { name: new RegExp(who) })).toContainText('invited, has not come yet')

  // By the link, once; a password that is easy to guess is refused, and the link stays good.
  const theirs = await browser.newContext()
  const nora = await theirs.newPage()
  await nora.goto(link)
  await expect(nora.getByRole('heading', { name: `Welcome, ${who}` })).toBeVisible()
  const choose = async (words: string) => {
    await nora.getByLabel('New password').fill(words)
    await nora.getByLabel('The same again').fill(words)
    await nora.getByRole('button', { name: 'Keep it' }).click()
  }
  await choose(email)
  await expect(nora.getByRole('alert').filter({ hasText: 'known to others' })).toBeVisible()
  await choose(password)
  await expect(nora.getByRole('heading', { name: 'Today' })).toBeVisible()
  const late = await theirs.newPage()
  await late.goto(link)
  await expect(late.getByRole('heading', { name: 'This link does not work any more' })).toBeVisible()
  await late.close()

  // One's own password is changed by whoever knows it; a wrong one is said at once, and changes nothing.
  await openScreen(nora, '/settings/me')
  const change = async (current: string, next: string) => {
    await nora.getByLabel('The one you have now').fill(current)
    await nora.getByLabel('The new one', { exact: true }).fill(next)
    await nora.getByLabel('The new one again').fill(next)
    await nora.getByRole('button', { name: 'Change it' }).click()
  }
  await change('not this one, surely', 'lantern gravel teapot swan')
  await expect(nora.getByRole('alert').filter({ hasText: 'is not right' })).toBeVisible()
  await change(password, 'lantern gravel teapot swan')
  await expect(nora.getByText('Changed. Every other browser is signed out.')).toBeVisible()

  // An editor is refused what a publisher may; with the other role it is allowed at once.
  await openScreen(nora, '/settings/people')
  await expect(nora).toHaveURL(/settings$/)
  await openScreen(nora, '/site/gift')
  await expect(nora.getByRole('button', { name: 'Publish', exact: true })).toBeVisible()
  await page.getByLabel(`Role of ${who}`).selectOption({ label: 'publisher' })
  await expect(page.getByText(`${who} has another role now.`)).toBeVisible()
  await openScreen(nora, '/')
  await nora.getByText(who).first().click()
  await expect(nora.getByText('publisher', { exact: false }).first()).toBeVisible()

  // Signed out everywhere: the next thing she does asks her to sign in.
  const row = page.getByRole('row', { name: new RegExp(who) })
  await row.getByRole('button', { name: 'Sign out everywhere' }).click()
  await expect(page.getByText(`${who} is signed out everywhere.`)).toBeVisible()
  await openScreen(nora, '/tests')
  await expect(nora).toHaveURL(/sign-in/)

  // Forgotten: the link goes by mail, which the stand-in keeps.
  await nora.getByRole('link', { name: 'Forgotten your password?' }).click()
  // Both screens ask for an e-mail: what is typed in the one before is lost with it.
  await nora.waitForURL(/forgotten/)
  await nora.getByLabel('E-mail').fill(email)
  await nora.getByRole('button', { name: 'Send me a link' }).click()
  await expect(nora.getByText('on its way to them')).toBeVisible()
  await openAgain(page)
  await expect(page.getByRole('complementary').getByText(`A new password, to ${email}`)).toBeVisible()

  await page
    .getByRole('row', { name: new RegExp(who) })
    .getByRole('button', { name: 'Close the account' })
    .click()
  await page.getByRole('button', { name: 'Close it' }).click()
  await expect(page.getByRole('row', { name: new RegExp(who) })).toContainText('account closed')
  await theirs.close()

  // The last administrator stays one.
  await page.getByLabel('Role of Ada Stonebeck').selectOption({ label: 'editor' })
  await expect(page.getByText('This is the last administrator.', { exact: false })).toBeVisible()

  await openScreen(page, '/settings/trail')
  await page.getByLabel('Search in who did what').fill(who)
  await page.getByLabel('Search in who did what').press('Enter')
  for (const words of ['invited', 'used a link to set a password', 'asked for a link to a new password'])
    await expect(page.getByRole('row', { name: new RegExp(words) }).first()).toBeVisible()
  await page.getByLabel('Search in who did what').fill('changed the role')
  await page.getByLabel('Search in who did what').press('Enter')
  await expect(page.getByRole('row', { name: new RegExp(`changed the role of “${who}”`) }).first()).toContainText(
    'role: publisher',
  )
  await page.getByLabel('Search in who did what').fill('signed out everywhere')
  await page.getByLabel('Search in who did what').press('Enter')
  await expect(page.getByRole('row', { name: new RegExp(`signed out everywhere “${who}”`) })).toBeVisible()
  const saved = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Save as CSV' }).click()
  expect((await saved).suggestedFilename()).toBe('who-did-what.csv')
})

test('a film of 39 MB arrives as it was sent; one that is cut on its way is refused', async ({ page }) => {
  await signIn(page)
  const film = Buffer.concat([Buffer.from([0x1a, 0x45, 0xdf, 0xa3]), Buffer.alloc(39_000_000, 7)])
  const send = (body: Buffer, headers: Record<string, string> = {}) =>
    page.request.post('/api/media?title=Film', {
      headers: { origin: studio, 'content-type': 'application/octet-stream', ...headers },
      data: body,
      timeout: 60_000,
    })
  const { createHash } = await import('node:crypto')
  const digest = { 'content-digest': `sha-256=:${createHash('sha256').update(film).digest('base64')}:` }
  const cut = await send(film.subarray(0, 20_000_000), digest)
  expect([cut.status(), await cut.json()]).toEqual([
    400,
    { code: 'input', fault: expect.stringContaining('did not arrive as it was sent') },
  ])
  const kept = await send(film, digest)
  expect(kept.status()).toBe(200)
  const { name } = (await kept.json()) as { name: string }
  const back = await page.request.get(`/media/${name}`)
  expect((await back.body()).equals(film)).toBe(true)
  expect((await send(Buffer.concat([film, Buffer.alloc(2_000_000)]))).status()).toBe(400)
})
