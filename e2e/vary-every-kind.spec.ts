import { expect, test } from '@playwright/test'
import {
  ask,
  choose,
  drag,
  foundBy,
  newVariant,
  openScreen,
  resting,
  served,
  sheet,
  signIn,
  site,
  startTest,
  takeOver,
} from './studio'

/* Each kind of thing is varied, started, seen by visitors in both versions, and taken over. */

test('a component is laid out otherwise, and one is replaced by another type', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/site/workshop-strings')
  await sheet(page).locator('h2').first().click()
  await newVariant(page)
  await page.getByText('With a line below').click()
  await expect(page.getByText('changes the arrangement of the heading')).toBeVisible()
  await newVariant(page)
  await choose(page, 'Turn it into', 'quote')
  await expect(page.getByText('turns the heading “What we do” into a quote')).toBeVisible()
  await page.getByRole('button', { name: 'Make a test of them' }).click()
  await startTest(page, 'Came to the contact')
  await expect
    .poll(() => foundBy('/workshops/strings', /class="(heading large ink align-start (?:ruled|plain)|quote large)"/g))
    .toHaveLength(3)
  await takeOver(page, 'Variant 2')
  await expect.poll(() => foundBy('/workshops/strings', /class="(quote) large"/g, 6)).toEqual(['quote'])
})

test('a section is left away, and another one stands elsewhere', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/tests/t-12')
  await page.getByRole('button', { name: 'Start the test' }).click()
  await expect(page.getByText('The test is running.')).toBeVisible()
  await expect.poll(() => foundBy('/', /(We had a cello in the hall)/g)).toEqual(['', 'We had a cello in the hall'])
  await takeOver(page, 'Without it')
  await expect.poll(() => foundBy('/', /(We had a cello in the hall)/g, 6)).toEqual([''])

  // A place is changed by keyboard: the section with the price’s questions comes before the prices.
  await openScreen(page, '/site/plans')
  await sheet(page)
    .locator('[data-n="plans-faq"]')
    .click({ position: { x: 5, y: 5 } })
  await newVariant(page)
  await page.keyboard.press('Alt+ArrowUp')
  await page.keyboard.press('Alt+ArrowUp')
  await expect(page.getByText(/moves the section .* within the main part/)).toBeVisible()
  await page.getByRole('button', { name: 'Make a test of it' }).click()
  await startTest(page, 'Reserved')
  const order = /<(?:h2|div class="plans)[^>]*>(?:<article[^>]*><h3[^>]*>)?([^<]{8})/g
  await expect.poll(async () => (await foundBy('/plans', order)).length).toBe(2)
  await takeOver(page, 'Variant 1')
  await expect.poll(async () => (await foundBy('/plans', order, 6)).length).toBe(1)
})

test('parts are tested in combination, and one combination is left out', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/site/harp')
  await sheet(page).locator('[data-n="harp-title"]').click()
  await newVariant(page)
  await page.getByLabel('Name of the version').fill('Longer')
  await page.getByLabel('Words', { exact: true }).fill('A harp for the hall')
  await page.getByRole('button', { name: 'Put Original on the page' }).click()
  await sheet(page).locator('[data-n="harp-reserve"]').click()
  await newVariant(page)
  await page.getByLabel('Name of the version').fill('Plainer')
  await page.getByLabel('Words', { exact: true }).fill('Reserve it')
  await page.getByRole('button', { name: 'Test in combination' }).click()
  await expect(page.getByText('4 combinations, the original among them')).toBeVisible()
  await page.getByRole('button', { name: 'Make the test' }).click()

  const grid = page.getByRole('table', { name: 'Combinations' })
  await expect(grid.getByText('25%')).toHaveCount(4)
  // The forecast follows: after how many days a very large difference would be seen.
  await page.getByLabel('Smallest difference worth having').fill('200')
  const forecast = page.getByText(/A difference of 200% is seen with 80% chance after about/)
  const seen = async () => Number(/after about ([\d,]+) day/.exec(await forecast.innerText())?.[1])
  const before = await seen()
  await grid.getByRole('button', { name: 'Leave out Longer × Plainer' }).click()
  await expect(grid.getByText('33.3%')).toHaveCount(3)
  expect(before).toBeGreaterThan(0)
  await expect.poll(seen).toBeLessThan(before)
  await startTest(page, 'Reserved')
  await expect
    .poll(() =>
      foundBy(
        '/instruments/harp',
        /<h1[^>]*>(Harp|A harp for the hall)<|data-f="words">(?=Reserve (?:a harp|it))(Reserve[^<]*)/g,
        40,
      ),
    )
    .toHaveLength(3)
  await takeOver(page, 'Longer × original')
  await expect.poll(() => foundBy('/instruments/harp', /<h1[^>]*>([^<]*)</g, 6)).toEqual(['A harp for the hall'])
})

