import { request } from 'node:http'
import type { AddressInfo } from 'node:net'
import { readVisit } from './serve/cookies'
import type { SiteParts } from './site'
import { agent, compiledWith, frontPage, siteOf } from './test-site'

const page = frontPage(
  { form: { type: 'form', props: { next: 'page:front' }, children: ['field'] } },
  { field: { type: 'formField', props: { label: 'Your name', name: 'name' } } },
)
const compiled = compiledWith({ documents: [page] })
const event = { i: 'a'.repeat(32), k: 'page' }
const known = {
  cookie: `visitor=${'1'.repeat(32)}`,
  'user-agent': agent,
  'content-type': 'text/plain',
}

function siteWith(parts: Partial<SiteParts> = {}) {
  const { site, written } = siteOf(compiled, parts)
  const report = (body: unknown, headers: object = {}) =>
    site.inject({
      method: 'POST',
      url: '/collect',
      headers: { ...known, ...headers },
      payload: typeof body === 'string' ? body : JSON.stringify(body),
    })
  return { site, written, report }
}

describe('collect', () => {
  test('answers after the write, with the server’s own clock and visitor', async () => {
    const { report, written } = siteWith({
      addressOf: () => '198.51.100.7',
      regionOf: (address) => (address === '198.51.100.7' ? 'XP-HA' : null),
    })
    expect((await report({ d: 'front', e: [event] })).statusCode).toBe(204)
    expect(written).toEqual([
      {
        id: event.i,
        crowd: 0,
        visitor: '1'.repeat(32),
        at: new Date(1_700_000_000_000),
        kind: 'page',
        document: 'front',
        path: '/',
        pageType: 'Page',
        arrival: { source: 'direct', device: 'computer', language: null, region: 'XP-HA' },
      },
    ])
  })

  test('asks to send again when the events could not be written, while pages go on being served', async () => {
    const { site, report } = siteWith({ writeEvents: () => Promise.reject(new Error('database away')) })
    const answer = await report({ d: 'front', e: [event] })
    expect([answer.statusCode, answer.headers['retry-after']]).toEqual([503, '5'])
    expect((await site.inject({ url: '/', headers: known })).statusCode).toBe(200)
  })

  test.each<[string, unknown, object, number]>([
    ['no JSON', '{', {}, 400],
    ['an unknown kind', { d: 'front', e: [{ ...event, k: 'hover' }] }, {}, 400],
    ['a stray property', { d: 'front', e: [{ ...event, x: 1 }] }, {}, 400],
    ['more than fifty events', { d: 'front', e: Array.from({ length: 51 }, () => event) }, {}, 400],
    ['more than 16 kB', 'x'.repeat(20_000), {}, 413],
    ['another site', { d: 'front', e: [event] }, { origin: 'https://other.example' }, 403],
    ['nobody known', { d: 'front', e: [event] }, { cookie: '' }, 204],
    ['a bot', { d: 'front', e: [event] }, { 'user-agent': 'Spider bot/1.0' }, 204],
    ['an editor', { d: 'front', e: [event] }, { cookie: `${known.cookie}; sprig_editor=1` }, 204],
    ['no consent', { d: 'front', e: [event] }, { 'sec-gpc': '1' }, 204],
  ])('writes nothing for %s', async (_, body, headers, status) => {
    const { report, written } = siteWith()
    expect([(await report(body, headers)).statusCode, written]).toEqual([status, []])
  })
})

test('a form goes on to its page, is refused with the field’s name when incomplete, and says when it was not kept', async () => {
  const send = (parts: Partial<SiteParts>, payload: string) =>
    siteWith(parts).site.inject({
      method: 'POST',
      url: '/forms/front/form',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      payload,
    })
  expect(await send({}, 'name=Nelly')).toMatchObject({ statusCode: 303, headers: expect.objectContaining({ location: '/' }) })
  expect(await send({}, 'name=')).toMatchObject({ statusCode: 400, body: expect.stringContaining('fill in “Your name”') })
  expect((await send({ keepEntry: () => Promise.reject(new Error('away')) }, 'name=Nelly')).statusCode).toBe(503)
})

test('before a release is loaded it says so, and is not healthy', async () => {
  const { site, report } = siteWith({ current: () => null })
  expect([(await site.inject('/')).statusCode, (await site.inject('/healthz')).statusCode]).toEqual([503, 503])
  expect((await report({ d: 'front', e: [event] })).statusCode).toBe(503)
})

