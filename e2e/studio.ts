import { expect, type Browser, type BrowserContext, type FrameLocator, type Page } from '@playwright/test'

export const site = `http://localhost:${process.env.SITE_PORT ?? '4200'}`

export async function signIn(page: Page, who: 'wilma' | 'edgar' = 'wilma'): Promise<void> {
  await page.goto('/sign-in')
  await page.getByLabel('E-mail').fill(`${who}@pinemoth.example`)
  await page.getByLabel('Password').fill(who === 'wilma' ? 'moths-like-brass' : 'moths-like-wood')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible()
}

/** The page on the sheet, live in its frame. */
export function sheet(page: Page): FrameLocator {
  return page.frameLocator('iframe[title^="The page:"]')
}

/** Replaces the words of the selected part in place, as a person would: Enter, type, Enter. */
export async function writeInPlace(page: Page, words: string): Promise<void> {
  await page.keyboard.press('Enter')
  await expect(sheet(page).locator('[contenteditable]')).toBeVisible()
  await page.keyboard.press('Control+A')
  await page.keyboard.type(words)
  await page.keyboard.press('Enter')
  await expect(page.getByText('draft saved')).toBeVisible()
}

/** Somebody with a browser of their own. */
export async function visitor(browser: Browser, options: Parameters<Browser['newContext']>[0] = {}): Promise<BrowserContext> {
  return browser.newContext({ viewport: { width: 1280, height: 800 }, baseURL: site, ...options })
}

/** Waits until the site serves this, as a new release takes a moment to reach it. */
export async function untilServed(context: BrowserContext, path: string, words: string): Promise<void> {
  await expect
    .poll(async () => (await (await context.request.get(site + path)).text()).includes(words), { timeout: 10_000 })
    .toBe(true)
}
