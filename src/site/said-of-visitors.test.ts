import { documentSchema } from '@/core/document'
import { releaseSchema } from '@/core/release'
import { compile } from './compile/compile'
import { makeSite } from './site'

const page = documentSchema.parse({
  id: 'front',
  kind: 'page',
  root: 'root',
  nodes: {
    root: { type: 'page', props: { title: 'Front', path: '/' }, children: ['main'] },
    main: { type: 'mainPart', props: {}, children: ['part'] },
    part: { type: 'section', props: {}, children: ['title'] },
    title: { type: 'heading', props: { words: 'Hello' }, children: [] },
  },
})
const family = { kind: 'attribute', name: 'membership', is: true, value: 'family' }
const rule = {
  version: { id: 'warm', name: 'Warm', edits: [{ kind: 'set', node: 'title', prop: 'words', value: 'Welcome back' }] },
  condition: family,
}
const membership = { name: 'membership', values: ['player', 'family'] }

function siteSaying(attributes: readonly object[] = [membership, { name: 'signed-in', values: ['yes'] }]) {
  const compiled = compile(
    releaseSchema.parse({
      documents: [page],
      rounds: [],
      personalizations: [{ id: 'front.title', document: 'front', node: 'title', rules: [rule], holdout: 0 }],
      goals: [],
      attributes,
      letterKey: 'ab'.repeat(32),
    }),
    { script: '', style: '' },
  )
  const site = makeSite({
    current: () => compiled,
    assets: new Map(),
    media: new Map(),
    writeEvents: () => Promise.resolve(),
    keepEntry: () => Promise.resolve(),
    now: () => 1_700_000_000_000,
    log: () => undefined,
  })
  const say = (payload: string, cookie: string, headers: Record<string, string> = {}) =>
    site.inject({
      method: 'POST',
      url: '/visitor',
      payload,
      headers: { 'content-type': 'text/plain', 'user-agent': agent, cookie, ...headers },
    })
  const shown = async (cookie: string) => {
    const { body } = await site.inject({ url: '/', headers: { 'user-agent': agent, cookie } })
    return /<h\d[^>]*>([^<]*)/.exec(body)?.[1]
  }
  return { say, shown }
}
const agent = 'Mozilla/5.0 (X11; Linux) Chrome/140'
const [me, other] = ['1', '2'].map((digit) => `visitor=${digit.repeat(32)}`) as [string, string]
const cookieOf = (answer: { readonly cookies: readonly { readonly name: string; readonly value: string }[] }) =>
  answer.cookies.map(({ name, value }) => `${name}=${value}`).join('; ')

test('what the site says of a visitor decides from the next page on, for nobody else, until it is taken back', async () => {
  const { say, shown } = siteSaying()
  const about = cookieOf(await say('{"membership":"family"}', me))
  expect([await shown(me), await shown(`${me}; ${about}`), await shown(`${other}; ${about}`)]).toEqual([
    'Hello',
    'Welcome back',
    'Hello',
  ])
  const more = cookieOf(await say('{"signed-in":"yes"}', `${me}; ${about}`))
  expect(more).toContain('membership~family.signed-in~yes.')
  const back = cookieOf(await say('{"membership":null}', `${me}; ${more}`))
  expect([back.includes('signed-in~yes.'), await shown(`${me}; ${back}`)]).toEqual([true, 'Hello'])
})

test('what nobody may say any more is passed over', async () => {
  const about = cookieOf(await siteSaying().say('{"membership":"family"}', me))
  expect(await siteSaying([{ name: 'membership', values: ['player'] }]).shown(`${me}; ${about}`)).toBe('Hello')
  expect(await siteSaying([membership]).shown(`${me}; ${about.replace('family', 'player')}`)).toBe('Hello')
})

test.each([
  ['{"age":"12"}', 400, 'age: the settings list no such attribute'],
  ['{"constructor":"x"}', 400, 'constructor: the settings list no such attribute'],
  ['{"membership":"gold"}', 400, 'membership: one of player, family, or null'],
  ['{"membership":7}', 400, 'Send an object in JSON'],
  ['[', 400, 'Send an object in JSON'],
  [JSON.stringify({ membership: 'x'.repeat(5000) }), 413, ''],
])('%.40s is refused plainly', async (payload, status, words) => {
  const answer = await siteSaying().say(payload, me)
  expect([answer.statusCode, answer.headers['set-cookie']]).toEqual([status, undefined])
  expect(answer.body).toContain(words)
})

test('another site may not say it, and nothing is kept of whoever is left out or unknown', async () => {
  const { say } = siteSaying()
  expect((await say('{"membership":"family"}', me, { origin: 'https://elsewhere.example' })).statusCode).toBe(403)
  for (const [cookie, headers] of [
    ['', {}],
    [me, { 'sec-gpc': '1' }],
    [me, { 'user-agent': 'Googlebot/2.1 (+http://www.google.com/bot.html)' }],
  ] as const) {
    const { statusCode, headers: answered } = await say('{"membership":"family"}', cookie, headers)
    expect([statusCode, answered['set-cookie']]).toEqual([204, undefined])
  }
})
