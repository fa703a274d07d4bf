import { createHash } from 'node:crypto'
import SwaggerParser from '@apidevtools/swagger-parser'
import Ajv2020 from 'ajv/dist/2020'
import addFormats from 'ajv-formats'
import { CloudEvent, HTTP, type Message } from 'cloudevents'
import { releaseSchema } from '@/core/release'
import type { StampedEvent } from '@/core/events'
import { compile } from '../compile/compile'
import { makeSite } from '../site'

/*
 * What is sent from elsewhere, by programs that are not this one's: the client of the CloudEvents project, a validator of
 * OpenAPI documents, and one of JSON Schema.
 */
const key = 'sk_of_the_shop'
const release = releaseSchema.parse({
  documents: [],
  rounds: [],
  personalizations: [],
  goals: [],
  reporters: [{ id: 'k', origin: 'https://shop.example', hash: createHash('sha256').update(key).digest('hex') }],
})

function siteWith() {
  const written: StampedEvent[] = []
  const site = makeSite({
    current: () => compile(release, { script: '', style: '' }),
    assets: new Map(),
    media: new Map(),
    writeEvents: (events) => Promise.resolve(void written.push(...events)),
    keepEntry: () => Promise.resolve(),
    now: () => Date.parse('2026-03-02T10:00:00Z'),
    log: () => undefined,
    origin: 'https://music.example',
  })
  const post = (headers: object, payload?: string) =>
    site.inject({
      method: 'POST',
      url: '/report',
      headers: { authorization: `bearer ${key}`, ...headers },
      payload: payload ?? '',
    })
  /** A message as the client makes it. */
  const send = ({ headers, body }: Message) => post(headers, body as string)
  return { site, written, post, send }
}

const visitor = 'a'.repeat(32)
const order = () =>
  new CloudEvent({
    id: 'ö 1',
    source: '/shop',
    type: 'order',
    subject: visitor,
    time: '2026-03-01T09:00:00Z',
    data: { order: 'P-1', value: 24 },
  })

describe('a CloudEvent from the client of its standard', () => {
  test.each([
    ['structured', HTTP.structured],
    ['binary', HTTP.binary],
  ])('is taken in the %s mode, the same in each', async (_, mode) => {
    const { send, written } = siteWith()
    const answer = await send(mode(order()))
    expect([answer.statusCode, answer.json()]).toEqual([200, { kept: ['ö 1'], refused: [] }])
    await send(HTTP.structured(order()))
    expect(written).toMatchObject([{ kind: 'order', order: 'P-1', value: 24, visitor, at: new Date('2026-03-01T09:00:00Z') }, {}])
    expect(written[0]?.id).toBe(written[1]?.id)
  })

  test('is taken without data, with null for data, and with JSON in base64', async () => {
    const { post, send, written } = siteWith()
    const played = { id: '1', source: '/shop', type: 'played', time: '2026-03-01T09:00:00Z' }
    const bare = await send(HTTP.binary(new CloudEvent(played)))
    const structured = (more: object) =>
      post({ 'content-type': 'application/cloudevents+json' }, JSON.stringify({ specversion: '1.0', ...played, ...more }))
    const nothing = await structured({ id: '2', data: null })
    const packed = await structured({
      id: '3',
      type: 'order',
      data_base64: Buffer.from('{"order":"P-2","value":5}').toString('base64'),
    })
    expect([bare, nothing, packed].map(({ statusCode }) => statusCode)).toEqual([200, 200, 200])
    expect(written).toMatchObject([{ name: 'played' }, { name: 'played' }, { kind: 'order', order: 'P-2', value: 5 }])
    const both = await structured({ id: '4', data: {}, data_base64: 'e30=' })
    expect([both.statusCode, both.json()]).toMatchObject([400, { refused: [{ field: 'data_base64' }] }])
    const picture = await structured({ id: '5', data_base64: Buffer.from([0xff, 0xd8]).toString('base64') })
    expect(picture.json()).toMatchObject({ refused: [{ field: 'data', fault: 'it is said to be JSON and is none' }] })
  })

  test.each<[string, string | undefined, string]>([
    ['facts', 'application/json', '{"order":"P-1","value":5}'],
    ['facts of another type', 'application/vnd.shop+json; charset=utf-8', '{"order":"P-1","value":5}'],
    ['facts whose type is not said', undefined, '{"order":"P-1","value":5}'],
    ['a fact of the wrong kind', 'application/json', '{"order":"P-1","value":"5"}'],
    ['a number below zero', 'application/json', '{"order":"P-1","value":-5}'],
    ['another currency', 'application/json', '{"order":"P-1","value":5,"currency":"XXX"}'],
    ['a list', 'application/json', '[1]'],
    ['null', 'application/json', 'null'],
    ['nothing', 'application/json', ''],
    ['what is no JSON', 'application/json', '{"order":'],
    ['half a character', 'application/json', '{"order":"\\ud83d","value":5}'],
    ['words', 'text/plain', 'P-1'],
    ['a picture', 'image/png', '\u0089PNG'],
  ])('that brings %s is judged alike in each mode', async (_, type, body) => {
    for (const kind of ['order', 'played']) {
      const attributes = { specversion: '1.0', id: kind, source: '/shop', type: kind, time: '2026-03-01T09:00:00Z' }
      const headers = Object.fromEntries(Object.entries(attributes).map(([name, value]) => [`ce-${name}`, value]))
      const [binary, structured] = [siteWith(), siteWith()]
      const said = type === undefined ? {} : { 'content-type': type }
      const one = await binary.post({ ...headers, ...said, 'ce-data': '{"value":9}', 'ce-datacontenttype': 'x/y' }, body)
      const event = {
        ...attributes,
        ...(type === undefined ? {} : { datacontenttype: type }),
        ...(body === '' ? {} : { data_base64: Buffer.from(body).toString('base64') }),
      }
      const other = await structured.post({ 'content-type': 'application/cloudevents+json', 'ce-id': 'x' }, JSON.stringify(event))
      expect([one.statusCode, one.json()]).toEqual([other.statusCode, other.json()])
      expect(binary.written).toEqual(structured.written)
    }
  })

  test('is one by its source and its id, however long they are', async () => {
    const { send, written } = siteWith()
    const long = 'x'.repeat(300)
    for (const [source, id] of [
      [`/${long}`, '1'],
      [`/${long}`, '2'],
      ['/other', `${long}1`],
      ['/other', `${long}2`],
      ['/a b', 'c'],
      ['/a', 'b c'],
    ] as const)
      await send(HTTP.structured(new CloudEvent({ id, source, type: 'played', time: '2026-03-01T09:00:00Z' }, false)))
    expect(new Set(written.map(({ id }) => id)).size).toBe(6)
  })
})

