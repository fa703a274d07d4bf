import { createHash } from 'node:crypto'
import type { AddressInfo } from 'node:net'
import { OFREPProvider } from '@openfeature/ofrep-provider'
import { OFREPWebProvider } from '@openfeature/ofrep-web-provider'
import { OpenFeature } from '@openfeature/server-sdk'
import { OpenFeature as WebFeature } from '@openfeature/web-sdk'
import { greetingRound, siteOf } from '../test-site'

const KEY = 'a-key-of-somebody'
const families = { kind: 'attribute', name: 'membership', is: true, value: 'family' }
const release = () => ({
  rounds: [
    greetingRound('t-1'),
    greetingRound('t-2', { audience: { kind: 'device', device: 'phone' } }),
    { ...greetingRound('t-3'), paused: true },
    greetingRound('t-4', { share: 0 }),
    {
      ...greetingRound('t-5', { audience: { kind: 'segment', segment: 'families', fits: true } }),
      segments: [{ id: 'families', name: 'Families', condition: families }],
    },
  ],
  segments: [
    { id: 'families', name: 'Families', condition: families },
    { id: 'near', name: 'Near', condition: { kind: 'region', region: 'XP' } },
  ],
  attributes: [{ name: 'membership', values: ['family'] }],
  reporters: [{ id: 'shop', origin: 'https://shop.example', hash: createHash('sha256').update(KEY).digest('hex') }],
})
let [{ site, written }, address] = [siteOf(null), '']
beforeAll(async () => {
  ;({ site, written } = siteOf(release()))
  await site.listen({ port: 0, host: '127.0.0.1' })
  address = `http://127.0.0.1:${(site.server.address() as AddressInfo).port}`
})
afterAll(async () => {
  await OpenFeature.close()
  await WebFeature.close()
  await site.close()
})

const ask = (path: string, body: unknown, headers: object = {}) =>
  site.inject({
    method: 'POST',
    url: `/ofrep/v1/evaluate/flags${path}`,
    headers: { authorization: `Bearer ${KEY}`, 'content-type': 'application/json', ...headers },
    payload: typeof body === 'string' ? body : JSON.stringify(body),
  })
const about = (targetingKey: unknown, more: object = {}) => ({ context: { targetingKey, ...more } })

describe('the public packages of the standard', () => {
  test('a server resolves a test to a version, always the same for the same visitor', async () => {
    const provider = new OFREPProvider({ baseUrl: address, headers: [['authorization', `Bearer ${KEY}`]] })
    await OpenFeature.setProviderAndWait(provider)
    const client = OpenFeature.getClient()
    const found = await Promise.all([1, 2, 3].map(() => client.getStringDetails('t-1', 'none', { targetingKey: 'nelly' })))
    expect(new Set(found.map(({ value }) => value)).size).toBe(1)
    expect(['original', 'warm']).toContain(found[0]?.value)
    expect(found[0]).toMatchObject({
      reason: 'SPLIT',
      variant: found[0]?.value,
      flagMetadata: { test: 'Greeting', counted: true },
    })
    expect(await client.getStringDetails('t-99', 'none', { targetingKey: 'nelly' })).toMatchObject({
      value: 'none',
      errorCode: 'FLAG_NOT_FOUND',
    })
    expect(await client.getStringDetails('t-1', 'none', {})).toMatchObject({ errorCode: 'TARGETING_KEY_MISSING' })
  })

  test('a page resolves all tests at once', async () => {
    const provider = new OFREPWebProvider({ baseUrl: address, pollInterval: 0, headers: [['authorization', `Bearer ${KEY}`]] })
    await WebFeature.setContext({ targetingKey: 'nelly', device: 'phone' })
    await WebFeature.setProviderAndWait(provider)
    const client = WebFeature.getClient()
    expect(client.getStringDetails('t-2', 'none')).toMatchObject({ reason: 'SPLIT' })
    expect(client.getStringDetails('t-3', 'none')).toMatchObject({ reason: 'DISABLED', value: 'original' })
    expect(client.getStringDetails('t-4', 'none')).toMatchObject({ reason: 'STATIC', value: 'original' })
  })
})

test('asking counts nothing; an exposure that is reported is that of the test’s round', async () => {
  const { value, metadata } = (await ask('/t-1', about('nelly'))).json<{ value: string; metadata: { visitor: string } }>()
  expect(written).toEqual([])
  const report = (body: object) =>
    site.inject({
      method: 'POST',
      url: '/report',
      headers: { authorization: `Bearer ${KEY}`, 'content-type': 'application/json' },
      payload: JSON.stringify(body),
    })
  const seen = { id: 'e-1', kind: 'exposure', visitor: metadata.visitor, test: 't-1', version: value }
  expect((await report(seen)).statusCode).toBe(200)
  expect(written).toMatchObject([{ kind: 'seen', round: 't-1-r1', version: value, visitor: metadata.visitor }])
  for (const wrong of [
    { ...seen, test: 't-9' },
    { ...seen, version: 'constructor' },
    { ...seen, visitor: undefined },
  ])
    expect((await report(wrong)).statusCode).toBe(400)
})

