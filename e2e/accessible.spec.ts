import AxeBuilder from '@axe-core/playwright'
import { expect, test } from '@playwright/test'
import { sheet, signIn, site } from './studio'

const tags = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']

test('the studio’s screens pass WCAG 2.2 AA as far as a machine can tell', async ({ page }) => {
  await page.goto('/sign-in')
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible()
  expect((await new AxeBuilder({ page }).withTags(tags).analyze()).violations).toEqual([])
  await signIn(page)
  for (const [path, ready] of [
    ['/', 'needs you'],
    ['/site', 'Used on many pages'],
    ['/tests', 'gathering'],
    ['/tests/t-3', 'Evidence over time'],
    ['/tests/t-5', 'Visitors'],
    ['/notebook', 'What was learned'],
    ['/rehearse', 'Send the visitors'],
  ] as const) {
    await page.goto(path)
    await expect(page.getByText(ready).first()).toBeVisible()
    const { violations } = await new AxeBuilder({ page }).withTags(tags).exclude('iframe').analyze()
    expect(violations, path).toEqual([])
  }
  await page.goto('/site/home')
  await sheet(page).locator('h1').click()
  await expect(page.getByRole('button', { name: 'New variant' })).toBeVisible()
  expect((await new AxeBuilder({ page }).withTags(tags).exclude('iframe').analyze()).violations).toEqual([])
})

test('the site’s pages pass WCAG 2.2 AA as far as a machine can tell', async ({ page }) => {
  for (const path of ['/', '/instruments', '/instruments/violin', '/plans', '/trial-lesson', '/reserve', '/journal/january', '/nowhere']) {
    await page.goto(site + path)
    expect((await new AxeBuilder({ page }).withTags(tags).analyze()).violations, path).toEqual([])
  }
})
