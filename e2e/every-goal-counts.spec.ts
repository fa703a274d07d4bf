import { expect, test, type BrowserContext, type Page } from '@playwright/test'
import { allCounted, ask, awayFromMidnight, choose, moveUp, openScreen, reported, served, signIn, site, visitor } from './studio'

interface Counted {
  readonly times: number
  readonly visitors: number
}

/** How often a goal was reached in the last four weeks, and by how many for the first time. */
async function counted(page: Page, goal: string): Promise<Counted> {
  const { times, visitors } = await ask<Counted>(page, 'goal.open', { goal })
  return { times, visitors }
}
const more = (now: Counted, before: Counted): Counted => ({
  times: now.times - before.times,
  visitors: now.visitors - before.visitors,
})

/** Publishes the goal whose sheet is open. What is wired already is the goal it was. @returns its id */
async function publish(page: Page): Promise<string> {
  await page.waitForURL(/\/goals\/[a-z0-9-]+$/)
  const goal = new URL(page.url()).pathname.split('/').at(-1) ?? ''
  await expect(page.getByText('· saved')).toBeVisible()
  const state = async () => (await ask<{ state: string }>(page, 'goal.open', { goal })).state
  if ((await state()) === 'published') return goal
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect.poll(state).toBe('published')
  return goal
}

/** Points at something on a page, chooses what counts there, and publishes the goal. */
async function point(page: Page, onPage: string, at: string | null, counts: string, name: string): Promise<string> {
  await openScreen(page, '/goals')
  await page.getByRole('button', { name: 'Point at a goal' }).click()
  const dialog = page.getByRole('dialog')
  await choose(page, 'Page', onPage)
  const frame = page.frameLocator('iframe[title="Point at the goal"]')
  await expect(frame.locator('h1')).toBeVisible()
  if (at !== null)
    await frame
      .locator(at)
      .first()
      .click({ position: { x: 6, y: 6 } })
  await dialog.getByRole('radio', { name: counts, exact: true }).check()
  await dialog.getByLabel('Name of the goal').fill(name)
  await dialog.getByRole('button', { name: 'Use this goal' }).click()
  return publish(page)
}

/** Describes a goal that nothing on a page stands for, and publishes it. */
async function describe(
  page: Page,
  kind: string,
  name: string,
  fill: () => Promise<void> = () => Promise.resolve(),
): Promise<string> {
  await openScreen(page, '/goals')
  await page.getByRole('button', { name: 'Describe a goal' }).click()
  await page.waitForURL(/\/goals\/[a-z0-9-]+$/)
  await page.getByLabel('Name of the goal', { exact: true }).fill(name)
  if (kind !== 'An event is reported') await choose(page, 'It counts when', kind)
  await fill()
  return publish(page)
}

/** Makes a goal of exactly these others, whatever it began with: each step is there before the next is taken. */
async function compose(page: Page, add: string, wanted: readonly string[]): Promise<void> {
  const grips = page.locator('.parts-of-goal li .grip')
  await expect(grips.first()).toBeVisible()
  const row = (name: string) => page.locator('.parts-of-goal li').filter({ has: page.getByRole('button', { name, exact: true }) })
  const begun = (await grips.allInnerTexts()).map((name) => name.trim())
  let count = begun.length
  for (const name of wanted.filter((one) => !begun.includes(one))) {
    await choose(page, add, name)
    await expect(grips).toHaveCount(++count)
    await expect(row(name).first()).toBeVisible()
  }
  for (const name of begun.filter((one) => !wanted.includes(one))) {
    await row(name).first().getByRole('button', { name: /^Take/ }).click()
    await expect(grips).toHaveCount(--count)
  }
}

/** Fills in the form of the page, whatever it asks for, and sends it. */
async function fillIn(someone: Page): Promise<void> {
  const words: Record<string, string> = { email: 'kit@pinemoth.example', tel: '555 0100', date: '2027-03-01' }
  for (const field of await someone.locator('form input:not([type=hidden]), form textarea').all())
    await field.fill(words[(await field.getAttribute('type')) ?? ''] ?? 'Kit')
  for (const list of await someone.locator('form select').all()) await list.selectOption({ index: 1 })
  await someone.locator('form button').click()
}

