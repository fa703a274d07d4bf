import { expect, test } from '@playwright/test'
import { ask, choose, openScreen, sheet, signIn, site, untilServed, visitorOf } from './studio'

const phone = 'Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) Mobile/15E148 Safari/604.1'
interface Opened {
  readonly document: { readonly nodes: Readonly<Record<string, { readonly props: Readonly<Record<string, string>> }>> }
}
const original = 'From the bench and the van'

test('a segment is said once: a rule names it, visitors are shown by it, and a change of it says whom it touches', async ({
  page,
  browser,
}) => {
  await signIn(page)
  // Where the list is slow to come, the form comes with it and stays where it is.
  const listed = page.getByRole('link', { name: 'Near the workshop' })
  await page.route('**/api/segment.list', (route) => void setTimeout(() => void route.continue(), 2000), { times: 1 })
  await openScreen(page, '/personalize')
  await page.getByRole('button', { name: 'New segment' }).click()
  const made = page.getByRole('form', { name: 'New segment' })
  await expect(made).toBeVisible()
  expect(await listed.isVisible()).toBe(true)
  await expect(made.getByRole('button', { name: 'Save segment' })).toBeDisabled()
  await made.getByLabel('Name of the segment').fill('Thumbs')
  await expect(made.getByText('Add a condition: this is everybody.')).toBeVisible()
  await made.getByRole('button', { name: 'Add a condition' }).click()
  await choose(page, made.getByLabel('What is compared'), 'comes with a')
  await choose(page, made.getByLabel('Device'), 'phone')
  await expect(made.getByText(/Of the visitors of the last 28 days about \d+% are in it/)).toBeVisible()
  await made.getByRole('button', { name: 'Save segment' }).click()
  await expect(page.getByText('Comes with a phone.')).toBeVisible()

  // A rule by its name.
  await openScreen(page, '/site/journal')
  await sheet(page).getByText(original).click()
  await page.getByRole('button', { name: 'New version for some visitors' }).click()
  await page.getByLabel('Name of the version').fill('For thumbs')
  await page.getByRole('complementary').getByLabel('Words', { exact: true }).fill('Short reads from the van')
  await page.getByRole('button', { name: 'Add a condition' }).click()
  await choose(page, 'What is compared', 'the segment')
  await choose(page, 'Segment', 'Thumbs')
  await expect(page.getByText('for: the segment “Thumbs” fits them')).toBeVisible()
  await page.getByRole('button', { name: 'Publish for visitors' }).click()
  await expect(page.getByText('Live as it stands here.')).toBeVisible()
  const { document } = await ask<Opened>(page, 'document.open', { document: 'journal' })
  const node = Object.keys(document.nodes).find((id) => document.nodes[id]?.props.words === original) ?? ''
  const shownTo = { document: 'journal', node, isHeld: false }
  const onPhone = await visitorOf(browser, shownTo, { userAgent: phone })
  const onComputer = await visitorOf(browser, shownTo)
  await untilServed(onPhone, '/journal', 'Short reads from the van')
  await untilServed(onComputer, '/journal', original)

  // Told before, it is changed, and goes live with what names it.
  await openScreen(page, '/personalize')
  await expect(page.getByText('‘For thumbs’ for: the segment “Thumbs” fits them')).toBeVisible()
  await page.getByRole('link', { name: 'Thumbs', exact: true }).click()
  const opened = page.getByRole('form', { name: 'Segment Thumbs' })
  await expect(opened.getByRole('link', { name: '‘For thumbs’ on Journal' })).toBeVisible()
  await choose(page, opened.getByLabel('Device'), 'computer')
  await expect(opened.getByText('Saved, this changes at once who is shown what on “Journal”.')).toBeVisible()
  await opened.getByRole('button', { name: 'Save, and change it live' }).click()
  await untilServed(onComputer, '/journal', 'Short reads from the van')
  await untilServed(onPhone, '/journal', original)
  await Promise.all([onPhone.close(), onComputer.close()])

  // What is used is not removed; what is live is not for an editor to change.
  await page.getByRole('link', { name: 'Thumbs', exact: true }).click()
  await opened.getByRole('button', { name: 'Remove segment' }).click()
  await expect(opened.getByRole('alert')).toContainText('is still named by the rule ‘For thumbs’')
  await signIn(page, 'edgar')
  await openScreen(page, '/personalize')
  await page.getByRole('link', { name: 'Thumbs', exact: true }).click()
  await choose(page, opened.getByLabel('Device'), 'tablet')
  await expect(opened.getByText('only a publisher can save this change')).toBeVisible()
  await expect(opened.getByRole('button', { name: 'Save, and change it live' })).toBeDisabled()
})

test('what the site says of a visitor is listed in the settings, asked for by a rule, and said by a page', async ({
  page,
  browser,
}) => {
  await signIn(page, 'ada')
  await openScreen(page, '/settings')
  const said = page.getByRole('region', { name: 'What the site says of visitors' })
  await said.getByRole('button', { name: 'Add an attribute' }).click()
  await said.getByLabel('Name of attribute 3', { exact: true }).fill('tutor')
  const values = said.getByLabel('Values of attribute 3, with commas between them')
  await values.fill('Strings!')
  await expect(said.getByRole('alert')).toContainText('tutor: a value has 1 to 30 of a–z')
  await expect(said.getByRole('button', { name: 'Keep these attributes' })).toBeDisabled()
  await values.fill('strings, brass')
  await said.getByRole('button', { name: 'Keep these attributes' }).click()
  await expect(page.getByText('Kept, and live.')).toBeVisible()

  const place = { document: 'plans', node: 'plans-title' }
  const made = await ask<{ id: string; lock: number }>(page, 'version.create', { ...place, manner: 'rule', from: null })
  await ask(page, 'version.save', {
    ...made,
    name: 'Tutors',
    edits: [{ kind: 'set', node: place.node, prop: 'words', value: 'Half price for who teaches' }],
    condition: { kind: 'attribute', name: 'tutor', is: true, value: 'brass' },
  })
  await ask(page, 'personalization.publish', place)
  const tutor = await visitorOf(browser, { ...place, isHeld: false })
  const looking = await tutor.newPage()
  await looking.goto(`${site}/plans`)
  await looking.evaluate(() => fetch('/visitor', { method: 'POST', body: JSON.stringify({ tutor: 'brass' }) }))
  await untilServed(tutor, '/plans', 'Half price for who teaches')
  await looking.evaluate(() => fetch('/visitor', { method: 'POST', body: JSON.stringify({ tutor: null }) }))
  await untilServed(tutor, '/plans', 'One price a month')
  await tutor.close()
  await ask(page, 'personalization.withdraw', place)
})

test('what past tests say of some visitors becomes a draft of a rule, and nothing more by itself', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/personalize')
  const worth = page.getByRole('region', { name: 'Worth trying' })
  await expect(worth.getByText('Try showing ‘A promise’ to whoever comes with a phone')).toBeVisible()
  await worth.getByRole('button', { name: 'Make a draft of it' }).click()
  await page
    .getByRole('listitem')
    .filter({ hasText: 'for: comes with a phone' })
    .getByRole('button', { name: 'Put A promise' })
    .click()
  await expect(page.getByText('Not live: nobody sees it yet.')).toBeVisible()
  await expect(page.getByText(/10% of those whom it fits see the original, to find out what it gains/)).toBeVisible()
  await page.getByRole('button', { name: 'Remove', exact: true }).click()
  await openScreen(page, '/personalize')
  await expect(worth.getByText('Try showing ‘A promise’ to whoever comes with a phone')).toBeVisible()
})
