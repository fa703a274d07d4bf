import { documentSchema } from '@/core/document'
import { roundSchema } from '@/core/experiment'
import { releaseSchema } from '@/core/release'
import { compile } from '../compile/compile'
import { makeSite } from '../site'
import type { Look } from './looks'

const page = documentSchema.parse({
  id: 'front',
  kind: 'page',
  root: 'root',
  nodes: {
    root: { type: 'page', props: { title: 'Front', path: '/' }, children: ['main'] },
    main: { type: 'mainPart', props: {}, children: ['part'] },
    part: { type: 'section', props: {}, children: ['title', 'form'] },
    title: { type: 'heading', props: { words: 'Hello' }, children: [] },
    form: { type: 'form', props: { next: 'page:front' }, children: ['field'] },
    field: { type: 'formField', props: { label: 'Your name', name: 'name' }, children: [] },
  },
})
const draft = roundSchema.parse({
  id: 't-1-r0',
  test: 't-1',
  number: 1,
  design: {
    name: 'The <b>greeting</b>',
    problem: '',
    change: '',
    expected: '',
    document: 'front',
    node: 'title',
    arms: ['original', 'warm', 'cold'].map((version) => ({ version, weight: version === 'original' ? 3334 : 3333 })),
    share: 10_000,
    primary: null,
    watched: [],
    smallestEffect: 0.05,
  },
  versions: ['warm', 'cold'].map((id) => ({
    id,
    name: id,
    edits: [{ kind: 'set', node: 'title', prop: 'words', value: `${id} welcome` }],
  })),
  goals: [],
  salt: 't-1',
  plannedTotal: 100,
})
const compiled = compile(releaseSchema.parse({ documents: [page], rounds: [], personalizations: [], goals: [] }), {
  script: '',
  style: '',
})
const KEY = 'a'.repeat(22)
const now = 1_700_000_000_000

function siteWith(look: Look | null = { tests: [draft.test], rounds: [draft], until: new Date(now + 3_600_000) }) {
  const [events, entries]: [unknown[], unknown[]] = [[], []]
  const opened: string[] = []
  const site = makeSite({
    current: () => compiled,
    assets: new Map(),
    media: new Map(),
    writeEvents: (more) => Promise.resolve(void events.push(...more)),
    keepEntry: (entry) => Promise.resolve(void entries.push(entry)),
    now: () => now,
    log: () => undefined,
    openLook: (key) => Promise.resolve((opened.push(key), key === KEY ? look : null)),
  })
  const looking = { cookie: `see=${KEY}`, 'user-agent': 'Mozilla/5.0 (X11; Linux) Chrome/140' }
  const get = (url: string, cookie: string = looking.cookie) => site.inject({ url, headers: { ...looking, cookie } })
  return { site, events, entries, opened, get, looking }
}
const words = (body: string) => /<h2[^>]*>([^<]*)</.exec(body)?.[1]
const cookiesOf = (headers: Record<string, unknown>) => [headers['set-cookie']].flat().filter(Boolean).join(' | ')

test('a link shows what is not live yet, with all its versions to choose from, and others see nothing of it', async () => {
  const { get } = siteWith()
  const begun = await get(`/see/${KEY}?to=/`, '')
  expect([begun.statusCode, begun.headers.location, cookiesOf(begun.headers)]).toEqual([
    302,
    '/',
    expect.stringContaining(`see=${KEY}; Max-Age=3600`),
  ])
  const seen = await get('/')
  expect([words(seen.body), seen.headers['cache-control']]).toEqual(['warm welcome', 'private, no-store'])
  expect(seen.body).toContain('The &lt;b&gt;greeting&lt;/b&gt;</b> <i>not live yet</i>')
  const chosen = await get('/see/choose?test=t-1&version=cold&back=/')
  expect(cookiesOf(chosen.headers)).toContain('seen=t-1~cold')
  expect(words((await get('/', `see=${KEY}; seen=t-1~cold`)).body)).toBe('cold welcome')
  expect(words((await get('/', `see=${KEY}; seen=t-1~original`)).body)).toBe('Hello')
  const other = await get('/', '')
  expect([words(other.body), other.body.includes('class="seeing"')]).toEqual(['Hello', false])
})

test('nothing that is done while looking is counted or sent', async () => {
  const { site, get, events, entries, looking } = siteWith()
  const seen = await get('/')
  expect(cookiesOf(seen.headers)).toBe('')
  const cookie = `${looking.cookie}; visitor=${'1'.repeat(32)}`
  const report = { d: 'front', e: [{ i: 'a'.repeat(32), k: 'page' }] }
  const told = await site.inject({
    method: 'POST',
    url: '/collect',
    headers: { ...looking, cookie, 'content-type': 'text/plain' },
    payload: JSON.stringify(report),
  })
  const sent = await site.inject({
    method: 'POST',
    url: '/forms/front/form',
    headers: { ...looking, cookie, 'content-type': 'application/x-www-form-urlencoded' },
    payload: 'name=Nelly',
  })
  expect([told.statusCode, sent.statusCode, sent.body.includes('was not sent')]).toEqual([204, 200, true])
  expect([events, entries]).toEqual([[], []])
})

test('as a new visitor one is drawn like one', async () => {
  const { get } = siteWith()
  const drawn = new Set<string>()
  for (let at = 0; at < 60; at++)
    drawn.add(/t-1~(\w+)/.exec(cookiesOf((await get('/see/choose?as=newcomer&back=/')).headers))?.[1] ?? '')
  expect([...drawn].sort()).toEqual(['cold', 'original', 'warm'])
})

test('a link that is over is said to be, and leaves the page as everybody gets it', async () => {
  const { get, opened } = siteWith(null)
  expect((await get(`/see/${KEY}?to=/`, '')).statusCode).toBe(404)
  const back = await get('/?utm_source=mail')
  expect([back.statusCode, back.headers.location, cookiesOf(back.headers)]).toEqual([
    302,
    '/?utm_source=mail',
    expect.stringContaining('see=; Max-Age=0'),
  ])
  await get('/', 'see=constructor')
  await get('/', `see=${'x'.repeat(4000)}`)
  expect(opened).toEqual([KEY])
})

test.each(['//elsewhere.example', '/\\elsewhere.example', 'https://elsewhere.example', '/see/stop', '/a\r\nset-cookie: x=1', ''])(
  'nobody is sent to %j by it',
  async (to) => {
    const { get } = siteWith()
    const begun = await get(`/see/${KEY}?to=${encodeURIComponent(to)}`, '')
    expect([begun.statusCode, begun.headers.location]).toEqual([302, '/'])
  },
)