test('a variant is written in while it is being made; on the sheet of the test an edit is taken back and a part left out', async ({
  page,
}) => {
  await signIn(page)
  await openScreen(page, '/site/clarinet')
  await page.route('**/api/version.create', async (route) => {
    await new Promise((later) => setTimeout(later, 1500))
    await route.continue()
  })
  for (const [part, words] of [
    ['clarinet-title', 'A clarinet for the bandstand'],
    ['clarinet-reserve', 'Play it on Saturday'],
  ] as const) {
    if (part !== 'clarinet-title') await page.getByRole('button', { name: 'Put Original on the page' }).click()
    await sheet(page).locator(`[data-n="${part}"]`).click()
    await page.getByRole('button', { name: 'New variant' }).click()
    await page.getByLabel('Words', { exact: true }).fill(words)
    await expect(page.getByText('saving …')).toBeVisible()
    await expect(page.getByText('draft saved')).toBeVisible()
  }
  const opened = await page.request.post('/api/document.open', {
    headers: { origin: new URL(page.url()).origin },
    data: { document: 'clarinet' },
  })
  const words = ((await opened.json()) as { document: { nodes: Record<string, { props: { words?: string } }> } }).document.nodes
  expect(words['clarinet-title']?.props.words).toBe('Clarinet')
  await page.getByRole('button', { name: 'Test in combination' }).click()
  await page.getByRole('button', { name: 'Make the test' }).click()

  const versions = page.getByRole('region', { name: 'Versions' })
  await expect(versions.getByText('A clarinet for the bandstand', { exact: false }).first()).toBeVisible()
  await expect(page.getByRole('table', { name: 'Combinations' }).getByText('25%')).toHaveCount(4)
  await versions.getByRole('button', { name: 'Leave this part out' }).click()
  await expect(page.getByRole('table', { name: 'Combinations' })).toHaveCount(0)
  await expect(versions.getByRole('button', { name: 'Take back' })).toHaveCount(1)
  await versions.getByRole('button', { name: 'Take back' }).click()
  await expect(versions.getByRole('button', { name: 'Take back' })).toHaveCount(0)
  await expect(page.getByText(/does not differ from the original/).first()).toBeVisible()
})

