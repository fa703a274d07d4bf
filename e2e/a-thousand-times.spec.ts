import { expect, test } from '@playwright/test'
import { choose, openScreen, signIn } from './studio'

test('a test is run a thousand times in the browser: how often it would be read rightly, and what goes wrong with a dead button', async ({
  page,
}) => {
  await signIn(page)
  await openScreen(page, '/rehearse?test=t-3')
  const many = page.getByRole('region', { name: 'A thousand times' })
  const who = page.getByRole('region', { name: 'Who comes' })
  await who.getByLabel('True rate of Original').fill('40')
  await who.getByLabel('True rate of Nothing to pay yet').fill('50')
  await who.getByLabel('True rate of Give it back any day').fill('40')
  await choose(page, page.getByLabel('What is the matter with Give it back any day'), 'its button does not work')
  await many.getByRole('button', { name: 'Run it 1,000 times' }).click()
  await expect(many.getByText(/of 1,000 runs/).first()).toBeVisible({ timeout: 60_000 })
  await expect(many.getByText(/Nothing to pay yet.*truly \+25.*read rightly in (9\d|100)%/)).toBeVisible()
  await expect(many.getByText(/Give it back any day.*truly −100%.*read rightly in 100%/)).toBeVisible()

  // Whoever has seen enough stops it.
  await many.getByRole('button', { name: 'Run it 1,000 times' }).click()
  await many.getByRole('button', { name: 'Stop' }).click()
  await expect(many.getByRole('button', { name: 'Run it 1,000 times' })).toBeVisible()
})
