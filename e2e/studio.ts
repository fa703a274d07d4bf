import {
  expect,
  request,
  test,
  type Browser,
  type BrowserContext,
  type FrameLocator,
  type Locator,
  type Page,
} from '@playwright/test'
import { randomBytes } from 'node:crypto'
import { bucket, numberOfHoldout, unitOf } from '@/core/decide'

export const site = `http://localhost:${process.env.SITE_PORT ?? '4200'}`

export const studio = `http://localhost:${process.env.STUDIO_PORT ?? '4100'}`

/** Asks the studio's server as its screens do. */
export async function ask<Answer>(page: Page, action: string, data: object): Promise<Answer> {
  const answer = await page.request.post(`/api/${action}`, {
    headers: { origin: studio, 'content-type': 'application/json' },
    data,
  })
  return (await answer.json()) as Answer
}

type Cookies = Awaited<ReturnType<BrowserContext['cookies']>>
const sessions = new Map<string, Cookies>()

/**
 * Opens an address of the studio, and resolves when the screen answers: what the server drew takes no press and no key
 * until the code behind it has come, which takes its time where everything is busy.
 */
export async function openScreen(page: Page, address: string): Promise<void> {
  await page.goto(address)
  await answers(page)
}

export async function openAgain(page: Page): Promise<void> {
  await page.reload()
  await answers(page)
}

const answers = (page: Page) => expect(page.locator('.frame:not([inert]), main.sign-in')).toBeVisible()

/** Signs in by hand the first time, and goes on with that session after it: signing in has a test of its own. */
export async function signIn(page: Page, who: 'wilma' | 'edgar' | 'ada' = 'wilma'): Promise<void> {
  const known = sessions.get(who)
  if (known !== undefined) {
    await page.context().addCookies(known)
    await openScreen(page, '/')
    await expect(page.getByRole('heading', { name: /Today|Upbeat Sprig/ })).toBeVisible()
    if (await page.getByRole('heading', { name: 'Today' }).isVisible()) return
  }
  await page.goto('/sign-in')
  await page.getByLabel('E-mail').fill(`${who}@pinemoth.example`)
  await page.getByLabel('Password').fill({ wilma: 'moths-like-brass', edgar: 'moths-like-wood', ada: 'moths-like-steel' }[who])
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible()
  const cookies = await page.context().cookies(studio)
  sessions.set(
    who,
    cookies.filter(({ name }) => name.startsWith('sprig_')),
  )
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

/** A visitor whom the rules of a part hold out, or one whom they do not: that lies in who they are. */
export async function visitorOf(
  browser: Browser,
  { document, node, isHeld }: { document: string; node: string; isHeld: boolean },
  options: Parameters<Browser['newContext']>[0] = {},
): Promise<BrowserContext> {
  const number = numberOfHoldout(`${document}.${node}`)
  let id = ''
  do id = randomBytes(16).toString('hex')
  while (bucket(number, unitOf(id)) < 1000 !== isHeld)
  const context = await visitor(browser, options)
  await context.addCookies([{ name: 'visitor', value: id, url: site }])
  return context
}

/** Waits until the site serves the newest release: what was published counts from here on. */
export async function served(page: Page): Promise<void> {
  const { release } = await ask<{ release: { number: number } }>(page, 'site.serving', {})
  const serves = async () => Number(/release (\d+)/.exec(await (await page.request.get(`${site}/healthz`)).text())?.[1] ?? 0)
  await expect.poll(serves).toBeGreaterThanOrEqual(release.number)
}

/** Waits until all that was taken in has been counted. */
export async function allCounted(page: Page): Promise<void> {
  const waiting = async () => (await ask<{ counting: { waiting: number } }>(page, 'today.read', {})).counting.waiting
  await expect.poll(waiting, { timeout: 30_000 }).toBe(0)
}

/** Resolves when a page has reported something of this kind and was thanked for it. Begun before what leads to it. */
export function reported(page: Page, kind: string): Promise<unknown> {
  const is = (body: string | null) => body?.includes(`"k":"${kind}"`) === true
  return page.waitForResponse(
    (answer) => answer.url().endsWith('/collect') && is(answer.request().postData()) && answer.status() === 204,
  )
}

/** Sums over the last days move at midnight: who compares two of them does not begin shortly before. */
export async function awayFromMidnight(milliseconds = 300_000): Promise<void> {
  const left = 86_400_000 - (Date.now() % 86_400_000)
  if (left > milliseconds) return
  test.setTimeout(test.info().timeout + left)
  await new Promise((midnight) => setTimeout(midnight, left + 1000))
}

/**
 * Moves an entry of a list that can be ordered up by one, by keyboard. Each key is pressed when what the one before did has
 * been said aloud: that it was picked up, that it stands over another place than its own, that it was let go.
 */
export async function moveUp(entries: Locator, from: number): Promise<void> {
  const page = entries.page()
  const words = (await entries.nth(from).innerText()).trim()
  const said = (what: RegExp) => expect(page.getByRole('status').filter({ hasText: what })).toBeAttached({ timeout: 3000 })
  await expect(async () => {
    await page.keyboard.press('Escape')
    await entries.nth(from).focus()
    await page.keyboard.press('Space')
    await said(/Picked up|was moved over/)
    await page.keyboard.press('ArrowUp')
    await said(/item (\S+) was moved over droppable area (?!\1\b)/)
    await page.keyboard.press('Space')
    await said(/was dropped/)
    await expect(entries.nth(from - 1)).toHaveText(words, { timeout: 3000 })
  }).toPass({ timeout: 45_000 })
}

/** Waits until the site serves this, as a new release takes a moment to reach it. */
export async function untilServed(context: BrowserContext, path: string, words: string | RegExp): Promise<void> {
  const isServed = async () => {
    const html = await (await context.request.get(site + path)).text()
    return typeof words === 'string' ? html.includes(words) : words.test(html)
  }
  await expect.poll(isServed, { timeout: 10_000 }).toBe(true)
}

const agent = 'Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:140.0) Gecko/20100101 Firefox/140.0'

/** What thirty visitors find on a page by this pattern, without repetition. Follows where they are sent. */
export async function foundBy(path: string, pattern: RegExp, visitors = 30): Promise<string[]> {
  const found = new Set<string>()
  for (let number = 0; number < visitors; number++) {
    const fresh = await request.newContext({ userAgent: agent })
    const html = await (await fresh.get(site + path)).text()
    found.add([...html.matchAll(pattern)].map((match) => match[1] ?? match[0]).join(' | '))
    await fresh.dispose()
  }
  return [...found].sort()
}

/** On the sheet of a test: says what counts, and starts it. */
export async function startTest(page: Page, goal: string): Promise<void> {
  await expect(page.getByRole('region', { name: 'Goals' })).toBeVisible()
  await choose(page, 'Goal that decides', goal)
  await expect(page.getByText('Ready to start')).toBeVisible()
  await page.getByRole('button', { name: 'Start the test' }).click()
  await expect(page.getByText('The test is running.')).toBeVisible()
}

/** On the sheet of a running test: takes a variant over, with a reason where the result does not say it by itself. */
export async function takeOver(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: `Take ‘${name}’ over` }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Reason').fill('Decided by hand.')
  await dialog.getByRole('button', { name: 'Take it over' }).click()
  await expect(page.getByText(`took ‘${name}’ over`)).toBeVisible()
}

