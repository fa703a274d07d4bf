import { expect, test } from '@playwright/test'
import type { TestId, VersionId } from '@/core/ids'
import { signedPass, type Signer } from '@/core/letter'
import { connect } from '@/server/database/connect'
import { readLetterKey } from '@/server/stores/settings'
import { signerWith } from '@/serving/signer'
import { ask, choose, openScreen, sheet, signIn, site, visitor } from './studio'

/** As the server signs: only who has its key can make a link that is believed. */
async function signer(): Promise<Signer> {
  const db = connect(process.env, { min: 0, max: 1 })
  const key = await readLetterKey(db)
  await db.destroy()
  return signerWith(key)
}

test('a newsletter is written, looked at in each variant, sent, and what its readers do is told by version and channel', async ({
  page,
  browser,
}) => {
  await signIn(page)
  await openScreen(page, '/site')
  await page.getByText('Newsletters', { exact: true }).click()
  await page.getByRole('button', { name: 'New newsletter' }).click()
  await page.getByLabel('Subject', { exact: true }).fill('Strings by post')
  await page.getByRole('button', { name: 'Make it' }).click()
  await expect(page.getByRole('heading', { name: 'Strings by post', level: 1 })).toBeVisible()
  await expect(page.getByText('There is no call to action in it')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Send it' })).toBeDisabled()

  for (const part of ['heading', 'call to action']) {
    await page.getByRole('button', { name: 'Add', exact: true }).click()
    await page.locator('.palette').getByRole('button', { name: part, exact: true }).click()
  }
  await choose(page, 'Call to action', 'Hold it first')
  await expect(sheet(page).getByText('Hold it first')).toBeVisible()
  await page.getByRole('button', { name: 'Subject and campaign' }).click()
  await page.getByLabel('Campaign', { exact: true }).selectOption('First notes')
  await expect(page.getByText('draft saved')).toBeVisible()

  // As each reader may get it: the test on the call to action goes on in the letter.
  await choose(page, 'Hold it first as', 'Forty minutes')
  await expect(sheet(page).getByText('Forty minutes, three instruments')).toBeVisible()

  await page.getByLabel('Readers').fill('600')
  await page.getByLabel('Open it').fill('50')
  await page.getByLabel('Of these, follow the original').fill('30')
  await page.getByLabel('Of these, follow a variant').fill('30')
  await page.getByLabel('Of those, order').fill('50')
  await page.getByLabel('Of those, order').press('Tab')
  await page.getByRole('button', { name: 'Send it' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Send it' }).click()
  const sending = page.locator('.note', { hasText: 'followed a link' })
  await expect(sending).toContainText('out: 600 readers')
  await expect(sending.getByRole('row', { name: /Forty minutes/ })).toBeVisible()
  // Half of those who open do so within four of their hours, which are seconds here.
  await expect(sending).toContainText(/[1-9]\d* orders?,/, { timeout: 60_000 })

  await page.getByRole('button', { name: 'As it was sent' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByText('Form 2').click()
  await dialog.getByText('Words alone').click()
  const sent = dialog.locator('pre')
  await expect(sent).toContainText('pass-of-the-recipient')
  const words = await sent.innerText()
  const link = /\/letter\/follow\?pass=pass-of-the-recipient&call=ask-trial-lesson[^\s\]]*/.exec(words)?.[0] ?? ''
  expect(link).toContain('utm_source=newsletter')
  expect(link).toContain('utm_campaign=First+notes')
  await dialog.getByRole('button', { name: 'Close' }).click()

  // The link in somebody's mailbox leads where the letter says, and the site shows the same version.
  const letter = await ask<{
    sendings: { number: number }[]
    calls: { test: { id: string }; versions: { version: string; name: string }[] }[]
  }>(page, 'letter.open', { document: new URL(page.url()).pathname.split('/').at(-1) })
  const version = letter.calls[0]?.versions.find(({ name }) => name === 'Forty minutes')?.version ?? ''
  const carried = new Map([[(letter.calls[0]?.test.id ?? '') as TestId, version as VersionId]])
  const pass = signedPass({ letter: letter.sendings[0]?.number ?? 0, recipient: '5'.repeat(32), carried }, await signer())
  const context = await visitor(browser)
  const reader = await context.newPage()
  await reader.goto(site + link.replace('pass-of-the-recipient', pass))
  expect(new URL(reader.url()).pathname).toBe('/trial-lesson')
  const kept = (await context.cookies()).find(({ name }) => name === 'kept')
  expect(decodeURIComponent(kept?.value ?? '')).toContain(version)
  await context.close()

  await openScreen(page, '/site/ask-trial-lesson')
  const row = page.getByRole('row', { name: /^Pressed/ })
  await expect(row).toBeVisible()
  const pressed = async () =>
    (await row.getByRole('cell').allInnerTexts()).map((text) => Number(text.replaceAll(',', '') || Number.NaN))
  await expect.poll(async () => (await pressed()).every((figure) => figure > 20)).toBe(true)
  const [onPages = 0, inLetters = 0, together = 0] = await pressed()
  expect(onPages + inLetters).toBe(together)
  await openScreen(page, '/site')
  await page.getByText('Newsletters', { exact: true }).click()
  await expect(page.getByRole('row', { name: /Strings by post/ }).first()).toContainText('600')
})
