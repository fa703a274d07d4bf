import { noUtm, ORIGINAL, type Decision } from '@/core/decide'
import { documentSchema } from '@/core/document'
import type { DocumentId, GoalId, TestId, VersionId } from '@/core/ids'
import { signerWith } from '@/serving/signer'
import type { CompiledSite } from '../compile/compile'
import { agent, compiledWith, greeting, greetingRound, greetingRules, saying } from '../test-site'
import { answerPage, routeFor, type PageRequest } from './answer-page'
import {
  readKept,
  readPast,
  readReached,
  readVisit,
  visitAfter,
  writeAbout,
  writeKept,
  writePast,
  writeReached,
  writeVisit,
  type Visit,
} from './cookies'

const NOON = Date.UTC(2026, 2, 5, 12, 0)
const MINUTE = NOON / 60_000
const DAY = 86_400_000
const me = '1'.repeat(32)
const letterKey = 'ab'.repeat(32)
const signer = signerWith(letterKey)
const harp = documentSchema.parse({
  ...{ id: 'harp', kind: 'page', root: 'harp-root' },
  nodes: {
    'harp-root': { type: 'page', props: { title: 'Harp', path: '/harp', pageType: 'Instrument' }, children: ['harp-main'] },
    'harp-main': { type: 'mainPart', props: {}, children: ['harp-title'] },
    'harp-title': { type: 'heading', props: { words: 'Harp' }, children: [] },
  },
})
const siteOf = (release: object = {}) => compiledWith({ documents: [greeting, harp], ...release })
/** The greeting is warm for whom this is true. */
const warmFor = (condition: object, more: object = {}) =>
  siteOf({ personalizations: [greetingRules({ version: saying('Welcome'), condition })], ...more })

function ask(
  site: CompiledSite,
  headers: Record<string, string> = {},
  { path = '/', ...more }: Partial<PageRequest> & { path?: string } = {},
) {
  const page = site.pages.get(path)
  if (page === undefined) throw new Error(`no page at ${path}`)
  const answer = answerPage(site, page, {
    headers: { 'user-agent': agent, host: 'pinemoth.example', ...headers },
    query: '',
    now: NOON,
    secure: false,
    address: () => '198.51.100.7',
    regionOf: (address) => (address === '198.51.100.7' ? 'XP-FE' : null),
    ...more,
  })
  const lines = [...answer.headers, ...answer.cookies.flatMap((cookie) => ['set-cookie', cookie])]
  const values = (name: string) => lines.flatMap((line, at) => (at % 2 === 0 && line === name ? [lines[at + 1] ?? ''] : []))
  const cookies = new Map(
    values('set-cookie').map((line) => [line.slice(0, line.indexOf('=')), /=([^;]*)/.exec(line)?.[1] ?? '']),
  )
  return { ...answer, values, cookies, isWarm: answer.body?.includes('Welcome') === true }
}
const said = (cookie: string) => cookie.split(';')[0] ?? ''
const together = (...cookies: readonly string[]) => ({ cookie: cookies.map(said).join('; ') })
/** A visit that has come to these pages, all of them in the same minute. */
function visited(pages: readonly string[], { minute = MINUTE } = {}): string {
  const came = { utm: noUtm, referrer: '' }
  const visit = pages.reduce<Visit | null>((so, page) => visitAfter(so, page as DocumentId, minute, came), null)
  return visit === null ? '' : writeVisit(visit)
}

test('a page is kept by who asked for it, and asked for again by its tag', () => {
  const first = ask(siteOf())
  expect([first.status, first.leftOut, first.values('content-type')]).toEqual([200, null, ['text/html; charset=utf-8']])
  expect(first.values('cache-control')).toEqual(['private, no-cache'])
  const [etag = ''] = first.values('etag')
  const again = ask(siteOf(), { 'if-none-match': etag })
  expect([again.status, again.body, again.values('etag')]).toEqual([304, null, [etag]])
  expect(ask(siteOf(), { 'if-none-match': '"another"' }).status).toBe(200)
})

