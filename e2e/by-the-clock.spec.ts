import { expect, test } from '@playwright/test'
import { openScreen, signIn } from './studio'

const clock = (minutes: number) => new Date(Date.now() + minutes * 60_000).toISOString().slice(0, 16)

test('a test starts by itself, its split is changed while it runs, and it ends by itself and is run again', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/tests')
  await page.getByRole('link', { name: 'The story of Pinemoth, told shorter' }).click()
  await expect(page.getByRole('heading', { name: 'When' })).toBeVisible()

  // The borders of the split move by keys; "=" makes its parts alike.
  const border = page.getByRole('slider', { name: /^Border between Original/ })
  await border.focus()
  await page.keyboard.press('ArrowLeft')
  await expect(page.getByLabel('Part of the split for Original')).toHaveValue('49')
  await page.keyboard.press('=')
  await expect(page.getByLabel('Part of the split for Original')).toHaveValue('50')

  await page.getByLabel('How it starts').selectOption({ label: 'by itself, at' })
  await page.getByLabel('Start', { exact: true }).fill(clock(-1))
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Let it start by itself' }).click()
  await expect(page.getByText('It started at its time')).toBeVisible({ timeout: 30_000 })
  await expect(page.getByText('running', { exact: true })).toBeVisible()

  await border.hover()
  const bar = page.getByRole('group', { name: 'Who sees which version' })
  const box = await bar.boundingBox()
  const at = await border.boundingBox()
  if (box === null || at === null) throw new Error('the bar is not shown')
  await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width * 0.2, at.y + 5, { steps: 5 })
  await page.mouse.up()
  await expect(page.getByLabel('Part of the split for Original')).toHaveValue('20')
  await page.getByRole('button', { name: 'Take it live…' }).click()
  await expect(page.getByRole('dialog')).toContainText('What was counted until now still counts')
  await page.getByRole('button', { name: 'Do it now' }).click()
  await expect(page.getByRole('row', { name: /the split was changed.*Original 20%/ })).toBeVisible()

  await page.getByLabel('How it ends').selectOption({ label: 'by itself, at' })
  await page.getByLabel('End', { exact: true }).fill(clock(-5))
  await page.keyboard.press('Enter')
  await expect(page.getByText('That end is past')).toBeVisible()
  await page
    .getByRole('button', { name: 'Show it as it is saved' })
    .or(page.getByRole('button', { name: 'Save again' }))
    .first()
    .click()
  await page.getByLabel('End', { exact: true }).fill(clock(1))
  await page.keyboard.press('Enter')
  await expect(page.getByText('It waits for your decision')).toBeVisible({ timeout: 100_000 })
  await page.getByRole('button', { name: 'Run it again' }).click()
  await page.getByRole('button', { name: 'Make it a draft again' }).click()
  await expect(page.getByRole('button', { name: 'Start the test' })).toBeEnabled()
  await page.getByRole('button', { name: 'Start the test' }).click()
  await expect(page.getByText(/Round 2 was opened .* because it was run again/)).toBeVisible()
  // Nothing of it is left on the page for whoever comes after.
  await page.getByRole('button', { name: 'End', exact: true }).click()
  await page.getByRole('button', { name: 'End the test' }).click()
  await expect(page.getByText('ended, not decided')).toBeVisible()
})