test('what is packed, too much, or by an unknown name is refused as it says', async () => {
  const { post } = siteWith()
  const json = { 'content-type': 'application/json' }
  const packed = await post({ ...json, 'content-encoding': 'gzip' }, '{}')
  expect([packed.statusCode, packed.headers['accept-encoding']]).toEqual([415, 'identity'])
  expect((await post(json, `"${'x'.repeat(1_100_000)}"`)).statusCode).toBe(413)
  expect((await post({ 'content-type': 'text/html' }, 'x')).statusCode).toBe(415)
})

interface Described {
  readonly servers: readonly { url: string }[]
  readonly components: { readonly schemas: Record<string, object> }
}

test('the interface is described as OpenAPI wants it, by its own address, whoever asks', async () => {
  const { site } = siteWith()
  const asked = await site.inject({ url: '/report/openapi.json', headers: { host: 'elsewhere.example' } })
  const described: Described = asked.json()
  await SwaggerParser.validate(asked.json())
  expect(described.servers).toEqual([{ url: 'https://music.example' }])
})

test('what the described schemas let pass is taken, and what they do not is refused', async () => {
  const { site, post } = siteWith()
  const { components }: Described = (await site.inject({ url: '/report/openapi.json' })).json()
  const ajv = new Ajv2020({ strict: true })
  addFormats(ajv)
  const report = { id: 'r', kind: 'event', name: 'played' }
  const cloud = { specversion: '1.0', id: 'c', source: '/s', type: 'played' }
  for (const [name, type, values] of [
    [
      'Report',
      'application/json',
      [
        report,
        { ...report, value: -1 },
        { ...report, name: '' },
        { ...report, more: 1 },
        { id: 'r', kind: 'order', order: 'A-1', value: 3 },
        { id: 'r', kind: 'order', value: 3 },
        { id: 'r', kind: 'order', order: 'A 1', value: 3 },
        { ...report, at: 'yesterday' },
        { ...report, visitor: 'x' },
      ],
    ],
    [
      'CloudEvent',
      'application/cloudevents+json',
      [
        cloud,
        { ...cloud, data: null },
        { ...cloud, data: [1] },
        { ...cloud, specversion: '0.3' },
        { ...cloud, source: 4 },
        { ...cloud, more: 1 },
      ],
    ],
  ] as const) {
    const check = ajv.compile(components.schemas[name] ?? {})
    for (const value of values) {
      const { statusCode } = await post({ 'content-type': type }, JSON.stringify(value))
      expect([value, statusCode]).toEqual([value, check(value) ? 200 : 400])
    }
  }
})
