import { greetingRound, greetingRules, saying, siteOf } from './test-site'

const allWarm = [
  { version: 'original', weight: 0 },
  { version: 'warm', weight: 10_000 },
]
const consent = { asked: true, words: 'May <we>?', yes: 'Yes', no: 'No' }
const phones = greetingRules({ version: saying('Welcome'), condition: { kind: 'device', device: 'phone' } })

function siteWith(parts: object = { rounds: [greetingRound('t-1', { arms: allWarm })] }) {
  const { site, get, post, written } = siteOf({ consent, ...parts })
  return {
    site,
    get: (headers: Record<string, string> = {}) => get('/', headers),
    say: (payload: string, headers: Record<string, string> = {}) =>
      post('/consent', payload, { 'content-type': 'application/x-www-form-urlencoded', ...headers }),
    written,
  }
}
const words = (body: string) => /<h2[^>]*>([^<]*)</.exec(body)?.[1]
const asks = (body: string) => body.includes('class="consent"')

test('before a visitor has agreed nothing is stored, nothing is counted, and the original is shown', async () => {
  const { site, get, written } = siteWith()
  const { body, headers } = await get()
  expect([words(body), asks(body), headers['set-cookie']]).toEqual(['Hello', true, undefined])
  expect(body).toContain('May &lt;we&gt;?')
  await site.inject({
    method: 'POST',
    url: '/collect',
    headers: { 'content-type': 'text/plain', cookie: `visitor=${'1'.repeat(32)}` },
    payload: '{"d":"front","e":[]}',
  })
  expect(written).toEqual([])
})

test('who agrees takes part from then on; who does not is not asked again, and what was kept goes', async () => {
  const { get, say } = siteWith()
  const agreed = await say('answer=yes&back=%2F')
  expect([agreed.statusCode, agreed.headers.location, String(agreed.headers['set-cookie'])]).toEqual([
    303,
    '/',
    expect.stringContaining('consent=yes'),
  ])
  const after = await get({ cookie: 'consent=yes' })
  expect([words(after.body), asks(after.body), String(after.headers['set-cookie'])]).toEqual([
    'Welcome',
    false,
    expect.stringContaining('kept=t-1~warm'),
  ])
  const refused = await say('answer=no&back=%2F')
  expect(String(refused.headers['set-cookie'])).toMatch(/consent=no.*visitor=; Max-Age=0.*kept=; Max-Age=0/)
  const without = await get({ cookie: 'consent=no' })
  expect([words(without.body), asks(without.body), without.headers['set-cookie']]).toEqual(['Hello', false, undefined])
})

test('a rule that asks for nothing that has to be kept holds all the same', async () => {
  const { get } = siteWith({ personalizations: [phones] })
  const phone = { 'user-agent': 'Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) Mobile/15E148' }
  const [seen, other] = [await get(phone), await get()]
  expect([words(seen.body), words(other.body), seen.headers['set-cookie']]).toEqual(['Welcome', 'Hello', undefined])
})

test('whose browser asks not to be followed is not asked either, and nobody is asked where the site does not', async () => {
  expect(asks((await siteWith().get({ 'sec-gpc': '1' })).body)).toBe(false)
  expect(asks((await siteWith({ consent: { asked: false } }).get()).body)).toBe(false)
})

test.each([
  ['answer=maybe&back=%2F', {}, 400],
  ['', {}, 400],
  ['answer=yes&back=%2F', { origin: 'https://elsewhere.example' }, 403],
  ['answer=yes&back=%2F%2Felsewhere.example', {}, 303],
  [`answer=yes&back=%2F${'a'.repeat(5000)}`, {}, 303],
  ['answer=yes&back=%2F%0d%0aset-cookie:x', {}, 303],
])('%s is answered as it should be', async (payload, headers, status) => {
  const { say } = siteWith()
  const answer = await say(payload, headers)
  expect([answer.statusCode, answer.headers.location ?? '/']).toEqual([status, '/'])
})

test('anybody can change their mind', async () => {
  const { site } = siteWith()
  const { statusCode, body } = await site.inject({ url: '/consent' })
  expect([statusCode, asks(body)]).toEqual([200, true])
})