async function somebody(context: BrowserContext): Promise<Page> {
  await context.route('https://menders-guild.example/**', (route) => route.fulfill({ body: 'The guild' }))
  return context.newPage()
}

test('every kind of goal is wired, and counts what it says', async ({ page, browser }) => {
  await awayFromMidnight()
  await signIn(page)
  const once = { times: 1, visitors: 1 }
  const goals = {
    button: await point(page, 'Pinemoth', '[data-n="home-to-instruments"]', 'it is pressed', 'Pressed the first button'),
    entry: await point(page, 'Pinemoth', 'header nav a:has-text("Plans")', 'it is pressed', 'Pressed an entry of the menu'),
    marked: await point(
      page,
      'Rent a cello',
      '[data-m="reserve"]',
      'anything with the marker “reserve” is pressed',
      'Pressed a marked one',
    ),
    form: await point(page, 'Book a trial lesson', 'form', 'the service behind the form accepts it', 'Lesson accepted'),
    thanks: await point(page, 'Book a trial lesson', 'form', 'the page after the form is shown', 'Lesson thanked for'),
    page: await point(page, 'How Pinemoth works', null, 'this page is shown', 'Saw how it works'),
    link: await point(
      page,
      'How Pinemoth works',
      '[data-n="about-guild"]',
      'a link to menders-guild.example is followed, wherever it stands',
      'Went to the guild',
    ),
    passage: await point(
      page,
      'How Pinemoth works',
      '[data-n="about-promise"]',
      'it is in view long enough to be read',
      'Read the promise',
    ),
    type: await describe(page, 'Any page of a type is shown', 'Any workshop', async () => {
      await page.getByLabel('Type of page').fill('Workshop')
    }),
    address: await describe(page, 'A page with a certain address is shown', 'By its address', async () => {
      await page.getByLabel('Address', { exact: true }).fill('/workshops/')
    }),
    stay: await describe(page, 'Somebody stays on a page', 'Stayed two seconds', async () => {
      await page.getByLabel('Seconds').fill('2')
    }),
    stayed: await describe(page, 'Somebody does not leave at once', 'Did not bounce'),
    event: await describe(page, 'An event is reported', 'Tuned a string', async () => {
      await page.getByLabel('Name of the event').fill('tuned-a-string')
    }),
  }
  // The shop reports an order for each reservation that was accepted; the demo has a goal for it.
  const order = 'ordered'
  const any = await describe(page, 'Any of several goals is reached', 'Either of two', async () => {
    await compose(page, 'Add a goal', ['Saw how it works', 'Went on to the menders’ guild'])
  })
  const way = await describe(
    page,
    'Several goals are reached one after the other',
    'From the first button to a lesson',
    async () => {
      const wanted = ['Pressed “See the instruments”', 'Booked a trial lesson']
      await compose(page, 'Add a step', wanted)
      const steps = page.locator('.parts-of-goal li .grip')
      if ((await steps.first().innerText()).trim() !== wanted[0]) await moveUp(steps, 1)
      await expect(steps).toHaveText(wanted)
    },
  )
  await served(page)
  const all: Record<string, string> = { ...goals, order, any, way }
  const before = new Map<string, Counted>()
  for (const [name, goal] of Object.entries(all)) before.set(name, await counted(page, goal))
  const becomes = (name: string, wanted: Counted) =>
    test.step(name, () =>
      expect
        .poll(async () => more(await counted(page, all[name] ?? ''), before.get(name) ?? once), {
          timeout: 20_000,
          message: name,
        })
        .toEqual(wanted),
    )

  const context = await visitor(browser)
  const someone = await somebody(context)
  await someone.goto('/')
  await someone.getByRole('navigation').getByText('Plans', { exact: true }).first().click()
  await someone.waitForURL('**/plans')
  await someone.goto('/')
  await someone.locator('[data-n="home-to-instruments"] a, a[data-n="home-to-instruments"]').first().click()
  await someone.waitForURL('**/instruments')
  await someone.goto('/instruments/cello')
  await someone.locator('[data-m="reserve"] a, a[data-m="reserve"]').first().click()
  await someone.waitForURL('**/reserve')
  await someone.goto('/workshops/strings')
  await someone.goto('/about')
  await someone.locator('[data-n="about-promise"]').scrollIntoViewIfNeeded()
  await someone.evaluate(() =>
    (window as unknown as { sprig: { happened(name: string): void } }).sprig.happened('tuned-a-string'),
  )
  await becomes('passage', once)
  await someone.locator('[data-n="about-guild"] a, a[data-n="about-guild"]').first().click()
  await someone.waitForURL('https://menders-guild.example/**')
  for (const [path, next] of [
    ['/reserve', '**/reserve/confirmed'],
    ['/trial-lesson', '**/trial-lesson/thanks'],
  ] as const) {
    await someone.goto(path)
    await fillIn(someone)
    await someone.waitForURL(next)
  }

  for (const name of ['button', 'entry', 'marked', 'form', 'thanks', 'page', 'link', 'event', 'type', 'address', 'order'])
    await becomes(name, once)
  // One that stays long enough on several pages reaches it on each.
  for (const name of ['stay', 'stayed'])
    expect(more(await counted(page, all[name] ?? ''), before.get(name) ?? once).visitors).toBe(1)
  // The page, and then the link.
  await becomes('any', { times: 2, visitors: 1 })
  await becomes('way', once)
  await openScreen(page, `/goals/${way}`)
  await expect(page.getByRole('region', { name: 'Funnel' })).toContainText('See the instruments')
  await context.close()
})