test('a page on which something is decided is nobody else’s, and has no tag', () => {
  const { status, values } = ask(siteOf({ rounds: [greetingRound()] }))
  expect([status, values('cache-control'), values('etag')]).toEqual([200, ['private, no-store'], []])
})

test('a browser is given what it does not have: who they are once, their visit whenever it goes on', () => {
  const site = siteOf()
  const first = ask(site)
  expect([...first.cookies.keys()]).toEqual(['visitor', 'visit'])
  expect(first.cookies.get('visitor')).toMatch(/^[0-9a-f]{32}$/)
  const carried = together(...[...first.cookies].map(([name, value]) => `${name}=${value}`))
  expect([...ask(site, carried).cookies.keys()]).toEqual([])
  const later = ask(site, carried, { now: NOON + 60_000 })
  expect([...later.cookies.keys()]).toEqual(['visit'])
  expect(readVisit(later.cookies.get('visit'), MINUTE + 1)).toMatchObject({
    startedAt: MINUTE,
    lastAt: MINUTE + 1,
    pages: ['front'],
  })
  const next = ask(site, carried, { path: '/harp' })
  expect(readVisit(next.cookies.get('visit'), MINUTE)?.pages).toEqual(['front', 'harp'])
  expect(
    ask(site, {}, { secure: true })
      .values('set-cookie')
      .every((line) => line.includes('Secure')),
  ).toBe(true)
  expect(first.values('set-cookie').some((line) => line.includes('Secure'))).toBe(false)
})

test.each(['browser', 'visit'])(
  'what is kept for the %s is what was shown, over TLS and without, however many came before',
  (keeping) => {
    const site = siteOf({ rounds: [greetingRound('t-1', { keeping })] })
    const ofVisit = new Set(keeping === 'visit' ? ['t-1' as TestId] : [])
    const given = Array.from({ length: 40 }, (_, at) => {
      const secure = at % 3 === 0
      const { values, isWarm } = ask(site, {}, { secure })
      const kept = new Map([['t-1' as TestId, (isWarm ? 'warm' : ORIGINAL) as VersionId]])
      expect(values('set-cookie').filter((line) => line.startsWith('kept='))).toEqual([
        writeKept({ kept, carried: new Set(), ofVisit }, secure),
      ])
      return isWarm
    })
    expect(new Set(given).size).toBe(2)
  },
)

test('how somebody came is read from the address and from the page before, where that is another site’s', () => {
  const of = (query: string, headers: Record<string, string> = {}) => {
    const { cookies } = ask(siteOf(), headers, { query })
    return readVisit(cookies.get('visit'), MINUTE)
  }
  const marks = { source: 'letter', medium: 'e-mail', campaign: 'autumn', term: 'cello', content: 'blue' }
  const query = `?${Object.entries(marks)
    .map(([name, value]) => `utm_${name}=${value}`)
    .join('&')}&utm_other=x`
  expect(of(query, { referer: 'https://guild.example/menders' })).toMatchObject({ utm: marks, referrer: 'guild.example' })
  const none = { source: '', medium: '', campaign: '', term: '', content: '' }
  expect(of('', { referer: 'https://pinemoth.example/plans' })).toMatchObject({ utm: none, referrer: '' })
  expect(of('?a=b', { referer: 'no address' })).toMatchObject({ utm: none, referrer: '' })
  expect(of('')).toMatchObject({ utm: none, referrer: '' })
})

