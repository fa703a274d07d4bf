import { columnsOf, eventKinds, happeningOf, reportSchema, stamp, type Happening } from '.'
import { noUtm } from '../decide'
import type { DocumentId, NodeId, RoundId, VersionId } from '../ids'

const document = 'plans' as DocumentId
const nodes = ['go', 'part'] as NodeId[]
const taking = { round: 't-1-r1' as RoundId, version: 'v-1' as VersionId }

/** One of each kind: a kind that is not here does not compile. */
const each: { readonly [Kind in Happening['kind']]: Extract<Happening, { kind: Kind }> } = {
  assigned: { kind: 'assigned', ...taking, segments: ['0123456789abcdef+'] },
  seen: { kind: 'seen', ...taking },
  page: {
    kind: 'page',
    document,
    path: '/plans',
    pageType: 'Plans',
    arrival: { source: 'straight', device: 'phone', region: 'XP-FE' },
  },
  call: { kind: 'call', document, call: 'hold-it' as DocumentId },
  click: { kind: 'click', document, nodes, markers: ['reserve'] },
  form: { kind: 'form', document, nodes },
  outbound: { kind: 'outbound', document, address: 'https://guild.example/' },
  read: { kind: 'read', document, node: 'go' as NodeId },
  speed: { kind: 'speed', document, paint: 1200, response: null, shift: 0.02 },
  stay: { kind: 'stay', document, seconds: 30 },
  order: { kind: 'order', order: 'A-1', value: -12.5 },
  event: { kind: 'event', name: 'played', value: null },
  letter: { kind: 'letter', call: 'hold-it' as DocumentId, letter: 3, recipient: 'r', did: 'followed' },
}

test.each(eventKinds)('an event of the kind “%s” is the same after it was kept in a row', (kind) => {
  const row = { kind, ...(JSON.parse(JSON.stringify(columnsOf(each[kind]))) as object) }
  expect(happeningOf(row)).toEqual(each[kind])
})

test('of a chain that is too long to be kept, the nearest stay', () => {
  const long = Array.from({ length: 40 }, (_, at) => `node-${String(at).padStart(20, '0')}` as NodeId)
  const kept = happeningOf({ kind: 'form', ...columnsOf({ kind: 'form', document, nodes: long }) })
  expect(kept).toMatchObject({ nodes: long.slice(0, 19) })
})

test.each([
  ['nothing', undefined],
  ['a kind that nobody knows', { kind: 'hover' }],
  ['a name that every object has', { kind: 'constructor' }],
  ['a row without what its kind keeps', { kind: 'stay', document_id: 'plans', about: null }],
])('%s cannot be read, and says so', (_, row) => {
  expect(happeningOf(row)).toBeNull()
})

test('what a page reports is told apart by its short names, and carries what only the server knows', () => {
  const id = '0'.repeat(32)
  const report = reportSchema.parse({
    d: 'plans',
    e: [
      { i: id, k: 'page', u: 'school letter' },
      { i: id, k: 'click', n: ['go', 'part'] },
      { i: id, k: 'out', a: 'https://guild.example/' },
      { i: id, k: 'event', w: 'played', x: 3 },
    ],
  })
  const sender = { visitor: id, at: new Date(0), crowd: 0, page: { path: '/plans', pageType: 'Plans' } }
  const came = {
    utm: { ...noUtm, source: 'school-letter', campaign: 'First notes' },
    referrer: '',
    attributes: new Map([['membership', 'family']]),
  }
  const stamped = stamp(report, { ...sender, arrival: { device: 'phone', language: 'cy', region: 'XP-FE', ...came } })
  expect(stamped.map(({ kind }) => kind)).toEqual(['page', 'click', 'outbound', 'event'])
  expect(stamped[0]).toMatchObject({
    path: '/plans',
    arrival: {
      ...{ source: 'school-letter', device: 'phone', language: 'cy', region: 'XP-FE' },
      // Of what says nothing nothing is kept.
      ...{ utm: { source: 'school-letter', campaign: 'First notes' }, attributes: [['membership', 'family']] },
    },
  })
  expect(stamped[1]).toMatchObject({ nodes: ['go', 'part'], markers: [] })
  expect(stamp(report, { ...sender, arrival: null })[0]).toMatchObject({ arrival: null })
})

test.each([
  ['an order', { k: 'order', order: 'A-1', value: 9 }],
  ['being assigned', { k: 'assigned', r: 't-1-r1', v: 'v-1' }],
  ['a name that every object has', { k: 'constructor' }],
  ['more than its kind says', { k: 'stay', s: 3, extra: true }],
])('no page can report %s', (_, said) => {
  expect(reportSchema.safeParse({ d: 'plans', e: [{ i: '0'.repeat(32), ...said }] }).success).toBe(false)
})

test('a browser that measures something absurd loses nothing of what it says besides', () => {
  const id = '0'.repeat(32)
  const e = [
    { i: id, k: 'speed', l: 9e9, p: -3, f: 1e6 },
    { i: id, k: 'stay', s: 30 },
  ]
  const stamped = stamp(reportSchema.parse({ d: 'plans', e }), {
    ...{ visitor: id, at: new Date(0), crowd: 0, page: { path: '/plans', pageType: 'Plans' }, arrival: null },
  })
  expect(stamped).toMatchObject([{ paint: 120_000, response: null, shift: 100 }, { kind: 'stay' }])
  expect(stamped.map((event) => happeningOf({ kind: event.kind, ...columnsOf(event) }))).not.toContain(null)
})

test('where something was pressed is kept of components that the site shows, and of no others', () => {
  const id = '0'.repeat(32)
  const press = (node: string) => ({ i: id, k: 'click', n: [node], p: [3, 9] })
  const report = reportSchema.parse({ d: 'plans', e: [press('go'), press('made-up')] })
  const sender = { visitor: id, at: new Date(0), crowd: 0, page: { path: '/plans', pageType: 'Plans' }, arrival: null }
  const stamped = stamp(report, { ...sender, knows: (node) => node === 'go' })
  expect(stamped.map((event) => event.kind === 'click' && event.spot)).toEqual([[3, 9], undefined])
  for (const p of [[10, 0], [0.5, 0], [0], 'middle'])
    expect(reportSchema.safeParse({ d: 'plans', e: [{ ...press('go'), p }] }).success).toBe(false)
})
