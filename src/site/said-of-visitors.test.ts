import { greetingRules, saying, siteOf } from './test-site'

const family = { kind: 'attribute', name: 'membership', is: true, value: 'family' }
const membership = { name: 'membership', values: ['player', 'family'] }

function siteSaying(attributes: readonly object[] = [membership, { name: 'signed-in', values: ['yes'] }]) {
  const rules = greetingRules({ version: saying('Welcome back'), condition: family })
  const { post, heading } = siteOf({ personalizations: [rules], attributes })
  return {
    say: (payload: string, cookie: string, headers: Record<string, string> = {}) =>
      post('/visitor', payload, { cookie, ...headers }),
    shown: (cookie: string) => heading({ cookie }),
  }
}
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