describe('what a rule asks for is found out from the request', () => {
  const known = `visitor=${me}`
  const past = (visits: number, pages: { page: string; visits: number; day: number }[]) =>
    writePast({ visits, pages: pages.map(({ page, ...one }) => ({ page: page as DocumentId, ...one })) }, me, signer)
  const today = Math.floor(NOON / DAY)
  const rows: [name: string, condition: object, fits: Record<string, string>, does: Record<string, string>][] = [
    [
      'device',
      { kind: 'device', device: 'phone' },
      { 'user-agent': 'Mozilla/5.0 (iPhone; CPU iPhone OS 18_0) Mobile/15E148' },
      {},
    ],
    ['language', { kind: 'language', language: 'de' }, { 'accept-language': 'de-AT, en' }, { 'accept-language': 'en, de' }],
    [
      'referrer',
      { kind: 'referrer', host: 'guild.example' },
      { referer: 'https://guild.example/' },
      { referer: 'https://other.example/' },
    ],
    [
      'page of this visit',
      { kind: 'pageSeen', page: 'harp' },
      together(known, visited(['harp'])),
      together(known, visited(['front'])),
    ],
    [
      'type of this visit',
      { kind: 'pageTypeSeen', pageType: 'Instrument' },
      together(known, visited(['harp'])),
      together(known, visited(['gone'])),
    ],
    ['visits', { kind: 'visits', are: 'atLeast', times: 4 }, together(known, past(3, [])), together(known, past(2, []))],
    [
      'page of other visits',
      { kind: 'seenOften', what: { kind: 'page', page: 'harp' }, visits: 2, days: 9 },
      together(known, past(3, [{ page: 'harp', visits: 2, day: today - 9 }])),
      together(known, past(3, [{ page: 'harp', visits: 2, day: today - 10 }])),
    ],
    [
      'type of other visits',
      { kind: 'seenOften', what: { kind: 'type', pageType: 'Instrument' }, visits: 1, days: 9 },
      together(known, past(3, [{ page: 'harp', visits: 1, day: today }])),
      together(known, past(3, [{ page: 'front', visits: 1, day: today }])),
    ],
    [
      'goal',
      { kind: 'goalReached', goal: 'bought', reached: true },
      together(known, writeReached(['bought' as GoalId], me, signer)),
      together(known, writeReached(['bought' as GoalId], '2'.repeat(32), signer)),
    ],
    [
      'what the site says',
      { kind: 'attribute', name: 'membership', is: true, value: 'family' },
      together(known, writeAbout(new Map([['membership', 'family']]), me, signer)),
      together(known, writeAbout(new Map([['membership', 'single']]), me, signer)),
    ],
  ]
  test.each(rows)('%s', (_, condition, fits, does) => {
    const goal = { id: 'bought', name: 'Bought', wiring: { kind: 'page', document: 'harp' } }
    const site = warmFor(condition, { goals: [goal], attributes: [{ name: 'membership', values: ['family', 'single'] }] })
    expect([ask(site, fits).isWarm, ask(site, does).isWarm]).toEqual([true, false])
  })

  test('region, hour and page type, from where it comes, when, and to where', () => {
    const region = warmFor({ kind: 'region', region: 'XP-FE' })
    expect([ask(region).isWarm, ask(region, {}, { address: () => '203.0.113.1' }).isWarm]).toEqual([true, false])
    const noon = warmFor({ kind: 'hours', from: 12, to: 13 })
    expect([ask(noon).isWarm, ask(noon, {}, { now: NOON + 3_600_000 }).isWarm]).toEqual([true, false])
    const here = (pageType: string) => ask(warmFor({ kind: 'onPageType', pageType })).isWarm
    expect([here('Page'), here('Instrument')]).toEqual([true, false])
  })
})

