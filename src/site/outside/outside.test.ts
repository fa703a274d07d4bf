import { createHash } from 'node:crypto'
import { releaseSchema } from '@/core/release'
import type { StampedEvent } from '@/core/events'
import { compile } from '../compile/compile'
import { makeSite } from '../site'

const key = 'sk_of_the_shop'
const shop = 'https://shop.example'
const now = Date.parse('2026-03-02T10:00:00Z')
const release = releaseSchema.parse({
  documents: [],
  rounds: [],
  personalizations: [],
  goals: [],
  reporters: [{ id: 'k', origin: shop, hash: createHash('sha256').update(key).digest('hex') }],
})
const compiled = compile(release, { script: '', style: '' })

function siteWith(write: (events: readonly StampedEvent[]) => Promise<void> = () => Promise.resolve()) {
  const written: StampedEvent[] = []
  const site = makeSite({
    current: () => compiled,
    assets: new Map(),
    media: new Map(),
    writeEvents: async (events) => {
      await write(events)
      written.push(...events)
    },
    keepEntry: () => Promise.resolve(),
    now: () => now,
    log: () => undefined,
  })
  const report = (body: unknown, headers: object = {}) =>
    site.inject({
      method: 'POST',
      url: '/report',
      headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json', ...headers },
      payload: typeof body === 'string' ? body : JSON.stringify(body),
    })
  return { site, written, report }
}

const visitor = 'a'.repeat(32)
const order = { id: 'one', kind: 'order', order: 'P-1', value: 24, visitor, at: '2026-03-01T09:00:00Z' }

test('an order is kept with its own moment, for the visitor it names', async () => {
  const { report, written } = siteWith()
  const answer = await report(order)
  expect([answer.statusCode, answer.json()]).toEqual([200, { kept: ['one'], refused: [] }])
  expect(written).toMatchObject([{ kind: 'order', order: 'P-1', value: 24, visitor, at: new Date('2026-03-01T09:00:00Z') }])
})

test('the same order has the same id, however and however often it is sent', async () => {
  const { report, written } = siteWith()
  await report(order)
  await report({ ...order, id: 'two' })
  const cloud = {
    specversion: '1.0',
    id: '3',
    source: '/shop',
    type: 'order',
    subject: visitor,
    data: { order: 'P-1', value: 24 },
  }
  await report(cloud, { 'content-type': 'application/cloudevents+json' })
  await report([cloud], { 'content-type': 'application/cloudevents-batch+json; charset=utf-8' })
  expect(written).toHaveLength(4)
  expect(new Set(written.map(({ id }) => id)).size).toBe(1)
})

test('of many the good ones are kept and named, the others refused with their place', async () => {
  const { report, written } = siteWith()
  const lines = [
    JSON.stringify(order),
    '{',
    JSON.stringify({ ...order, id: 'x', value: -1 }),
    '',
    JSON.stringify({ ...order, id: 'y', at: '2027-01-01T00:00:00Z' }),
  ]
  const answer = await report(lines.join('\n'), { 'content-type': 'application/x-ndjson' })
  expect([answer.statusCode, written.length]).toEqual([400, 1])
  expect(answer.json()).toMatchObject({
    kept: ['one'],
    refused: [
      { place: 2, fault: 'this line is no JSON' },
      { place: 3, field: 'value' },
      { place: 5, field: 'at' },
    ],
  })
})

test.each<[string, unknown, object, number]>([
  ['no key', order, { authorization: '' }, 401],
  ['a key that is not listed', order, { authorization: 'Bearer other' }, 401],
  ['a key from another origin', order, { origin: 'https://elsewhere.example' }, 403],
  ['a form that is not taken', order, { 'content-type': 'text/html' }, 415],
  ['no JSON at all', 'nothing', {}, 400],
  ['an empty list', [], {}, 400],
  ['another currency', { ...order, currency: 'JPY' }, {}, 400],
])('%s is refused, and nothing is written', async (_, body, headers, status) => {
  const { report, written } = siteWith()
  expect([(await report(body, headers)).statusCode, written]).toEqual([status, []])
})

test('only origins with a key may ask from a browser', async () => {
  const { site } = siteWith()
  const asked = async (origin: string) =>
    (await site.inject({ method: 'OPTIONS', url: '/report', headers: { origin } })).headers['access-control-allow-origin']
  expect([await asked(shop), await asked('https://shop.example.evil'), await asked('null')]).toEqual([shop, undefined, undefined])
})

test('when nothing can be written, the sender is asked to send again', async () => {
  const { report } = siteWith(() => Promise.reject(new Error('database away')))
  const answer = await report(order)
  expect([answer.statusCode, answer.headers['retry-after']]).toEqual([503, '5'])
})

test('a picture counts an event, and visitors are handed on to listed origins only', async () => {
  const { site, written } = siteWith()
  const picture = await site.inject({ url: `/report/image?key=${key}&event=played` })
  expect([picture.headers['content-type'], written]).toMatchObject(['image/gif', [{ kind: 'event', name: 'played' }]])
  const out = (to: string) => site.inject({ url: `/out?to=${encodeURIComponent(to)}`, headers: { cookie: `visitor=${visitor}` } })
  expect((await out(`${shop}/a?b=1`)).headers.location).toBe(`${shop}/a?b=1&sprig=${visitor}`)
  expect((await out('https://elsewhere.example/')).statusCode).toBe(400)
})

test('every operation that is described is there', async () => {
  const { site } = siteWith()
  const described: { openapi: string; paths: Record<string, Record<string, unknown>> } = (
    await site.inject({ url: '/report/openapi.json' })
  ).json()
  expect(described.openapi).toBe('3.1.0')
  for (const [url, methods] of Object.entries(described.paths))
    for (const method of Object.keys(methods))
      expect((await site.inject({ method: method.toUpperCase() as 'GET', url })).statusCode).not.toBe(404)
})
