import type { IncomingMessage, ServerResponse } from 'node:http'
import type { StampedEvent } from '@/core/events'
import { digestOfScript } from '@/serving/script-digest'
import { GroupCommit } from '../collect/group-commit'
import { agent, compiledWith, frontPage, greeting, greetingRound, NOW } from '../test-site'
import { servingPages } from './pages'

type Parts = Parameters<typeof servingPages>[0]
const all = [
  { version: 'original', weight: 0 },
  { version: 'warm', weight: 10_000 },
]
const securityLines = ['content-security-policy', 'none of it', 'x-frame-options', 'DENY']

/** What is answered to requests of one process, and what it wrote. */
function serving(release: object = {}, parts: Partial<Parts> = {}, write?: (events: readonly StampedEvent[]) => Promise<void>) {
  const written: StampedEvent[][] = []
  const logged: unknown[] = []
  const leftOut: string[] = []
  const compiled = compiledWith(release)
  const commits = new GroupCommit(write ?? ((events) => Promise.resolve(void written.push([...events]))))
  const serve = servingPages(
    {
      current: () => compiled,
      now: () => NOW,
      log: (reason) => logged.push(reason),
      secure: false,
      addressOf: () => '198.51.100.7',
      regionOf: () => null,
      noteLeftOut: (reason) => leftOut.push(reason),
      securityLines,
      ...parts,
    },
    commits,
  )
  const ask = (url: string | undefined, { method = 'GET', headers = {} as Record<string, string> } = {}) => {
    const answer = { status: 0, lines: [] as string[], body: undefined as Buffer | undefined }
    const response = {
      writeHead: (status: number, lines: string[]) => Object.assign(answer, { status, lines: [...lines] }),
      end: (body?: Buffer) => void (answer.body = body),
    }
    const request = { url, method, headers: { 'user-agent': agent, ...headers } }
    const isServed = serve(request as unknown as IncomingMessage, response as unknown as ServerResponse)
    const header = (name: string) => answer.lines.find((_, at) => at % 2 === 1 && answer.lines[at - 1] === name)
    return { ...answer, isServed, header, words: /<h2[^>]*>([^<]*)/.exec(answer.body?.toString() ?? '')?.[1] }
  }
  return { ask, written, logged, leftOut }
}
/** Until all that was begun in this turn of the loop is written. */
const settled = async () => {
  for (let turn = 0; turn < 6; turn++) await new Promise((next) => setImmediate(next))
}
const elsewhere = frontPage({ title: { type: 'heading', props: { words: 'Plans' } } })
/** Another page, at some address. */
const plansAt = (path: string) => {
  const { root, nodes } = elsewhere
  return { ...elsewhere, id: 'plans', nodes: { ...nodes, [root]: { ...nodes[root], props: { title: 'Plans', path } } } }
}
const plans = plansAt('/plans')

test('a page is found by its path, with or without what stands behind it, and nothing else is answered', () => {
  const { ask } = serving({ documents: [greeting, plans] })
  for (const url of ['/', '/?a=b', undefined]) expect(ask(url)).toMatchObject({ isServed: true, status: 200, words: 'Hello' })
  for (const url of ['/plans', '/plans?a=/', '/pl%61ns']) expect(ask(url)).toMatchObject({ status: 200, words: 'Plans' })
  for (const url of ['/gone', '/plans//', '//', '//plans', '/constructor', '/plans/more'])
    expect(ask(url)).toMatchObject({ isServed: false, status: 0 })
  expect(ask('/', { method: 'POST' }).isServed).toBe(false)
  expect(serving({}, { current: () => null }).ask('/').isServed).toBe(false)
})

test('one address is the page’s, and the same with a slash at its end leads to it', () => {
  const { ask } = serving({ documents: [greeting, plans], redirects: [{ from: '/Preise', document: 'plans' }] })
  const leads = (url: string) => [ask(url).status, ask(url).header('location')]
  expect(leads('/plans/')).toEqual([301, '/plans'])
  expect(leads('/plans/?x=/')).toEqual([301, '/plans?x=/'])
  expect(leads('/Preise')).toEqual([301, '/plans'])
  expect(leads('/Pr%65ise/?a')).toEqual([301, '/plans?a'])
})

test('an address of any script is found however a browser encodes it, and written so that any can ask for it', () => {
  const { ask } = serving({ documents: [greeting, plansAt('/Größe/訪問.html')] })
  for (const url of ['/Gr%C3%B6%C3%9Fe/%E8%A8%AA%E5%95%8F.html', '/Gr%c3%b6%C3%9fe/%e8%a8%aa%E5%95%8F.html'])
    expect(ask(url)).toMatchObject({ status: 200, words: 'Plans' })
  expect(ask('/gr%C3%B6%C3%9Fe/%E8%A8%AA%E5%95%8F.html').isServed).toBe(false)
  expect(ask('/Gr%C3%B6%C3%9Fe/%E8%A8%AA%E5%95%8F.html').body?.toString()).toContain(
    'rel="canonical" href="/Gr%C3%B6%C3%9Fe/%E8%A8%AA%E5%95%8F.html"',
  )
  for (const url of ['/%', '/%E8', '/%ff%fe']) expect(ask(url).isServed).toBe(false)
})

test('where the site itself answers no page does, whatever is kept, and it is named', () => {
  for (const path of ['/healthz', '/out', '/report', '/collect', '/media/cello', '/look/site.css']) {
    const release = { documents: [greeting, plansAt(path)], redirects: [{ from: '/consent', document: 'front' }] }
    expect(serving(release).ask(path).isServed).toBe(false)
    expect(serving(release).ask('/consent').isServed).toBe(false)
    expect(compiledWith(release).faults).toEqual([{ id: 'plans', words: `the site itself answers at its address ${path}` }])
  }
})

