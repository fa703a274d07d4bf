import type { Device } from '@/core/decide'
import type { Loopback } from './loopback'
import { ParsedPage } from './parsed-page'

/** As real ones say it, so that the site recognises what it always does. */
const agents: { readonly [Of in Device | 'bot']: string } = {
  phone: 'Mozilla/5.0 (Linux; Android 15; Pixel 9) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0 Mobile Safari/537.36',
  tablet: 'Mozilla/5.0 (iPad; CPU OS 18_0 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.0 Safari/604.1',
  computer: 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0 Safari/537.36',
  bot: 'Mozilla/5.0 (compatible; Examplebot/1.0; +http://bot.example/about)',
}

/** The site leaves out whoever has it. */
const EDITOR = 'sprig_editor'

/** Of pages that are the same to the byte one is read: most visitors of a version get the same. */
const KEPT_PAGES = 200

/** One made-up visitor’s browser: it keeps what it is told to keep, follows where it is led, and reports as the script does. */
export class SimulatedBrowser {
  readonly #cookies = new Map<string, string>()

  constructor(
    private readonly site: Loopback,
    private readonly as: Device | 'bot',
    private readonly pages: Map<string, ParsedPage>,
    isOfStudio = false,
  ) {
    if (isOfStudio) this.#cookies.set(EDITOR, 'simulated')
  }

  /** Beside what a studio gave it. */
  get keepsSomething(): boolean {
    return [...this.#cookies.keys()].some((name) => name !== EDITOR)
  }

  /** Says yes to being counted, as the notice on the page lets one. */
  async agree(): Promise<void> {
    await this.send('/consent', new Map([['answer', 'yes']]))
  }

  /** @returns the page; `null` where none came */
  async open(path: string, referrer = ''): Promise<ParsedPage | null> {
    let next = path
    for (let step = 0; step < 5; step++) {
      const answer = await this.site.ask(next, { headers: this.headers(referrer === '' ? {} : { referer: referrer }) })
      this.#keep(answer.headers['set-cookie'])
      const led = answer.status >= 300 && answer.status < 400 ? answer.headers.location : undefined
      if (led === undefined) return answer.status === 200 ? this.#parsed(answer.body) : null
      next = led
    }
    return null
  }

  /** @returns whether it was taken */
  async report(document: string, events: readonly object[]): Promise<boolean> {
    const answer = await this.site.ask('/collect', {
      method: 'POST',
      headers: this.headers({ 'content-type': 'text/plain;charset=UTF-8' }),
      body: JSON.stringify({ d: document, e: events }),
    })
    this.#keep(answer.headers['set-cookie'])
    return answer.status === 204
  }

  /** @returns where it leads; `null` where it was not taken */
  async send(action: string, fields: ReadonlyMap<string, string>): Promise<string | null> {
    const answer = await this.site.ask(action, {
      method: 'POST',
      headers: this.headers({ 'content-type': 'application/x-www-form-urlencoded' }),
      body: new URLSearchParams([...fields]).toString(),
    })
    this.#keep(answer.headers['set-cookie'])
    return answer.status === 303 ? (answer.headers.location ?? null) : null
  }

  #parsed(html: string): ParsedPage {
    const known = this.pages.get(html)
    if (known !== undefined) return known
    if (this.pages.size >= KEPT_PAGES) this.pages.clear()
    const page = new ParsedPage(html)
    this.pages.set(html, page)
    return page
  }

  /** As it asks for anything, with these besides. */
  headers(more: Readonly<Record<string, string>> = {}): Record<string, string> {
    const cookie = [...this.#cookies].map(([name, value]) => `${name}=${value}`).join('; ')
    return { 'user-agent': agents[this.as], 'accept-language': 'en-GB,en', ...(cookie === '' ? {} : { cookie }), ...more }
  }

  #keep(said: string | string[] | undefined): void {
    for (const line of [said ?? []].flat()) {
      const [pair = ''] = line.split(';')
      const cut = pair.indexOf('=')
      const [name, value] = [pair.slice(0, cut), pair.slice(cut + 1)]
      if (/;\s*max-age=0(;|$)/i.test(line)) this.#cookies.delete(name)
      else this.#cookies.set(name, value)
    }
  }
}
