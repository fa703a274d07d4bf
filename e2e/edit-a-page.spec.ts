import { expect, test, type Page } from '@playwright/test'
import { choose, drag, openScreen, resting, sheet, signIn, site, untilServed } from './studio'

const saved = (page: Page) => expect(page.getByText('draft saved')).toBeVisible()
const publish = async (page: Page) => {
  await saved(page)
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Publish' }).click()
  await expect(page.getByText('Published: visitors see it now.')).toBeVisible()
}
/** Adds a component of this name from the palette. */
const add = async (page: Page, name: string) => {
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  await page.locator('.palette').getByRole('button', { name, exact: true }).click()
}
const order = (page: Page) => sheet(page).locator('main h2').allInnerTexts()

test('a page is made from a template, filled, ordered, put into a menu, published, and moved to another address', async ({
  page,
  context,
}) => {
  await signIn(page)
  await openScreen(page, '/site')
  await page.getByRole('button', { name: 'New page' }).click()
  await page.getByLabel('Title', { exact: true }).fill('Lend us your attic')
  await expect(page.getByLabel('Address', { exact: true })).toHaveValue('/lend-us-your-attic')
  await choose(page, 'Begins as', 'Plain page')
  await page.getByRole('button', { name: 'Make it' }).click()
  await expect(page.getByRole('heading', { name: 'Lend us your attic', level: 1 })).toBeVisible()

  // From the palette: two sections of their own, words written in place.
  await sheet(page)
    .locator('main > section')
    .last()
    .click({ position: { x: 4, y: 4 } })
  await add(page, 'section')
  await page.keyboard.press('Enter')
  await expect(sheet(page).locator('[contenteditable]')).toBeVisible()
  await page.keyboard.press('Control+A')
  await page.keyboard.type('What we look for')
  await page.keyboard.press('Enter')
  await expect(sheet(page).getByText('What we look for')).toBeVisible()
  await page.keyboard.press('Control+d')
  await expect(sheet(page).getByText('What we look for')).toHaveCount(2)
  await page.keyboard.press('Control+z')
  await expect(sheet(page).getByText('What we look for')).toHaveCount(1)

  // Rich text in the standard editor, with a link to a page of the site.
  await sheet(page).locator('main .text').last().dblclick()
  await expect(page.getByRole('toolbar', { name: 'Words on the page' })).toBeVisible()
  await page.keyboard.press('Control+A')
  await page.keyboard.type('Anything with strings. ')
  await page.keyboard.press('Control+b')
  await page.keyboard.type('Even broken')
  await page.keyboard.press('Shift+Control+ArrowLeft')
  await page.getByRole('toolbar', { name: 'Words on the page' }).getByRole('button', { name: 'Link' }).click()
  await choose(page, page.locator('.link-popover').getByRole('combobox').first(), 'Contact')
  await page.getByRole('button', { name: 'Done' }).click()
  await page.keyboard.press('Escape')
  await expect(sheet(page).locator('main .text').last().locator('a')).toHaveAttribute('href', '/contact')
  await expect(sheet(page).locator('main .text').last().locator('strong').first()).toBeVisible()

  // A picture from outside: its type is checked, what it shows is asked for.
  await sheet(page).locator('main .text').last().click()
  await add(page, 'picture')
  await page.getByText('Choose from the library').first().click()
  await page.getByLabel('File to bring').setInputFiles({ name: 'bad.png', mimeType: 'image/png', buffer: Buffer.from('<svg/>') })
  await expect(page.getByRole('button', { name: 'Bring it', exact: true })).toBeDisabled()
  await page.getByPlaceholder('A cello leaning').fill('An attic with cases')
  await page.getByRole('button', { name: 'Bring it', exact: true }).click()
  await expect(page.getByText('This is no picture or film')).toBeVisible()
  await page.getByRole('button', { name: 'Not now' }).click()
  const pixel = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8/5+hHgAHggJ/PchI7wAAAABJRU5ErkJggg=='
  await page
    .getByLabel('File to bring')
    .setInputFiles({ name: 'attic.png', mimeType: 'image/png', buffer: Buffer.from(pixel, 'base64') })
  await page.getByPlaceholder('A cello leaning').fill('An attic with cases')
  await page.getByRole('button', { name: 'Bring it', exact: true }).click()
  await expect(sheet(page).locator('main img').last()).toHaveAttribute('alt', 'An attic with cases')

  // Dragged on the page: the new section before the one above it.
  await sheet(page).getByText('What we look for').click()
  await page.keyboard.press('ArrowLeft')
  await page.keyboard.press('Alt+ArrowUp')
  await saved(page)

  // Into the foot menu, and live.
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Settings of the page' }).click()
  await page.getByLabel('Foot menu').click()
  await expect(page.getByText('Kept in the menu’s draft.')).toBeVisible()
  await publish(page)
  await untilServed(context, '/lend-us-your-attic', 'What we look for')
  const picture = await (await context.request.get(`${site}/lend-us-your-attic`)).text()
  const address = /src="(\/media\/m-[0-9a-f]{32})"/.exec(picture)?.[1] ?? ''
  expect((await context.request.get(site + address)).headers()['content-type']).toBe('image/png')

  // Another address; the old one leads on, with all that was asked for.
  await page.getByLabel('Address', { exact: true }).fill('/attic')
  await publish(page)
  await untilServed(context, '/attic', 'What we look for')
  const moved = await context.request.get(`${site}/lend-us-your-attic?a=1`, { maxRedirects: 0 })
  expect([moved.status(), moved.headers().location]).toEqual([301, '/attic?a=1'])

  // What changed since the first revision, in words; and back.
  await page.keyboard.press('Escape')
  await sheet(page).locator('h1').click()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Compare' }).last().click()
  await expect(page.getByRole('dialog').getByText('The draft changes the address of the page')).toBeVisible()

  // The library says where the picture is shown.
  await openScreen(page, '/site')
  await page.getByText('Media', { exact: true }).click()
  await page.getByRole('button', { name: /^attic/ }).click()
  await expect(page.getByRole('complementary').getByRole('link', { name: 'Lend us your attic' })).toBeVisible()
})