test('whoever had a version keeps it', async () => {
  for (const version of ['original', 'warm'])
    expect((await ask('/t-1', about('nelly', { kept: { 't-1': version } }))).json()).toMatchObject({ value: version })
})

test('a segment is a flag of its own: true for whom it fits, by the context', async () => {
  const provider = new OFREPProvider({ baseUrl: address, headers: [['authorization', `Bearer ${KEY}`]] })
  await OpenFeature.setProviderAndWait(provider)
  const client = OpenFeature.getClient()
  const near = (region: string) => client.getBooleanDetails('near', false, { targetingKey: 'nelly', region })
  expect(await near('XP-HA')).toMatchObject({ value: true, variant: 'in', reason: 'TARGETING_MATCH' })
  expect(await near('FR-75')).toMatchObject({ value: false, variant: 'out', reason: 'STATIC' })
  const { flags } = (await ask('', about('nelly', { membership: 'family' }))).json<{ flags: { key: string; value: unknown }[] }>()
  expect(flags.filter(({ value }) => typeof value === 'boolean')).toMatchObject([
    { key: 'families', value: true },
    { key: 'near', value: false },
  ])
})

test('a segment is asked by what the context says, of what may be said', async () => {
  const reason = async (more: object) => (await ask('/t-5', about('nelly', more))).json<{ reason: string }>().reason
  expect([await reason({ membership: 'family' }), await reason({ membership: 'gold' }), await reason({})]).toEqual([
    'SPLIT',
    'STATIC',
    'STATIC',
  ])
})

test('nothing is sent again that is known', async () => {
  const first = await ask('', about('nelly'))
  const etag = String(first.headers.etag)
  expect((await ask('', about('nelly'), { 'if-none-match': etag })).statusCode).toBe(304)
  for (const known of [`"other", ${String(etag)}`, `W/${String(etag)}`, '*'])
    expect((await ask('', about('nelly'), { 'if-none-match': known })).statusCode).toBe(304)
  expect((await ask('', about('nelly'))).headers['access-control-expose-headers']).toBe('etag, retry-after')
  expect((await ask('', about('nelly', { device: 'phone' }), { 'if-none-match': etag })).statusCode).toBe(200)
})

test('what cannot be meant costs the conditions that ask for it, and nothing else', async () => {
  const odd = { device: 'toaster', visits: 0, utm_source: 'x'.repeat(400), referrer: '\ud83d', kept: { 't-1': 'warm', x: 1 } }
  const answer = await ask('', about('nelly', { ...odd, membership: 'family' }))
  const { flags } = answer.json<{ flags: { key: string; value: unknown; reason: string; metadata: object }[] }>()
  expect(flags).toMatchObject([
    { key: 't-1', value: 'warm', reason: 'SPLIT', metadata: { passedOver: 'device, visits, utm_source, referrer, kept.x' } },
    { key: 't-2', value: 'original', reason: 'STATIC' },
    { key: 't-3' },
    { key: 't-4' },
    { key: 't-5', reason: 'SPLIT' },
    { key: 'families', value: true },
    { key: 'near', value: false },
  ])
})

test.each<[string, unknown, object, number, string]>([
  ['no key', about('nelly'), { authorization: '' }, 401, ''],
  ['another key', about('nelly'), { authorization: 'Bearer constructor' }, 401, ''],
  ['another origin', about('nelly'), { origin: 'https://elsewhere.example' }, 401, ''],
  ['no JSON', '{', {}, 400, 'PARSE_ERROR'],
  ['a list', [], {}, 400, 'PARSE_ERROR'],
  ['no visitor', { context: {} }, {}, 400, 'TARGETING_KEY_MISSING'],
  ['a visitor that is a list', about(['nelly']), {}, 400, 'INVALID_CONTEXT'],
  ['a context that is a list', { context: [] }, {}, 400, 'INVALID_CONTEXT'],
  ['half a character', about('\ud83d'), {}, 400, 'INVALID_CONTEXT'],
])('with %s it says what is wrong', async (_, body, headers, status, errorCode) => {
  const answer = await ask('/t-1', body, headers)
  expect([answer.statusCode, answer.json<{ errorCode?: string }>().errorCode ?? '']).toEqual([status, errorCode])
})
