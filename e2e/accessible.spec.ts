import AxeBuilder from '@axe-core/playwright'
import { expect, test, type Page } from '@playwright/test'
import { openScreen, sheet, signIn, site } from './studio'

const tags = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']

/** Violations as rule and place, so that a failure can be read. */
const violations = async (page: Page) => {
  const found = await new AxeBuilder({ page }).withTags(tags).exclude('iframe').analyze()
  return found.violations.flatMap(({ id, nodes }) =>
    nodes.map(({ html, failureSummary }) => `${id}: ${html.slice(0, 160)} ${failureSummary?.slice(0, 220)}`),
  )
}

test.describe('WCAG 2.2 AA, as far as a machine can tell', () => {
  test('the doors of the studio', async ({ page }) => {
    await page.goto('/sign-in')
    await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible()
    expect(await violations(page)).toEqual([])
    await page.goto('/forgotten')
    await expect(page.getByRole('button', { name: 'Send me a link' })).toBeVisible()
    expect(await violations(page)).toEqual([])
  })

  for (const [group, screens] of Object.entries({
    'places and lists': {
      '/': 'needs you',
      '/site': 'Instruments to rent',
      '/goals': 'Came to the reservation form',
      '/tests': 'gathering',
      '/tests?show=weeks': 'Around today',
      '/site/bin': 'What the bin keeps',
      '/notebook': 'What was learned',
      '/personalize': 'Parts with rules',
      '/personalize/home/home-lesson-title': 'Evidence over time',
      '/lens': 'What varies here, and why',
      '/lens?view=all': 'fits the rule',
      '/notebook?of=rules': 'What was shown by rule',
      '/notebook?of=kinds': 'as measured',
      '/rehearse': 'Send the visitors',
    },
    settings: {
      '/settings': 'Reports from elsewhere',
      '/settings/me': 'Change it',
      '/settings/people': 'Invite somebody',
      '/settings/visitor': 'Whoever asks what is kept',
      '/settings/trail': 'signed in',
    },
    desks: {
      '/site/main-menu': 'Add an entry',
      '/site/ask-trial-lesson': 'Stands on',
      '/site/letter-first-notes': 'As it was sent',
      '/site/instrument-buttons': 'Nothing reaches beyond it.',
    },
    'sheets of goals and tests': {
      '/goals/way-to-reserve': 'Who gets how far',
      '/goals/played': 'From elsewhere',
      '/tests/t-6': 'combinations of',
      '/tests/t-3?by=day': 'make no rate',
      '/tests/t-5': 'Visitors',
    },
  }))
    test(`${group} of the studio`, async ({ page }) => {
      await signIn(page, 'ada')
      for (const [path, ready] of Object.entries(screens)) {
        await openScreen(page, path)
        await expect(page.getByText(ready).first()).toBeVisible()
        expect(await violations(page), path).toEqual([])
      }
    })

  test('the page desk with a part taken', async ({ page }) => {
    await signIn(page, 'ada')
    await openScreen(page, '/site/home')
    await sheet(page).locator('h1').click()
    await expect(page.getByRole('button', { name: 'New variant' })).toBeVisible()
    expect(await violations(page)).toEqual([])
  })

  test('the pages of the site', async ({ page }) => {
    for (const path of [
      '/',
      '/instruments',
      '/instruments/violin',
      '/plans',
      '/trial-lesson',
      '/reserve',
      '/journal/january',
      '/nowhere',
    ]) {
      await page.goto(site + path)
      expect(await violations(page), path).toEqual([])
    }
  })
})