/** Chooses from a list, by some of the words of its entry: in one of many they are typed, and what is marked is taken. */
export async function choose(page: Page, list: string | Locator, words: string): Promise<void> {
  const box = typeof list === 'string' ? page.getByLabel(list, { exact: true }).first() : list
  await expect(box).toBeEnabled()
  if ((await box.evaluate(({ tagName }) => tagName)) === 'SELECT') {
    const label = await box.locator('option', { hasText: words }).first().textContent()
    await box.selectOption({ label: label ?? words })
    return
  }
  // What is chosen already would be no change, and opens nothing.
  await box.fill('')
  await box.fill(words)
  await expect(page.locator('.found-choices .marked:visible').filter({ hasText: words })).toBeVisible()
  await box.press('Enter')
}

interface Point {
  readonly x: number
  readonly y: number
}

/** Presses, moves and lets go with the browser's own input: the page frames allow no script, which the usual way needs. */
export async function drag(page: Page, from: Point, over: readonly Point[]): Promise<void> {
  const input = await page.context().newCDPSession(page)
  const send = (type: 'mousePressed' | 'mouseMoved' | 'mouseReleased', { x, y }: Point) =>
    input.send('Input.dispatchMouseEvent', {
      type,
      x,
      y,
      button: 'left',
      buttons: type === 'mouseReleased' ? 0 : 1,
      clickCount: 1,
    })
  let at = from
  await send('mousePressed', from)
  for (const target of over) {
    for (let step = 1; step <= 6; step++)
      await send('mouseMoved', { x: at.x + ((target.x - at.x) * step) / 6, y: at.y + ((target.y - at.y) * step) / 6 })
    at = target
  }
  await page.waitForTimeout(150)
  await send('mouseReleased', at)
  await input.detach()
}

/** Makes a variant of what is selected, and waits until it is the one that is edited. */
export async function newVariant(page: Page): Promise<void> {
  const versions = page.getByRole('button', { name: /^Put .* on the page$/ })
  await expect(versions.first()).toBeVisible()
  const before = await versions.count()
  await page.getByRole('button', { name: 'New variant' }).click()
  await expect(versions).toHaveCount(before + 1)
  await expect(versions.and(page.locator('[aria-pressed="true"]'))).not.toHaveAccessibleName('Put Original on the page')
}

/** Where something is once it has come to rest: in the same place in two looks, a frame apart. */
export async function resting(of: Locator): Promise<{ x: number; y: number; width: number; height: number }> {
  let before = ''
  await expect
    .poll(async () => {
      const now = JSON.stringify(await of.boundingBox())
      const rests = now === before && now !== 'null'
      before = now
      return rests
    })
    .toBe(true)
  const box = await of.boundingBox()
  if (box === null) throw new Error('it has gone')
  return box
}