test('parts are dragged on the page and in the outline, and copied to another page', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/site/gift')
  await sheet(page).locator('h1').click()
  await add(page, 'section')
  await add(page, 'section')
  await saved(page)
  const headings = sheet(page).locator('main h2')
  await expect(headings).toHaveCount(2)
  await headings.nth(1).dblclick()
  await page.keyboard.press('Control+A')
  await page.keyboard.type('Second')
  await page.keyboard.press('Enter')
  await expect.poll(() => order(page)).toEqual(['A new section', 'Second'])

  // On the page: the text of the second section is taken hold of and let go above its heading.
  const text = sheet(page).locator('main .text').last()
  await text.click()
  const [from, to] = [await resting(text), await resting(headings.nth(1))]
  await drag(page, { x: from.x + 20, y: from.y + from.height / 2 }, [
    { x: from.x + 24, y: from.y - 10 },
    { x: to.x + 20, y: to.y + 2 },
  ])
  await expect(sheet(page).locator('main section').last().locator('> div > :first-child')).toHaveClass(/text/)

  // In the outline: the last section goes up.
  await page.getByRole('button', { name: 'Outline' }).click()
  const rows = page.getByRole('tree', { name: 'Components' }).getByRole('button', { name: /^section/ })
  await expect(rows).toHaveCount(3)
  const [row, target] = [await resting(rows.last()), await resting(rows.nth(1))]
  await drag(page, { x: row.x + 40, y: row.y + row.height / 2 }, [
    { x: row.x + 40, y: row.y - 12 },
    { x: target.x + 40, y: target.y + 4 },
  ])
  await expect.poll(() => order(page)).toEqual(['Second', 'A new section'])

  // Copied here, pasted there.
  await sheet(page).getByText('Second').click()
  await page.keyboard.press('Control+c')
  await saved(page)
  await openScreen(page, '/site/contact')
  await sheet(page).locator('h1').click()
  await page.keyboard.press('Control+v')
  await expect(sheet(page).getByText('Second')).toBeVisible()
  await page.keyboard.press('Delete')
  await expect(sheet(page).getByText('Second')).toHaveCount(0)
  await saved(page)
})

test('two people edit one page at once: what does not touch is merged, what does is said, nothing is lost', async ({
  page,
  browser,
}) => {
  await signIn(page)
  const other = await browser.newPage()
  await signIn(other, 'edgar')
  await openScreen(page, '/site/gift')
  await openScreen(other, '/site/gift')
  await sheet(page).locator('h1').click()
  await sheet(other).locator('.button').first().click()
  await page.getByLabel('Words', { exact: true }).fill('Hers: give a month')
  await other.getByLabel('Words', { exact: true }).fill('His button')
  await saved(page)
  await saved(other)
  await expect(sheet(other).locator('h1')).toHaveText('Hers: give a month')
  await expect(sheet(page).locator('.button').first()).toHaveText('His button', { timeout: 20_000 })

  // Now the same words: whoever is later is told, and keeps what was typed until it is decided.
  await sheet(other).locator('h1').click()
  const [hers, his] = [page.getByLabel('Words', { exact: true }), other.getByLabel('Words', { exact: true })]
  await Promise.all([hers.fill('Hers again'), his.fill('His title')])
  const told = page.getByRole('alert').filter({ hasText: 'changed the same part while you did' })
  const toldOther = other.getByRole('alert').filter({ hasText: 'changed the same part while you did' })
  await expect.poll(async () => (await told.count()) + (await toldOther.count())).toBe(1)
  const late = (await told.count()) > 0 ? page : other
  await expect(late.getByRole('alert').filter({ hasText: 'changed the same part' })).toBeVisible()
  await expect(sheet(late).locator('h1')).toHaveText(late === page ? 'Hers again' : 'His title')
  await late.getByRole('button', { name: 'Show what is saved, and lose my change' }).click()
  await expect(sheet(late).locator('h1')).toHaveText(late === page ? 'His title' : 'Hers again')
  await other.close()
})

test('a page from elsewhere comes in as HTML, and what has no place is named', async ({ page }) => {
  await signIn(page)
  await openScreen(page, '/site')
  const html = '<title>From elsewhere</title><h1>Hello</h1><p>Words</p>\n<table><tr><td>1</td></tr></table>'
  await page
    .getByLabel('File to take over')
    .setInputFiles({ name: 'page.html', mimeType: 'text/html', buffer: Buffer.from(html) })
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByText('Line 2: <table> (“1”) has no component here and was left out.')).toBeVisible()
  await dialog.getByRole('link', { name: 'From elsewhere' }).click()
  await expect(sheet(page).locator('h1')).toHaveText('Hello')
  const download = page.waitForEvent('download')
  await page.getByRole('button', { name: 'As HTML' }).click()
  expect((await download).suggestedFilename()).toMatch(/\.html$/)

  await openScreen(page, '/site')
  await page
    .getByLabel('File to take over')
    .setInputFiles({ name: 'x.json', mimeType: 'application/json', buffer: Buffer.from('{\n"a": }') })
  await expect(page.getByText('Line 2, column 6: This is no JSON from here on. Nothing was taken over.')).toBeVisible()
})
