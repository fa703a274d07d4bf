import { readFile } from 'node:fs/promises'
import { expect, test } from '@playwright/test'
import { allCounted, ask, choose, openScreen, reported, signIn, studio, visitor } from './studio'

interface Told {
  readonly versions: readonly { readonly speed: { readonly paint: { readonly measured: number } } }[]
}

test('what visitors do in a test is told without a goal: what they press and where, where they go, how fast it was', async ({
  page,
  browser,
}) => {
  await signIn(page)
  const { round } = await ask<{ round: string }>(page, 'result.read', { test: 't-3', crowd: 0 })
  const paints = async () => {
    const { versions } = await ask<Told>(page, 'result.behaviour', { round, crowd: 0 })
    return versions.reduce((sum, { speed }) => sum + speed.paint.measured, 0)
  }
  const before = await paints()

  const guest = await visitor(browser)
  const visiting = await guest.newPage()
  await Promise.all([reported(visiting, 'seen'), visiting.goto('/reserve')])
  const pressed = reported(visiting, 'click')
  await visiting.getByLabel('Your name').click()
  await pressed
  const shown = reported(visiting, 'page')
  await visiting.getByRole('link', { name: 'Workshops' }).first().click()
  await shown
  await guest.close()
  // A real browser has measured, and said so when the page was left.
  await expect.poll(paints, { timeout: 20_000 }).toBe(before + 1)

  await allCounted(page)
  await openScreen(page, '/tests/t-3')
  await page.getByText('What visitors did on the page, and how fast it was for them').click()
  const fast = page.getByRole('table', { name: 'How fast it was' })
  await expect(fast.getByRole('row', { name: /Original/ })).toContainText(/\d s/)
  const picture = (title: string) => page.getByRole('figure').filter({ has: page.getByRole('heading', { name: title }) })
  const next = picture('Where they went from there')
  await expect(next.getByRole('img')).toHaveAccessibleName(/^Plans and prices, Original: \d+%, [\d,]+\./)
  await next.getByRole('button', { name: /^Table of/ }).click()
  // The picture has the most frequent; the table has all, this guest among them.
  await expect(next.getByRole('row', { name: /^Workshops Original/ })).toContainText('%')
  const [saved] = await Promise.all([page.waitForEvent('download'), next.getByRole('button', { name: /^CSV of/ }).click()])
  expect(await readFile(await saved.path(), 'utf8')).toMatch(/^page,version,visitors,share\r\n/)
  await expect(picture('How it was looked at').getByRole('img')).toHaveAccessibleName(
    /Original: [\d,]+ visits, left at once \d+%/,
  )
  await expect(picture('What they pressed').getByRole('img')).toHaveAccessibleName(/^The form/)

  // All of it can be taken away, with what each column says; of visitors one by one by administrators alone.
  const file = async (query: string) => {
    const answer = await page.request.get(`${studio}/api/data${query}`)
    return [answer.status(), await answer.text()] as const
  }
  const [, tallies] = await file('?test=t-3&what=tallies&as=csv')
  expect(tallies).toMatch(/^round,epoch,goal,version,day,assigned,.*\r\nt-3-r1,1,,/)
  const [, dictionary] = await file('')
  expect(dictionary).toContain('| `exposed` |')
  expect((await file('?test=t-3&what=constructor'))[0]).toBe(400)
  expect((await file('?test=t-999&what=tallies'))[0]).toBe(404)
  expect((await file('?test=t-3&what=events&as=ndjson'))[0]).toBe(403)
  await page.getByText('Take the data away').click()
  await expect(page.getByRole('link', { name: 'doings as NDJSON' })).toBeVisible()
  await expect(page.getByRole('link', { name: 'events as CSV' })).toHaveCount(0)

  // On the page, in each version and at each width.
  const frame = page.frameLocator('iframe[title^="Presses on"]')
  await expect(frame.locator('svg circle').first()).toBeVisible()
  await expect(frame.locator('h1')).toHaveText('Reserve yours')
  await choose(page, 'Version shown', 'Nothing to pay yet')
  await expect(frame.locator('h1')).toHaveText('Reserve yours. Nothing to pay yet.')
  await choose(page, 'Device', 'Phones')
  await expect(frame.locator('svg circle').first()).toBeVisible()
})