test('a whole page begins from another one and keeps its address', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/site/workshop-accordion')
  await page.getByRole('button', { name: 'Settings of the page' }).click()
  await newVariant(page)
  await choose(page, 'Begin from', 'A letter to schools')
  await expect(sheet(page).locator('h1')).toHaveText('Dear school,')

  // Edited beside the original, the two scrolled together.
  await page.getByRole('button', { name: 'side by side' }).click()
  const right = page.frameLocator('iframe[title="The page: Variant 1, beside"]')
  await expect(page.frameLocator('iframe[title="The page: Original, beside"]').locator('h1')).toHaveText('Inside the accordion')
  await right.locator('h1').click()
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+A')
  await page.keyboard.type('Dear tinkerer,')
  await page.keyboard.press('Enter')
  await expect(page.getByText('draft saved')).toBeVisible()
  await page.getByRole('button', { name: 'Make a test of it' }).click()
  await startTest(page, 'Came to the contact')
  await expect
    .poll(() => foundBy('/workshops/accordion', /<h1[^>]*>([^<]*)</g))
    .toEqual(['Dear tinkerer,', 'Inside the accordion'])
  await expect.poll(() => foundBy('/workshops/accordion', /<html[^>]*data-e="[^/]*\/([\w-]+)/g)).toHaveLength(2)
  await takeOver(page, 'Variant 1')
  await expect.poll(() => foundBy('/workshops/accordion', /<h1[^>]*>([^<]*)</g, 6)).toEqual(['Dear tinkerer,'])
})

test('a style is checked while it is typed, shown on the pages it is for, and confined to its part', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/site')
  await page.getByText('Styles', { exact: true }).click()
  await page.getByRole('button', { name: 'New style' }).click()
  await page.getByLabel('Title', { exact: true }).fill('Titles of the workshops')
  await page.getByRole('button', { name: 'Make it' }).click()
  await expect(page.getByRole('heading', { name: 'Titles of the workshops' })).toBeVisible()
  await choose(page, 'Page types: add one', 'Workshop')
  await page.keyboard.press('Escape')
  await choose(page, 'Which part', 'every heading')
  await expect(page.getByText('It reaches 2 pages')).toBeVisible()
  await expect(page.getByText('draft saved')).toBeVisible()
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Publish' }).click()
  await expect(page.getByText('Published: visitors see it now.')).toBeVisible()

  await newVariant(page)
  await page.getByRole('textbox', { name: 'Rules' }).click()
  await page.keyboard.type(':scope { colour: #9a5a1a; ')
  await expect(page.getByText('Line 1: There is no property “colour”.')).toBeVisible()
  await page.keyboard.press('Control+A')
  await page.keyboard.type(':scope { color: #9a5a1a; ')
  await expect(page.getByText('Nothing reaches beyond it.')).toBeVisible()
  const sample = page.frameLocator('iframe[title^="The page:"]').locator('h1')
  await expect(sample).toHaveCSS('color', 'rgb(154, 90, 26)')
  await expect(page.getByText('draft saved')).toBeVisible()
  await page.getByRole('button', { name: 'Make a test of it' }).click()
  await startTest(page, 'Came to the contact')
  await expect.poll(async () => (await foundBy('/workshops/strings', /href="(\/made\/[^"]*)"/g)).length).toBe(2)
  expect(await foundBy('/plans', /href="(\/made\/[^"]*)"/g, 8)).toEqual([''])
  await takeOver(page, 'Variant 1')
  const looking = await page.context().newPage()
  await expect
    .poll(async () => {
      await looking.goto(`${site}/workshops/strings`)
      return looking.locator('h1').evaluate((title) => getComputedStyle(title).color)
    })
    .toBe('rgb(154, 90, 26)')
})

test('a shared component varies in every place, and a place keeps what is its own', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/tests/t-15')
  await expect(page.getByText('shown on 2 pages')).toBeVisible()
  await page.getByRole('button', { name: 'Start the test' }).click()
  await expect(page.getByText('The test is running.')).toBeVisible()
  const title = />(The workshop is open|Come by, the kettle is on|When the bell is answered)</g
  await expect.poll(() => foundBy('/about', title)).toEqual(['Come by, the kettle is on', 'The workshop is open'])
  // The contact page has this title of its own.
  expect(await foundBy('/contact', title, 8)).toEqual(['When the bell is answered'])
  await takeOver(page, 'Come by')
  await expect.poll(() => foundBy('/about', title, 6)).toEqual(['Come by, the kettle is on'])
})

test('a menu is ordered by keyboard and by dragging, renamed, deepened, and seen in the real header', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/site/main-menu')
  await newVariant(page)
  await expect(page.getByLabel('Name of the version')).toHaveValue('Variant 1')
  const entries = page.getByRole('tree', { name: 'Entries of the menu' })
  await entries.getByRole('button', { name: /^Journal/ }).click()
  await page.keyboard.press('Alt+ArrowUp')
  await expect(page.getByText('moves the menu item “Journal” within the menu')).toBeVisible()
  await page.keyboard.press('Alt+ArrowRight')
  await expect(entries.getByRole('treeitem', { name: /^Journal/ })).toHaveAttribute('aria-level', '2')
  await page.keyboard.press('Alt+ArrowLeft')
  await expect(entries.getByRole('treeitem', { name: /^Journal/ })).toHaveAttribute('aria-level', '1')
  const [reserve, plans] = [entries.getByRole('button', { name: /^Reserve/ }), entries.getByRole('button', { name: /^Plans/ })]
  await resting(plans)
  const [low, high] = [await resting(reserve), await resting(plans)]
  await drag(page, { x: low.x + 30, y: low.y + low.height / 2 }, [
    { x: low.x + 30, y: low.y - 12 },
    { x: high.x + 30, y: high.y + 4 },
  ])
  await expect(page.getByText('moves the menu item “Reserve” within the menu')).toBeVisible()
  // Just after something was dropped a press may still be taken as part of it.
  const words = page.getByLabel('Words', { exact: true })
  await expect(async () => {
    await entries.getByRole('button', { name: /^Plans/ }).click()
    await expect(words).toHaveValue('Plans', { timeout: 1000 })
  }).toPass({ timeout: 15_000 })
  await words.fill('What it costs')
  await page.getByRole('button', { name: 'Add an entry' }).click()
  await page.getByLabel('Words', { exact: true }).fill('The care guide')
  await page.getByLabel('Address outside').fill('https://example.org/guide')
  await page.keyboard.press('Enter')
  await expect(page.frameLocator('iframe[title="The menu in its header"]').getByText('What it costs')).toBeVisible()
  await expect(page.getByText('draft saved')).toBeVisible()
  await page.getByRole('button', { name: 'Add to “The main menu, with reserving first”' }).click()
  await startTest(page, 'Looked at the plans')
  const item = /data-n="main-menu-menuitem-\d+">(Plans|What it costs)</g
  await expect.poll(() => foundBy('/contact', item)).toEqual(['Plans', 'What it costs'])
  await takeOver(page, 'Variant 1')
  await expect.poll(() => foundBy('/plans', item, 6)).toEqual(['What it costs'])
  expect(await foundBy('/plans', /href="(https:\/\/example.org\/guide)"/g, 2)).toEqual(['https://example.org/guide'])
  await page.getByRole('button', { name: 'Take the decision back' }).click()
  await page.getByRole('button', { name: 'Take it back' }).click()
  await expect.poll(() => foundBy('/plans', item, 6)).toEqual(['Plans'])
})