test('where a rule asks for visits, a browser keeps how many there were; where it asks for pages, which, and when', () => {
  const counted = warmFor({ kind: 'visits', are: 'atLeast', times: 2 })
  const past = (cookies: ReadonlyMap<string, string>, who = me) => readPast(cookies.get('past'), who, signer)
  const first = ask(counted)
  const id = first.cookies.get('visitor') ?? ''
  expect(past(first.cookies, id)).toEqual({ visits: 1, pages: [] })
  const again = (value: string) => together(`visitor=${id}`, `past=${value}`)
  const value = first.cookies.get('past') ?? ''
  expect(past(ask(counted, again(value)).cookies, id)).toEqual({ visits: 2, pages: [] })
  // Within a visit there is nothing new to keep.
  expect(
    ask(counted, together(`visitor=${id}`, `past=${value}`, visited(['front'])), { path: '/harp' }).cookies.has('past'),
  ).toBe(false)

  const paged = warmFor({ kind: 'seenOften', what: { kind: 'page', page: 'harp' }, visits: 2, days: 9 })
  const today = Math.floor(NOON / DAY)
  const before = writePast(
    {
      visits: 3,
      pages: [
        { page: 'harp' as DocumentId, visits: 2, day: today - 4 },
        { page: 'front' as DocumentId, visits: 1, day: today - 4 },
      ],
    },
    me,
    signer,
  )
  const harpAgain = ask(paged, together(`visitor=${me}`, before), { path: '/harp' })
  expect(past(harpAgain.cookies)).toEqual({
    visits: 4,
    pages: [
      { page: 'front', visits: 1, day: today - 4 },
      { page: 'harp', visits: 3, day: today },
    ],
  })
  const inVisit = (pages: string[]) => ask(paged, together(`visitor=${me}`, before, visited(pages)), { path: '/harp' }).cookies
  expect(inVisit(['harp']).has('past')).toBe(false)
  expect(past(inVisit(['front']))?.visits).toBe(3)
  // Of somebody who is new nothing that a browser says is taken.
  expect(past(ask(paged, together(before), { path: '/harp' }).cookies, ask(paged).cookies.get('visitor') ?? '')).toBeNull()
})

test('a goal that no page can tell of counts from the view in which it is heard of, and is kept then', () => {
  const goal = { id: 'bought', name: 'Bought', wiring: { kind: 'order' } }
  const site = warmFor({ kind: 'goalReached', goal: 'bought', reached: true }, { goals: [goal] })
  const heardOf = (visitor: string) => (visitor === me ? (['bought', 'other'] as GoalId[]) : [])
  const mine = together(`visitor=${me}`)
  const heard = ask(site, mine, { heardOf })
  expect([heard.isWarm, readReached(heard.cookies.get('reached'), me, signer)]).toEqual([true, ['bought']])
  const kept = together(`visitor=${me}`, writeReached(['bought' as GoalId], me, signer))
  expect(ask(site, kept, { heardOf }).cookies.has('reached')).toBe(false)
  expect(ask(site, kept).isWarm).toBe(true)
  // What no rule asks for any more is not carried on.
  const old = together(`visitor=${me}`, writeReached(['gone' as GoalId], me, signer))
  expect(readReached(ask(site, old, { heardOf }).cookies.get('reached'), me, signer)).toEqual(['bought'])
  for (const unheard of [ask(site, mine), ask(siteOf(), mine, { heardOf })]) expect(unheard.cookies.has('reached')).toBe(false)
})

