import { expect, test } from '@playwright/test'
import { openScreen, sheet, signIn } from './studio'

const studio = `http://localhost:${process.env.STUDIO_PORT ?? '4100'}`

test('an editor prepares everything and puts nothing live', async ({ page }) => {
  await signIn(page, 'edgar')
  await openScreen(page, '/tests/t-5')
  await expect(page.getByRole('button', { name: 'Start the test' })).toBeDisabled()
  await openScreen(page, '/tests/t-3')
  await expect(page.getByRole('button', { name: 'Keep the original' })).toBeDisabled()
  await openScreen(page, '/site/gift')
  await expect(sheet(page).locator('h1')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Publish', exact: true })).toBeDisabled()

  // What the interface does not offer, the server refuses.
  const refused = await page.request.post('/api/test.pause', {
    headers: { origin: studio, 'content-type': 'application/json' },
    data: { test: 't-3' },
  })
  expect([refused.status(), await refused.json()]).toEqual([
    403,
    { code: 'role', fault: expect.stringContaining('Only a publisher') },
  ])
})

test('a goal is made by pointing at a button, without leaving the test', async ({ page }) => {
  await signIn(page, 'edgar')
  await openScreen(page, '/tests/t-5')
  await page.getByRole('button', { name: 'Make a goal by pointing' }).click()
  const frame = page.frameLocator('iframe[title="Point at the goal"]')
  await frame.locator('h1').click()
  await expect(page.getByText('Nothing can be counted there but that the page is shown.')).toBeVisible()
  await frame.getByText('Reserve a cello').click()
  await page.getByRole('radio', { name: 'it is pressed', exact: true }).check()
  await page.getByRole('button', { name: 'Use this goal' }).click()
  await expect(page.getByLabel('Goal that decides').first()).toHaveValue('Pressed “Reserve a cello”')
  await expect(page.getByText('It counts when something on “Rent a cello by the month” is pressed.')).toBeVisible()
  await expect(page.getByText('The goal can be reached from every version')).toBeVisible()
})

test('no other site can act for an editor, nobody unknown can act at all, and no inline script can run', async ({
  page,
  request,
}) => {
  await signIn(page)
  const post = (headers: Record<string, string>) =>
    page.request.post('/api/session.read', { headers: { 'content-type': 'application/json', ...headers }, data: {} })
  expect((await post({ origin: studio })).status()).toBe(200)
  expect((await post({ origin: 'https://evil.example' })).status()).toBe(403)
  expect((await post({})).status()).toBe(403)
  expect((await post({ origin: studio, 'content-type': 'text/plain' })).status()).toBe(403)
  expect((await request.post(`${studio}/api/session.read`, { headers: { origin: studio }, data: {} })).status()).toBe(401)

  const answer = await page.request.get('/')
  const scripts = /script-src ([^;]*)/.exec(answer.headers()['content-security-policy'] ?? '')?.[1]
  expect(scripts).toContain("'nonce-")
  expect(scripts).not.toContain('unsafe')
  const session = (await page.context().cookies(studio)).find(({ name }) => name === 'sprig_session')
  expect(session).toMatchObject({ httpOnly: true, sameSite: 'Strict' })
})

test('whoever is not signed in is sent to sign in, and a wrong password is said plainly', async ({ page }) => {
  await openScreen(page, '/tests')
  await expect(page).toHaveURL(/sign-in/)
  await page.getByLabel('E-mail').fill('nobody@pinemoth.example')
  await page.getByLabel('Password').fill('wrong')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('alert').filter({ hasText: 'E-mail or password is not right.' })).toBeVisible()
})

test('a small picture of a part is drawn for who is signed in, from what there is, and nothing can run in it', async ({
  page,
  request,
}) => {
  await signIn(page, 'edgar')
  const drawn = (query: string) => page.request.get(`/api/miniature?${query}`, { maxRedirects: 0 })
  const answer = await drawn('document=home&node=home-to-instruments')
  expect(answer.status()).toBe(200)
  expect(await answer.text()).toContain('See the instruments')
  const policy = answer.headers()['content-security-policy'] ?? ''
  expect(policy).toContain("default-src 'none'")
  expect(policy).not.toContain('script-src')
  // What is not there any more shows the page; a version that nobody knows, the original.
  expect(await (await drawn('document=home&node=home-to-instruments&version=v-gone')).text()).toContain('See the instruments')
  for (const [query, status] of [
    ['', 400],
    ['document=home', 400],
    ['document=../home&node=x', 400],
    [`document=${'a'.repeat(5000)}&node=x`, 400],
    ['document=constructor&node=__proto__', 400],
    ['document=nowhere&node=x', 404],
    ['document=home&node=constructor', 400],
    ['document=home&node=not-there', 200],
    ['document=home&node=home-to-instruments&version=v-gone&test=t-99999', 404],
  ] as const)
    expect([query.slice(0, 60), (await drawn(query)).status()]).toEqual([query.slice(0, 60), status])
  const stranger = await request.get(`${studio}/api/miniature?document=home&node=home-to-instruments`, { maxRedirects: 0 })
  // No page is shown in the place of a picture.
  expect(stranger.status()).toBe(401)
})