test('a call to action varies wherever it stands; a variant is turned off and another added while it runs', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/site/ask-sunday-letter')
  await expect(page.getByRole('heading', { name: 'Stands on' })).toBeVisible()
  await newVariant(page)
  await page.getByLabel('Title', { exact: true }).fill('A letter with a tune in it')
  await newVariant(page)
  await page.getByLabel('Button', { exact: true }).fill('Write to me')
  await expect(page.getByText('draft saved')).toBeVisible()
  await page.getByRole('button', { name: 'Make a test of them' }).click()
  await startTest(page, 'Came to the contact')
  const texts = /<aside[^>]*>(?:<div><h2>([^<]*))/g
  await expect.poll(() => foundBy('/journal', texts)).toEqual(['A letter with a tune in it', 'The Sunday letter'])
  expect(await foundBy('/journal/january', texts)).toEqual(['A letter with a tune in it', 'The Sunday letter'])

  await page.getByRole('button', { name: 'Turn it off' }).first().click()
  await page.getByRole('button', { name: 'Do it now' }).click()
  await expect(page.getByRole('cell', { name: 'a variant was switched off' })).toBeVisible()
  await expect.poll(() => foundBy('/journal', texts)).toEqual(['The Sunday letter'])
  await page.getByRole('button', { name: 'Add ‘Variant 1’' }).click()
  await page.getByRole('button', { name: 'Do it now' }).click()
  await expect(page.getByRole('cell', { name: 'a variant was added' })).toBeVisible()
  await expect.poll(() => foundBy('/journal', texts)).toEqual(['A letter with a tune in it', 'The Sunday letter'])
  await takeOver(page, 'Variant 1')
  await expect.poll(() => foundBy('/journal', texts, 6)).toEqual(['A letter with a tune in it'])
})

test('an article is listed under another title and teaser', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/site/article-ten-minutes')
  await page.getByRole('button', { name: 'Settings of the page' }).click()
  await newVariant(page)
  await page.getByLabel('Title where it is listed').fill('What a kitchen timer can do')
  await page.getByLabel('Teaser where it is listed').fill('Forty people, six weeks, one pear.')
  await expect(page.getByText('draft saved')).toBeVisible()
  await page.getByRole('button', { name: 'Make a test of it' }).click()
  await expect(page.getByText('The test shows on', { exact: false }).or(page.getByText('Versions')).first()).toBeVisible()
  await page.getByRole('button', { name: 'Make a goal by pointing' }).click()
  await page.getByRole('button', { name: 'Use this goal' }).click()
  await expect(page.getByText('Ready to start')).toBeVisible()
  await page.getByRole('button', { name: 'Start the test' }).click()
  await expect(page.getByText('The test is running.')).toBeVisible()
  const listed = /href="\/journal\/ten-minutes">([^<]*)</g
  await expect.poll(() => foundBy('/journal', listed)).toEqual(['Ten minutes a day', 'What a kitchen timer can do'])
  expect(await foundBy('/journal/ten-minutes', /<h1[^>]*>([^<]*)</g, 8)).toEqual(['Ten minutes a day'])
  await takeOver(page, 'Variant 1')
  await expect.poll(() => foundBy('/journal', listed, 6)).toEqual(['What a kitchen timer can do'])
})