describe('a version that somebody is given', () => {
  const all = [
    { version: 'original', weight: 0 },
    { version: 'warm', weight: 10_000 },
  ]
  const site = () => siteOf({ rounds: [greetingRound('t-1', { arms: all })] })
  const keeps = (pairs: [string, string][], { carried = [] as string[] } = {}) =>
    writeKept({
      kept: new Map(pairs.map(([test, version]) => [test as TestId, version as VersionId])),
      carried: new Set(carried as TestId[]),
      ofVisit: new Set(),
    })

  test('is kept, and written down once: who, of which round, which version', () => {
    const first = ask(site(), together(`visitor=${me}`))
    expect(readKept(first.cookies.get('kept')).kept).toEqual(new Map([['t-1', 'warm']]))
    expect(first.news).toMatchObject({ document: 'front', visitor: me, assignments: [{ round: 't-1-r1', version: 'warm' }] })
    const kept = together(`visitor=${me}`, keeps([['t-1', 'warm']]))
    const noted = new Set(first.news.assignments.map(({ number }) => number).concat(first.news.together ?? -1))
    const again = ask(site(), kept, { isNoted: (number) => noted.has(number) })
    expect([again.cookies.has('kept'), again.news.assignments, again.news.document]).toEqual([false, [], null])
    // Kept by the browser and not written down, as after a restart: it is written down again.
    expect(ask(site(), kept).news.assignments).toHaveLength(1)
    // Whoever is new cannot have been written down, whatever a number says that is by chance the same.
    expect(ask(site(), {}, { isNoted: () => true }).news.assignments).toHaveLength(1)
  })

  test('takes the place of what was kept of an older draw of the same test, beside what is kept of others', () => {
    const before = keeps([
      ['t-1-g3', 'original'],
      ['t-9', 'original'],
    ])
    const { cookies } = ask(site(), together(`visitor=${me}`, before))
    expect([...readKept(cookies.get('kept')).kept]).toEqual([
      ['t-9', 'original'],
      ['t-1', 'warm'],
    ])
  })

  test('by a newsletter is shown, and counts for nothing here', () => {
    const carried = together(`visitor=${me}`, keeps([['t-1', 'warm']], { carried: ['t-1'] }))
    const { isWarm, news } = ask(site(), carried)
    expect([isWarm, news.assignments, news.together]).toEqual([true, [], null])
  })

  test('for a visit or a view alone is that visit’s or that view’s', () => {
    const numberOf = (keeping: string, headers: Record<string, string>, now = NOON) => {
      const { news, cookies } = ask(siteOf({ rounds: [greetingRound('t-1', { arms: all, keeping })] }), headers, { now })
      const unit = news.assignments[0]?.unit
      return [unit?.high, unit?.low, cookies.has('kept'), news.together]
    }
    const mine = together(`visitor=${me}`, visited(['front']))
    expect(numberOf('visit', mine).slice(0, 3)).toEqual(numberOf('visit', mine, NOON + 60_000).slice(0, 3))
    expect(numberOf('visit', mine)).not.toEqual(
      numberOf('visit', together(`visitor=${me}`, visited(['front'], { minute: MINUTE - 5 }))),
    )
    expect(numberOf('visit', mine).slice(2)).toEqual([true, null])
    expect(numberOf('view', mine)).not.toEqual(numberOf('view', mine))
    expect(numberOf('view', mine).slice(2)).toEqual([false, null])
  })
})

describe('what a rule gains', () => {
  const measured = (holdout: number, rules = 1) => {
    const conditions = [
      { kind: 'language', language: 'de' },
      { kind: 'language', language: 'fr' },
    ].slice(0, rules)
    const { rules: made, ...place } = greetingRules(
      ...conditions.map((condition, at) => ({ version: saying('Welcome', `warm-${at}`), condition })),
    )
    const counted = made.map((rule, at) => ({ ...rule, round: `g-${at}` }))
    return siteOf({ personalizations: [{ ...place, holdout, rules: counted, round: rules > 1 ? 'g-all' : null }] })
  }
  const german = { 'accept-language': 'de' }
  const french = { 'accept-language': 'fr' }

  test('is counted of whom it fits, by the rule and by all of them together', () => {
    const of = (site: CompiledSite, headers: Record<string, string>) =>
      ask(site, headers).news.assignments.map(({ round, version }) => [round, version])
    expect(of(measured(0), german)).toEqual([['g-0', 'warm-0']])
    expect(of(measured(0, 2), german)).toEqual([
      ['g-0', 'warm-0'],
      ['g-all', expect.not.stringMatching('original')],
    ])
    expect(of(measured(0, 2), french).map(([round]) => round)).toEqual(['g-1', 'g-all'])
    expect(of(measured(0, 2), {})).toEqual([])
  })

  test('is held against those who are held out, each under a number of their own', () => {
    const [shown, held] = [measured(0, 2), measured(5000, 2)]
    const numbers = (site: CompiledSite, headers: Record<string, string>) => ask(site, headers).news
    const out = Array.from({ length: 40 }, (_, n) =>
      numbers(held, { ...german, ...together(`visitor=${n.toString(16).padStart(32, '0')}`) }),
    )
    const original = out.find(({ assignments }) => assignments[0]?.version === ORIGINAL)
    const warm = out.find(({ assignments }) => assignments[0]?.version === 'warm-0')
    expect(original?.assignments.map(({ round, version }) => [round, version])).toEqual([
      ['g-0', ORIGINAL],
      ['g-all', ORIGINAL],
    ])
    const all = [original, warm].flatMap((news) => news?.assignments.map(({ number }) => number) ?? [])
    expect(new Set(all).size).toBe(4)
    expect(new Set([original, warm, numbers(shown, french)].map((news) => news?.together)).size).toBe(3)
  })
})