test.describe('counted exactly once', () => {
  let goals: { seen: string; pressed: string }
  test.beforeAll(async ({ browser }) => {
    const studio = await browser.newPage({ baseURL: test.info().project.use.baseURL })
    await signIn(studio)
    goals = {
      seen: await point(studio, 'How Pinemoth works', null, 'this page is shown', 'Saw how it works'),
      pressed: await point(studio, 'How Pinemoth works', '[data-n="about-guild"]', 'it is pressed', 'Pressed “The guild”'),
    }
    await served(studio)
    await studio.close()
  })

  /** What this visitor added to both goals, once it has arrived. */
  async function adds(page: Page, wanted: { seen: Counted; pressed: Counted }, act: () => Promise<void>) {
    const before = { seen: await counted(page, goals.seen), pressed: await counted(page, goals.pressed) }
    const added = async () => {
      return {
        seen: more(await counted(page, goals.seen), before.seen),
        pressed: more(await counted(page, goals.pressed), before.pressed),
      }
    }
    await act()
    await expect.poll(added, { timeout: 20_000 }).toEqual(wanted)
    // Nothing more is on its way.
    await allCounted(page)
    expect(await added()).toEqual(wanted)
  }
  const none = { times: 0, visitors: 0 }
  const button = '[data-n="about-guild"] a, a[data-n="about-guild"]'
  const stay = (someone: Page) => someone.evaluate(() => document.addEventListener('click', (event) => event.preventDefault()))

  test.beforeEach(async ({ page }) => {
    await awayFromMidnight(120_000)
    await signIn(page)
  })

  test('a double click is one press, and a reload shows the page again to the same visitor', async ({ page, browser }) => {
    const context = await visitor(browser)
    await adds(page, { seen: { times: 2, visitors: 1 }, pressed: { times: 1, visitors: 1 } }, async () => {
      const someone = await context.newPage()
      await someone.goto('/about')
      await stay(someone)
      const pressed = reported(someone, 'click')
      await someone.locator(button).first().dblclick()
      await pressed
      const again = reported(someone, 'page')
      await someone.reload()
      await again
    })
    await context.close()
  })

  test('two tabs are one visitor', async ({ page, browser }) => {
    const context = await visitor(browser)
    await adds(page, { seen: { times: 2, visitors: 1 }, pressed: { times: 2, visitors: 1 } }, async () => {
      const tabs = [await context.newPage(), await context.newPage()]
      await tabs[0]?.goto('/about')
      await tabs[1]?.goto('/about')
      for (const tab of tabs) {
        await stay(tab)
        const pressed = reported(tab, 'click')
        await tab.locator(button).first().click()
        await pressed
      }
    })
    await context.close()
  })

  test('a batch whose answer was lost is sent again, and counts once', async ({ page, browser }) => {
    const context = await visitor(browser)
    let lost = 0
    await context.route('**/collect', async (route) => {
      if (lost > 1) return route.continue()
      lost++
      await route.fetch()
      return route.abort()
    })
    await adds(page, { seen: { times: 1, visitors: 1 }, pressed: { times: 1, visitors: 1 } }, async () => {
      const someone = await context.newPage()
      await someone.goto('/about')
      await stay(someone)
      await someone.locator(button).first().click()
      await expect.poll(() => lost).toBe(2)
      await reported(someone, 'click')
    })
    await context.close()
  })

  test('a browser whose clock is years off counts for today', async ({ page, browser }) => {
    const context = await visitor(browser)
    await context.clock.setFixedTime(new Date('2041-05-06T07:08:09Z'))
    await adds(page, { seen: { times: 1, visitors: 1 }, pressed: none }, async () => {
      const someone = await context.newPage()
      const shown = reported(someone, 'page')
      await someone.goto('/about')
      await shown
    })
    await context.close()
  })

  test('a page that comes back from the browser’s memory is shown again, and sees no part twice', async ({ page, browser }) => {
    const context = await visitor(browser)
    const sent: string[] = []
    context.on('request', (request) => request.url().endsWith('/collect') && sent.push(request.postData() ?? ''))
    await adds(page, { seen: { times: 2, visitors: 1 }, pressed: none }, async () => {
      const someone = await context.newPage()
      const shown = reported(someone, 'page')
      await someone.goto('/about')
      await shown
      const again = reported(someone, 'page')
      await someone.evaluate(() => {
        dispatchEvent(new PageTransitionEvent('pagehide', { persisted: true }))
        dispatchEvent(new PageTransitionEvent('pageshow', { persisted: true }))
      })
      await again
    })
    const seen = [...sent.join('').matchAll(/"k":"seen","r":"([^"]+)"/g)].map(([, round]) => round)
    expect(new Set(seen).size).toBe(seen.length)
    await context.close()
  })

  test('what a browser fetches ahead is nobody’s visit', async ({ page, playwright }) => {
    await adds(page, { seen: none, pressed: none }, async () => {
      const ahead = await playwright.request.newContext({
        userAgent: 'Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:140.0) Gecko/20100101 Firefox/140.0',
        extraHTTPHeaders: { 'sec-purpose': 'prefetch' },
      })
      const answer = await ahead.get(`${site}/about`)
      expect([answer.status(), answer.headers()['set-cookie']]).toEqual([200, undefined])
      await ahead.dispose()
    })
  })

  test('where the script or its reports are blocked, the page works, and a form counts all the same', async ({
    page,
    browser,
  }) => {
    const form = await point(page, 'Contact', 'form', 'the service behind the form accepts it', 'Wrote in spite of all')
    await served(page)
    for (const blocked of ['**/look/count.js*', '**/collect']) {
      const before = await counted(page, form)
      const context = await visitor(browser)
      await context.route(blocked, (route) => route.abort())
      const someone = await context.newPage()
      await someone.goto('/contact')
      await fillIn(someone)
      await someone.waitForURL((url) => url.pathname !== '/contact')
      await expect
        .poll(async () => more(await counted(page, form), before), { timeout: 20_000 })
        .toEqual({ times: 1, visitors: 1 })
      await context.close()
    }
  })
})