test('no inline script may run, nothing may frame the site', async () => {
  const policy = String((await siteWith().site.inject('/')).headers['content-security-policy'])
  expect(policy).toContain("script-src 'self'")
  expect(policy).toContain("frame-ancestors 'none'")
  expect(policy).not.toContain('unsafe')
})

describe('whatever one request holds', () => {
  const open: { close(): Promise<unknown> }[] = []
  afterEach(async () => void (await Promise.all(open.splice(0).map((site) => site.close()))))

  /** Through a real connection: what is thrown outside a handler would end the process. */
  async function listening(parts: Partial<SiteParts> = {}) {
    const faults: unknown[] = []
    const { site } = siteWith({ log: (reason) => void faults.push(reason), ...parts })
    open.push(site)
    await site.listen({ port: 0 })
    const { port } = site.server.address() as AddressInfo
    const get = (path: string, headers: Record<string, string> = {}) =>
      new Promise<number>((done, failed) => {
        request({ port, path, agent: false, headers: { 'user-agent': known['user-agent'], ...headers } }, (answer) => {
          answer.resume()
          done(answer.statusCode ?? 0)
        })
          .once('error', failed)
          .end()
      })
    return { site, get, faults }
  }

  test.each([
    `/?utm_campaign=${'a'.repeat(79)}%F0%9F%98%80`,
    '/?utm_campaign=%ED%A0%80',
    '/?utm_campaign=%ff%00',
    '/?utm_campaign=%',
  ])('a page is served for %s, and its campaign can be read back', async (path) => {
    const { site, get } = await listening()
    const cookie = await site.inject({ url: path, headers: { 'user-agent': known['user-agent'] } })
    const visit = [cookie.headers['set-cookie']]
      .flat()
      .find((line) => line?.startsWith('visit='))
      ?.slice('visit='.length)
      .split(';')[0]
    expect(readVisit(visit, Math.floor(1_700_000_000_000 / 60_000))).not.toBeNull()
    expect(await get(path)).toBe(200)
  })

  test('a fault in answering one is written down and answered, and the next is served', async () => {
    let broken = true
    const { get, faults } = await listening({
      now: () => {
        if (broken) throw new Error('a clock that fails')
        return 1_700_000_000_000
      },
    })
    expect(await get('/')).toBe(500)
    broken = false
    expect([await get('/'), faults.length]).toEqual([200, 1])
  })

  test.each(['/forms/front/constructor', '/forms/constructor/form', '/media/constructor', '/%ff', '/%', '/%00', '/\\'])(
    '%s is nobody’s fault but the asker’s',
    async (path) => {
      const { get, faults } = await listening()
      expect(await get(path)).toBeGreaterThanOrEqual(400)
      expect([await get(path), faults]).toEqual([expect.not.stringMatching(/^5/), []])
    },
  )

  test('a link to a name with other letters is followed as its encoded form', async () => {
    const form = { ...page, nodes: { ...page.nodes, form: { ...page.nodes.form, props: { next: 'https://例え.example/ü' } } } }
    const released = compiledWith({ documents: [form] })
    const { site } = siteWith({ current: () => released })
    const sent = await site.inject({
      method: 'POST',
      url: '/forms/front/form',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      payload: 'name=Kit',
    })
    expect([sent.statusCode, sent.headers.location]).toEqual([303, 'https://xn--r8jz45g.example/%C3%BC'])
  })

  test('half a character is refused where it comes in, as it would keep all others of its statement from being written', async () => {
    const { report, written } = siteWith()
    const out = { i: 'b'.repeat(32), k: 'out', a: 'https://elsewhere.example/\ud83d' }
    const answer = await report({ d: 'front', e: [event, out] })
    expect([answer.statusCode, answer.body, written]).toEqual([400, expect.stringContaining('e.1.a'), []])
  })

  test('who comes too often is told when to come again, and nothing is kept of it', async () => {
    const { report, written } = siteWith({ limits: () => 7 })
    const answer = await report({ d: 'front', e: [event] })
    expect([answer.statusCode, answer.headers['retry-after'], written]).toEqual([429, '7', []])
  })

  test('where the site is only asked over TLS, its cookies and answers say so', async () => {
    const { site } = siteWith({ secure: true })
    const { headers, cookies } = await site.inject({ url: '/', headers: { 'user-agent': known['user-agent'] } })
    expect(headers['strict-transport-security']).toContain('max-age=')
    expect(cookies.length).toBeGreaterThan(0)
    expect(cookies.every(({ secure }) => secure)).toBe(true)
    expect((await site.inject({ url: '/nowhere' })).headers['strict-transport-security']).toContain('max-age=')
  })
})