test('an address is given by lot and by rule: the first that counts and leads somewhere, else where the page leads by itself', () => {
  const decision = (key: string, version: string, counted = true): Decision => ({
    key,
    version: version as VersionId,
    counted,
    reason: { code: 'kept' },
  })
  const leads = (...pairs: [string, string][]) => new Map(pairs.map(([version, to]) => [version as VersionId, to]))
  const page = {
    ...siteOf().pages.get('/'),
    routes: [
      { key: 'a', to: leads(['bold', '/bold']) },
      { key: 'b', to: leads(['soft', '/soft']) },
    ],
    route: '/own',
  } as never
  const to = (...decisions: Decision[]) => routeFor(page, decisions)
  expect(to(decision('a', 'bold'), decision('b', 'soft'))).toBe('/bold')
  expect(to(decision('a', 'bold', false), decision('b', 'soft'))).toBe('/soft')
  expect(to(decision('a', 'original'), decision('b', 'soft'))).toBe('/soft')
  expect(to(decision('b', 'original'))).toBe('/own')
  expect(to()).toBe('/own')
})

test('whoever is left out is given nothing to keep, and says why', () => {
  const bot = ask(siteOf({ rounds: [greetingRound()] }), { 'user-agent': 'a-search-bot/1.0 (+https://bot.example)' })
  expect([bot.leftOut, bot.cookies.size, bot.news.assignments, bot.isWarm]).toEqual(['bot', 0, [], false])
})

test('a page with more versions than can be kept is put together for whoever asks', () => {
  const titles = Array.from({ length: 8 }, (_, at) => `title-${at}`)
  const page = documentSchema.parse({
    ...{ id: 'front', kind: 'page', root: 'root' },
    nodes: {
      root: { type: 'page', props: { title: 'Front', path: '/' }, children: ['main'] },
      main: { type: 'mainPart', props: {}, children: titles },
      ...Object.fromEntries(titles.map((id) => [id, { type: 'heading', props: { words: `Hello ${id}` }, children: [] }])),
    },
  })
  const rounds = titles.map((node, at) => {
    const round = greetingRound(`t-${at}`, { node })
    return {
      ...round,
      versions: [
        {
          id: 'warm',
          name: 'Warm',
          edits: [{ kind: 'set' as const, node: node as never, prop: 'words', value: `Welcome ${node}` }],
        },
      ],
    }
  })
  const site = compiledWith({ documents: [page], rounds })
  const plain = ask(site, together(`visitor=${me}`))
  const gzip = ask(site, { ...together(`visitor=${me}`), 'accept-encoding': 'gzip' })
  expect(plain.values('content-encoding')).toEqual([])
  expect([gzip.values('content-encoding'), gzip.values('etag')]).toEqual([['gzip'], []])
  for (const title of titles) expect(plain.body?.toString()).toMatch(new RegExp(`(Hello|Welcome) ${title}`))
})
