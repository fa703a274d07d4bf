import { unsafeUniformIntDistribution, xoroshiro128plus } from 'pure-rand'
import { createHash } from 'node:crypto'
import { outsideReportSchema } from '@/core/goals'
import { reportSchema } from '@/core/events'
import { reportTypes } from './outside/read-reports'
import { releaseSchema } from '@/core/release'
import { compile } from './compile/compile'
import { makeSite } from './site'

const REQUESTS = 10_000
const id = 'a'.repeat(32)

/** One good event of every kind that the schema knows; each request breaks one of them in one place. */
const good = [
  { i: id, k: 'page', h: 'letters.example', u: 'newsletter' },
  { i: id, k: 'seen', r: 't-1-r1', v: 'original' },
  { i: id, k: 'call', c: 'reserve' },
  { i: id, k: 'click', n: ['button', 'hero'], m: ['reserve'] },
  { i: id, k: 'out', a: 'https://elsewhere.example/' },
  { i: id, k: 'read', n: 'text' },
  { i: id, k: 'stay', s: 12 },
  { i: id, k: 'event', w: 'lesson-booked', x: 3 },
]
const goodOutside = [
  { id: 'r-1', kind: 'event', name: 'lesson-booked', value: 3, visitor: id, at: '2023-11-14T10:00:00Z' },
  { id: 'r-2', kind: 'order', order: 'A-1', value: 24, currency: 'EUR' },
  { id: 'r-3', kind: 'refund', order: 'A-1', value: 4 },
]
const KEY = 'the-key-of-a-shop'

const wrong: readonly unknown[] = [
  null, true, -1, 1e300, 0.5, '', ' ', 'x'.repeat(3000), [], [[]], {}, { $gt: '' }, "' OR 1=1 --", '<script>', '\u0000', '😀', '../..',
] // prettier-ignore

const page = {
  id: 'front',
  kind: 'page',
  root: 'root',
  nodes: { root: { type: 'page', props: { title: 'Front', path: '/' }, children: [] } },
}

test('ten thousand malformed requests are each refused in words, and write nothing', async () => {
  const lots = xoroshiro128plus(20_261_123)
  const lot = (count: number) => unsafeUniformIntDistribution(0, count - 1, lots)
  const pick = <Of>(from: readonly Of[]): Of => from[lot(from.length)] as Of
  const written: unknown[] = []
  const faults: unknown[] = []
  const compiled = compile(
    releaseSchema.parse({
      documents: [page],
      rounds: [],
      personalizations: [],
      goals: [],
      reporters: [{ id: 'k', origin: 'https://shop.example', hash: createHash('sha256').update(KEY).digest('hex') }],
    }),
    { script: '', style: '' },
  )
  const site = makeSite({
    current: () => compiled,
    assets: new Map(),
    media: new Map(),
    writeEvents: (events) => Promise.resolve(void written.push(...events)),
    keepEntry: (entry) => Promise.resolve(void written.push(entry)),
    now: () => 1_700_000_000_000,
    log: (reason) => void faults.push(reason),
  })
  const headers = { cookie: `visitor=${'1'.repeat(32)}`, 'user-agent': 'Mozilla/5.0 (X11; Linux) Chrome/140' }

  /** A report with one thing wrong in it: a value, a missing or a stray property, or text that is cut off. */
  const broken = (): string => {
    for (;;) {
      const report: Record<string, unknown> = { d: 'front', e: [{ ...pick(good) }, { ...pick(good) }] }
      const target = lot(3) === 0 ? report : ((report.e as Record<string, unknown>[])[lot(2)] ?? report)
      const key = pick(Object.keys(target))
      const how = lot(4)
      if (how === 0) target[key] = pick(wrong)
      else if (how === 1) delete target[key]
      else if (how === 2) target[`${key}${pick(['', '2', '__proto__'])}x`] = pick(wrong)
      const text = JSON.stringify(report)
      if (how === 3) return text.slice(0, 1 + lot(text.length - 1))
      // Some breakages happen to leave a good report: those are no part of this.
      if (!reportSchema.safeParse(JSON.parse(text)).success) return text
    }
  }
  /** The same for a report from elsewhere: each of the batch is broken, so that nothing of it may be kept. */
  const brokenOutside = (): string => {
    for (;;) {
      const report: Record<string, unknown> = { ...pick(goodOutside) }
      const key = pick(Object.keys(report))
      const how = lot(4)
      if (how === 0) report[key] = pick(wrong)
      else if (how === 1) delete report[key]
      else if (how === 2) report[`${key}x`] = pick(wrong)
      const text = JSON.stringify(report)
      if (how === 3) return text.slice(0, 1 + lot(text.length - 1))
      if (!outsideReportSchema.safeParse(JSON.parse(text)).success) return text
    }
  }
  const doors = [
    () => ({ url: '/collect', type: pick(['text/plain', 'application/json']), payload: broken() }),
    () => ({
      url: '/report',
      type: pick([...reportTypes, 'text/html']),
      payload: brokenOutside(),
    }),
    () => ({
      url: `/forms/${pick(['front', '%00', 'nobody'])}/${pick(['root', '..%2f', 'x'])}`,
      type: 'application/x-www-form-urlencoded',
      payload: broken(),
    }),
  ]
  const answers = new Map<number, number>()
  for (let request = 0; request < REQUESTS; request++) {
    const { url, type, payload } = pick(doors)()
    const answer = await site.inject({
      method: 'POST',
      url,
      headers: { ...headers, authorization: `Bearer ${KEY}`, 'content-type': type },
      payload,
    })
    answers.set(answer.statusCode, (answers.get(answer.statusCode) ?? 0) + 1)
  }
  expect([...answers.keys()].filter((status) => status < 400 || status >= 500)).toEqual([])
  expect([written, faults]).toEqual([[], []])
}, 120_000)
