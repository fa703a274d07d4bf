import { expect, test, type Page } from '@playwright/test'
import { openScreen, sheet, signIn } from './studio'

/*
 * Times on a busy machine are noise: a large page is held against a small one in the same run, and against a limit far
 * beyond what was seen (600 ms, 16 ms). What was seen is printed.
 */
const OPEN = { times: 6, limit: 8000 }
const TYPING = { times: 8, limit: 500 }

test('a page with 300 components and 12 variants opens at once, and typing shows at once', async ({ page }) => {
  await signIn(page)
  const { id, first } = await largePage(page)
  await page.addInitScript(noteWhenShown, id)
  // By the page's own clock, from the moment at which it was asked for: what looks from outside looks only now and then.
  const opened = async (document: string) => {
    await openScreen(page, `/site/${document}`)
    const shown = await page.waitForFunction(() => (window as unknown as { shownAfter?: number }).shownAfter)
    return (await shown.jsonValue()) ?? Infinity
  }
  const typed = async (part: string) => {
    await sheet(page).locator(part).first().click()
    await page.getByLabel('Words', { exact: true }).focus()
    return typingTimes(page)
  }
  await opened('contact')
  const small = {
    opened: middle([await opened('contact'), await opened('contact'), await opened('contact')]),
    typed: await typed('h1'),
  }
  await opened(id)
  const large = { opened: middle([await opened(id), await opened(id), await opened(id)]), typed: 0 }
  await sheet(page).locator(`[data-n="${first}"]`).click()
  await expect(page.getByRole('button', { name: 'Put Variant 12 on the page' })).toBeVisible()
  large.typed = await typed(`[data-n="${first}"]`)
  process.stdout.write(
    `300 components, 12 variants: opened in ${large.opened.toFixed(0)} ms (a small page ${small.opened.toFixed(0)}), typing shown after ${large.typed.toFixed(1)} ms (${small.typed.toFixed(1)})\n`,
  )
  expect(large.opened).toBeLessThan(Math.min(OPEN.limit, OPEN.times * Math.max(small.opened, 100)))
  expect(large.typed).toBeLessThan(Math.min(TYPING.limit, TYPING.times * Math.max(small.typed, 10)))
})

const middle = (times: number[]) => [...times].sort((a, b) => a - b)[Math.floor(times.length / 2)] ?? Infinity

/** Looks in every frame whether the last of the 300 is there; on any other page, whether its title is. */
function noteWhenShown(large: string): void {
  const isThere = (within: Document | null | undefined) =>
    window.location.pathname.endsWith(large)
      ? within?.querySelector('main section')?.lastElementChild?.textContent?.includes('Paragraph 149.')
      : within?.querySelector('h1') !== null && within?.querySelector('h1') !== undefined
  const look = () => {
    if (isThere(document.querySelector<HTMLIFrameElement>('iframe[title^="The page:"]')?.contentDocument))
      Object.assign(window, { shownAfter: performance.now() })
    else requestAnimationFrame(look)
  }
  if (window === window.top) look()
}

/** Milliseconds from a key to the change on the page, in the middle of twenty. */
async function typingTimes(page: Page): Promise<number> {
  await page.evaluate(() => {
    const frame = document.querySelector<HTMLIFrameElement>('iframe[title^="The page:"]')
    const taken: number[] = []
    let pressed = 0
    Object.assign(window, { taken })
    window.addEventListener('keydown', () => (pressed = performance.now()), true)
    new MutationObserver(() => {
      if (pressed > 0) taken.push(performance.now() - pressed)
      pressed = 0
    }).observe(frame?.contentDocument?.body ?? document, { subtree: true, childList: true, characterData: true })
  })
  for (const letter of 'twenty letters typed.') {
    await page.keyboard.type(letter)
    await page.waitForTimeout(60)
  }
  const taken = await page.evaluate(() => (window as unknown as { taken: number[] }).taken)
  expect(taken.length).toBeGreaterThan(15)
  return middle(taken)
}

async function largePage(page: Page): Promise<{ id: string; first: string }> {
  const act = async (name: string, data: object): Promise<Record<string, unknown>> => {
    const answer = await page.request.post(`/api/${name}`, {
      headers: { origin: new URL(page.url()).origin, 'content-type': 'application/json' },
      data,
    })
    expect(answer.status(), await answer.text()).toBe(200)
    return (await answer.json()) as Record<string, unknown>
  }
  const { id } = await act('document.create', { kind: 'page', title: 'A long page', path: `/long-${Date.now()}` })
  const opened = (await act('document.open', { document: id })) as {
    document: { nodes: Record<string, { type: string }> }
    lock: number
  }
  const section = Object.entries(opened.document.nodes).find(([, { type }]) => type === 'section')?.[0]
  const name = (kind: string, index: number) => `${String(id)}-${kind}-${index}`
  const parts = Array.from({ length: 150 }, (_, index) => [
    { id: name('h', index), type: 'heading', props: { words: `Heading ${index}` } },
    {
      id: name('t', index),
      type: 'text',
      props: { words: `<p>Paragraph ${index}. Some words that a page says, and some more of them.</p>` },
    },
  ]).flat()
  await act('document.edit', {
    document: id,
    base: opened.lock,
    edits: parts.map((part, index) => ({
      kind: 'insert',
      parent: section,
      after: parts[index - 1]?.id ?? null,
      tree: { root: part.id, nodes: { [part.id]: { type: part.type, props: part.props, children: [] } } },
    })),
  })
  const first = name('h', 0)
  for (let variant = 1; variant <= 12; variant++) {
    const made = await act('version.create', { document: id, node: first, manner: 'chance', from: null })
    await act('version.save', {
      id: made.id,
      lock: made.lock,
      edits: [{ kind: 'set', node: first, prop: 'words', value: `Heading, variant ${variant}` }],
    })
  }
  return { id: String(id), first }
}