test('whoever asks for the head alone is told all but the body, and how long that is', () => {
  const { ask } = serving()
  const whole = ask('/')
  const head = ask('/', { method: 'HEAD' })
  expect([head.status, head.body, head.header('content-length')]).toEqual([200, undefined, String(whole.body?.length)])
  const unchanged = ask('/', { headers: { 'if-none-match': whole.header('etag') ?? '' } })
  expect([unchanged.status, unchanged.body, unchanged.header('content-length')]).toEqual([304, undefined, undefined])
})

test('every answer says first what may run: nothing of its own, but for a script that an administrator put on the page', () => {
  const { ask } = serving()
  expect(ask('/').lines.slice(0, 4)).toEqual(securityLines)
  const code = 'window.a = 1'
  const parts = { title: { type: 'heading', props: { words: 'Hello' } }, own: { type: 'script', props: { code } } }
  const scripted = serving({ documents: [frontPage(parts)], scripts: true, approvedScripts: [digestOfScript(code)] }).ask(
    '/',
  ).lines
  expect(scripted.slice(0, 4)).toEqual(['content-security-policy', expect.stringContaining('sha256-'), 'x-frame-options', 'DENY'])
  expect(scripted.filter((line) => line === 'content-security-policy')).toHaveLength(1)
})

test('a version that leads to another page sends its visitors there, with all that stood behind the address', () => {
  const rounds = (to: string) => {
    const route = { id: 'warm', name: 'Warm', edits: [{ kind: 'set' as const, node: 'root' as never, prop: 'route', value: to }] }
    return [{ ...greetingRound('t-1', { node: 'root', arms: all }), versions: [route] }]
  }
  const to = (target: string, url: string) => {
    const { status, header, body } = serving({ documents: [greeting, plans], rounds: rounds(target) }).ask(url)
    return [status, header('location'), header('content-length'), body]
  }
  expect(to('page:plans', '/')).toEqual([302, '/plans', '0', undefined])
  expect(to('page:plans', '/?a=1&b')).toEqual([302, '/plans?a=1&b', '0', undefined])
})

test('an address that has moved leads on, with all that stood behind it', () => {
  const { ask } = serving({ documents: [greeting, plans], redirects: [{ from: '/prices', document: 'plans' }] })
  const moved = ask('/prices?utm_source=letter')
  expect([moved.isServed, moved.status, moved.header('location'), moved.header('content-length'), moved.body]).toEqual([
    ...[true, 301, '/plans?utm_source=letter', '0', undefined],
  ])
  expect(ask('/prices').header('location')).toBe('/plans')
  expect(moved.lines.slice(0, 4)).toEqual(securityLines)
})

test('what was given is written down once, all of one turn of the loop together', async () => {
  const { ask, written } = serving({ rounds: [greetingRound('t-1', { arms: all })] })
  const as = (n: number) => ({ headers: { cookie: `visitor=${String(n).repeat(32)}` } })
  for (const n of [1, 2, 1]) expect(ask('/', as(n)).words).toBe('Welcome')
  await settled()
  expect(written.map((group) => group.length)).toEqual([2])
  const [one, other] = written[0] ?? []
  expect(one).toMatchObject({
    kind: 'assigned',
    crowd: 0,
    at: new Date(NOW),
    visitor: '1'.repeat(32),
    round: 't-1-r1',
    version: 'warm',
  })
  expect(one).toMatchObject({ segments: [], document: 'front' })
  expect([other?.visitor, one?.id === other?.id]).toEqual(['2'.repeat(32), false])
  ask('/', as(1))
  await settled()
  expect(written).toHaveLength(1)
  ask('/', as(3))
  await settled()
  expect(written.map((group) => group.length)).toEqual([2, 1])
})

test('what could not be written is said, shown all the same, and written down at the next view', async () => {
  const written: StampedEvent[][] = []
  let isAway = true
  const { ask, logged } = serving({ rounds: [greetingRound('t-1', { arms: all })] }, {}, (events) => {
    if (isAway) return Promise.reject(new Error('database away'))
    written.push([...events])
    return Promise.resolve()
  })
  const me = { headers: { cookie: `visitor=${'1'.repeat(32)}; kept=` } }
  expect(ask('/', me).status).toBe(200)
  await settled()
  expect([logged.map(String), written]).toEqual([['Error: database away'], []])
  isAway = false
  const kept =
    ask('/', me)
      .lines.find((line) => line.startsWith('kept='))
      ?.split(';')[0] ?? ''
  await settled()
  expect(written.map((group) => group.length)).toEqual([1])
  ask('/', { headers: { cookie: `visitor=${'1'.repeat(32)}; ${kept}` } })
  await settled()
  expect(written).toHaveLength(1)
})

test('who is left out is noted with the reason, and nobody else', () => {
  const { ask, leftOut } = serving()
  ask('/', { headers: { 'user-agent': 'a-search-bot/1.0 (+https://bot.example)' } })
  ask('/')
  expect(leftOut).toEqual(['bot'])
})

test('whoever looks by a link from the studio is answered by that, and left out', () => {
  const seen: string[] = []
  const { ask, leftOut, written } = serving(
    { rounds: [greetingRound('t-1', { arms: all })] },
    { see: ({ headers }, _, { pages }, { document }) => (seen.push(`${document} of ${pages.size}`), headers.cookie === 'look') },
  )
  expect(ask('/', { headers: { cookie: 'look' } })).toMatchObject({ isServed: true, status: 0 })
  expect(ask('/')).toMatchObject({ isServed: true, status: 200 })
  expect([leftOut, seen, written]).toEqual([['looking'], ['front of 1', 'front of 1'], []])
})