test('one route is tested against another: no circle, parameters kept, the canonical page named', async ({ page, browser }) => {
  await signIn(page)
  await openScreen(page, '/site/workshops')
  await page.getByRole('button', { name: 'Settings of the page' }).click()
  await newVariant(page)
  await choose(page, 'Sends its visitors to', 'For schools')
  await expect(
    page.getByText('changes the sends its visitors to', { exact: false }).or(page.getByText('sends its visitors')).first(),
  ).toBeVisible()
  await expect(page.getByText('draft saved')).toBeVisible()
  await page.getByRole('button', { name: 'Make a test of it' }).click()
  await startTest(page, 'Came to the contact')
  const title = /<title>([^<]*)</g
  await expect.poll(() => foundBy('/workshops', title)).toEqual(expect.arrayContaining(['Workshops']))
  await expect.poll(async () => (await foundBy('/workshops', title)).length).toBeGreaterThan(1)

  const context = await browser.newContext()
  let sent = null
  for (let tries = 0; tries < 30 && sent === null; tries++) {
    await context.clearCookies()
    const answer = await context.request.get(`${site}/workshops?utm_source=letter&a=1`, { maxRedirects: 0 })
    if (answer.status() === 302) sent = answer.headers().location ?? ''
  }
  expect(sent).toMatch(/^\/schools\?utm_source=letter&a=1$/)
  // The same visitor is sent again, and the page it leads to stays where it is.
  expect((await context.request.get(`${site}/workshops`, { maxRedirects: 0 })).status()).toBe(302)
  await context.close()
  await takeOver(page, 'Variant 1')
  await expect.poll(async () => (await page.request.get(`${site}/workshops`, { maxRedirects: 0 })).status()).toBe(302)
  await page.getByRole('button', { name: 'Take the decision back' }).click()
  await page.getByRole('button', { name: 'Take it back' }).click()
  await expect.poll(async () => (await page.request.get(`${site}/workshops`, { maxRedirects: 0 })).status()).toBe(200)
})

/** Whatever happens in between, scripts are off again for whoever comes next. */
test.afterEach(async ({ browser }, info) => {
  if (!info.title.startsWith('a script is for administrators')) return
  const page = await browser.newPage({ baseURL: info.project.use.baseURL })
  await signIn(page, 'ada')
  await ask(page, 'setting.save', { scripts: false })
  await page.close()
})

test('a script is for administrators, off by default, named by readiness, and runs under its own hash', async ({
  page,
  browser,
}) => {
  await signIn(page)
  await openScreen(page, '/tests/t-16')
  await expect(page.getByText('brings a script, and scripts are switched off')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Start the test' })).toBeDisabled()
  await openScreen(page, '/settings')
  const scripts = page.getByRole('switch', { name: 'Scripts in variants may run' })
  await expect(scripts).toBeDisabled()
  await page.context().clearCookies()

  await signIn(page, 'ada')
  await openScreen(page, '/settings')
  await scripts.click()
  await expect(scripts).toBeChecked()
  await openScreen(page, '/tests/t-16')
  await expect(page.getByText('runs a script of its own')).toBeVisible()
  await page.getByRole('button', { name: 'Start the test' }).click()
  await expect(page.getByText('The test is running.')).toBeVisible()

  // As many visitors as it takes, by their number and not by the clock: forty all get the same once in 2^39.
  await served(page)
  const wanted = ['Evenings with glue, felt and patience', 'Evenings with glue, felt and patience Two places are free.']
  const titles = new Set<string>()
  for (let number = 0; number < 40 && titles.size < 2; number++) {
    const context = await browser.newContext()
    const looking = await context.newPage()
    const answer = await looking.goto(`${site}/workshops`)
    expect(answer?.headers()['content-security-policy']).not.toContain('unsafe')
    await expect.poll(() => looking.locator('h1').innerText()).toMatch(/patience/)
    titles.add(await looking.locator('h1').innerText())
    await context.close()
  }
  expect([...titles].sort()).toEqual(wanted)
  const policy = (await page.request.get(`${site}/workshops`)).headers()['content-security-policy']
  expect(policy).toMatch(/script-src 'self' 'sha256-/)
  await takeOver(page, 'With free places')
  await expect.poll(() => foundBy('/workshops', /(Two places are free)/g, 3)).toEqual(['Two places are free'])
  await openScreen(page, '/settings')
  await scripts.click()
  await expect(scripts).not.toBeChecked()
  await expect.poll(() => foundBy('/workshops', /(Two places are free)/g, 3)).toEqual([''])
})
