import { expect, test } from '@playwright/test'
import { ask, openScreen, signIn } from './studio'

const LONG = 'Mechanicalmusicalinstrumentlendinglibraryassociation'

test('a version is drawn at three widths before the start, and what cannot be read on it is said and shown', async ({ page }) => {
  await signIn(page)
  const place = { document: 'about', node: 'about-title' }
  const { test: id } = await ask<{ test: string }>(page, 'test.create', { parts: [place] })
  const made = await ask<{ id: string; lock: number }>(page, 'version.create', {
    ...place,
    ...{ manner: 'chance', name: 'In one word', from: null },
  })
  const edits = [{ kind: 'set', node: 'about-title', prop: 'words', value: LONG }]
  const saved = await ask<{ lock: number }>(page, 'version.save', { id: made.id, lock: made.lock, edits })
  await openScreen(page, `/tests/${id}`)
  await page.getByRole('button', { name: 'Add ‘In one word’' }).click()
  const margin = page.getByRole('complementary')
  await expect(margin.getByText(`“${LONG}” goes beyond the edge of the page.`)).toContainText('In ‘In one word’, on phones')
  await margin.getByRole('button', { name: 'Show where' }).click()
  const there = page.frameLocator('iframe[title="In one word, where it cannot be read"]')
  await expect(there.getByRole('heading', { level: 1 })).toHaveText(LONG)
  // A long word stays within the studio’s own sheet as well.
  expect(await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth)).toBeLessThanOrEqual(0)
  const [note, column] = [await margin.getByText(LONG).boundingBox(), await margin.boundingBox()]
  expect((note?.x ?? 0) + (note?.width ?? 0)).toBeLessThanOrEqual((column?.x ?? 0) + (column?.width ?? 0))
  // The pages that were drawn to be looked at are gone.
  await expect(page.locator('iframe.drawn-apart')).toHaveCount(0)

  const shorter = [{ kind: 'set', node: 'about-title', prop: 'words', value: 'A library with a workshop' }]
  await ask(page, 'version.save', { id: made.id, lock: saved.lock, edits: shorter })
  await openScreen(page, `/tests/${id}`)
  await expect(margin.getByText('On “How Pinemoth works” all words fit and can be read')).toBeVisible()
  await expect(margin.getByText('goes beyond the edge')).toHaveCount(0)
  await ask(page, 'test.remove', { test: id })
  await ask(page, 'version.remove', { id: made.id })
})

test('rules that make words hard to read are told of, and rules that reach nothing as well', async ({ page }) => {
  await signIn(page)
  const place = { document: 'instrument-buttons', node: 'instrument-buttons-root' }
  const { test: id } = await ask<{ test: string }>(page, 'test.create', { parts: [place] })
  const versions: string[] = []
  for (const [name, css] of [
    ['Pale', '.button { background: #f4e7c8; color: #c9a86a }'],
    ['Of no use', '.no-such-part { color: #123456 }'],
  ]) {
    const made = await ask<{ id: string; lock: number }>(page, 'version.create', { ...place, manner: 'chance', name, from: null })
    const edits = [{ kind: 'set', node: place.node, prop: 'css', value: css }]
    await ask(page, 'version.save', { id: made.id, lock: made.lock, edits })
    versions.push(made.id)
  }
  await openScreen(page, `/tests/${id}`)
  const margin = page.getByRole('complementary')
  for (const name of ['Pale', 'Of no use']) await page.getByRole('button', { name: `Add ‘${name}’` }).click()
  await expect(margin.getByText('In ‘Pale’, on phones, tablets and computers, “Reserve a violin” is hard to read')).toBeVisible()
  await expect(margin.getByText('‘Of no use’ looks like the original on “Rent a violin by the month”')).toBeVisible()
  await expect(margin.getByText('‘Pale’ looks like the original')).toHaveCount(0)
  await ask(page, 'test.remove', { test: id })
  for (const version of versions) await ask(page, 'version.remove', { id: version })
})
