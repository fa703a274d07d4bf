import type { DocumentId, TestId, VersionId } from '@/core/ids'
import { leavingOutSchema, noUtm, type LeavingOut } from '@/core/decide'
import { signerWith } from '@/serving/signer'
import {
  cookieIn,
  readKept,
  readPast,
  readVisit,
  visitAfter,
  writeKept,
  writePast,
  writeVisit,
  type Came,
  type Past,
} from './cookies'
import { leavingOut } from './left-out'
import { newVisitorId, recognise, languageFor, visitsNow } from './recognise'

const computer = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/140.0 Safari/537.36'
const phone = 'Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) Mobile/15E148 Safari/604.1'
const tablet = 'Mozilla/5.0 (Linux; Android 15; SM-X710) AppleWebKit/537.36 Chrome/140.0 Safari/537.36'
const page = (id: string) => id as DocumentId
const came = (campaign: string, more: Partial<Came> = {}): Came => ({ utm: { ...noUtm, campaign }, referrer: '', ...more })
const value = (cookie: string) => /^[^=]+=([^;]*)/.exec(cookie)?.[1] ?? ''
/** Why somebody at an address is left out. */
const because = (headers: object, rules: Partial<LeavingOut> = {}, address = '198.51.100.7') =>
  leavingOut(leavingOutSchema.parse(rules), { asked: false })({ 'user-agent': computer, ...headers }, () => address)
const who = (headers: object, minute = 1000, past: Past | null = null) =>
  recognise(
    { 'user-agent': computer, ...headers },
    minute,
    because(headers),
    {
      pageTypeOf: () => 'Instrument',
      regionOf: () => 'XP-FE',
      moment: () => ({ day: '2026-03-05', weekday: 3, hour: 9 }),
      at: () => null,
      past: () => past,
      today: () => 20_010,
      reached: () => [],
      about: () => new Map(),
    },
    () => came('autumn'),
  )

describe('a visit', () => {
  const began: Came = {
    utm: { source: 'a|b;c', medium: 'e-mail', campaign: 'autumn & winter', term: '', content: 'blue.button' },
    referrer: 'shop.example:8080',
  }
  const visit = visitAfter(visitAfter(null, page('home'), 1000, began), page('harp'), 1010, came('later'))
  const cookie = value(writeVisit(visit))

  test('comes back with its pages and all that its first page said of it', () => {
    expect(readVisit(cookie, 1030)).toEqual({
      startedAt: 1000,
      lastAt: 1010,
      pages: ['home', 'harp'],
      ...began,
    })
  })

  test('is over after thirty silent minutes, and a new one takes the campaign of its own first page', () => {
    expect(readVisit(cookie, 1040)).not.toBeNull()
    expect(readVisit(cookie, 1041)).toBeNull()
    expect(who({ cookie: `visit=${cookie}` }, 1041).visitor.beginning.utm.campaign).toBe('autumn')
    expect(who({ cookie: `visit=${cookie}` }, 1020).visitor).toMatchObject({
      beginning: { ...began, source: 'a-b-c' },
      pagesSeen: [{ page: 'home' }, { page: 'harp', pageType: 'Instrument' }],
    })
  })

  test('keeps the last forty pages and no page twice', () => {
    const long = Array.from({ length: 60 }, (_, n) => page(`p-${n % 50}`)).reduce<ReturnType<typeof visitAfter> | null>(
      (so, one) => visitAfter(so, one, 1000, came('')),
      null,
    )
    expect(long?.pages).toHaveLength(40)
    expect(new Set(long?.pages).size).toBe(40)
    expect(writeVisit(long ?? visit).length).toBeLessThan(2000)
  })

  test.each(['', 'nonsense', 'zzzzzzzz.zzzzzzzz.home.', `${cookie}\u0000`, '1.1.<script>.', 'a.b.c'])(
    'is not believed when its cookie is %j',
    (broken) => {
      expect(readVisit(broken, 1010)).toBeNull()
    },
  )
})

test('a visit whose address says more than has room keeps as much of each as has', () => {
  const long = 'ö'.repeat(500)
  const visit = visitAfter(null, page('home'), 1000, {
    utm: { source: long, medium: long, campaign: long, term: long, content: long },
    referrer: long,
  })
  const cookie = value(writeVisit(visit))
  expect(cookie.length).toBeLessThan(1300)
  expect(Object.values(readVisit(cookie, 1000)?.utm ?? {}).every((mark) => /^ö{5,}…?$/.test(mark))).toBe(true)
})

test('a cookie of before, with its campaign alone, is still read', () => {
  expect(readVisit('rs.rs.home.autumn%20leaves', 1000)).toEqual({
    ...{ startedAt: 1000, lastAt: 1000, pages: ['home'] },
    ...came('autumn leaves'),
  })
})

describe('what a browser remembers from visit to visit', () => {
  const signer = signerWith('00'.repeat(32))
  const [me, other] = ['1'.repeat(32), '2'.repeat(32)]
  const seen = (id: string, visits = 1) => ({ page: page(id), visits, day: 20_000 })
  const past = { visits: 3, pages: [seen('home', 3), seen('harp')] }
  const cookie = value(writePast(past, me, signer))

  test('comes back to the visitor it was given to, and to nobody else', () => {
    expect(readPast(cookie, me, signer)).toEqual(past)
    expect(readPast(cookie, other, signer)).toBeNull()
    expect(readPast(cookie, me, signerWith('11'.repeat(32)))).toBeNull()
    expect(readPast(cookie, me, signerWith(''))).toBeNull()
  })

  test.each(['', 'nonsense', cookie.replace(/^3/, '9'), cookie.replace('harp', 'cello'), `${cookie}x`, '3..', '3.home.'])(
    'is not believed where it says %j',
    (broken) => expect(readPast(broken, me, signer)).toBeNull(),
  )

  test('is bounded, however long somebody keeps coming', () => {
    const pages = Array.from({ length: 500 }, (_, n) => seen(`p-${'x'.repeat(33)}-${n}`, 1e6))
    const long = value(writePast({ visits: 1e9, pages }, me, signer))
    expect(long.length).toBeLessThan(2600)
    expect(readPast(long, me, signer)).toEqual({
      visits: 9999,
      pages: pages.slice(-50).map((one) => ({ ...one, visits: 999 })),
    })
  })

  test('is read as well as it was written before pages were counted', () => {
    const text = '3.home~harp'
    const { pages } = readPast(`${text}.${signer.sign(`past ${me} ${text}`)}`, me, signer) ?? { pages: [] }
    expect(pages).toEqual([
      { page: 'home', visits: 1, day: 0 },
      { page: 'harp', visits: 1, day: 0 },
    ])
  })

  test('says in how many visits a page was seen, and how long ago', () => {
    const visit = value(writeVisit(visitAfter(null, page('home'), 1000, came(''))))
    const { visitor } = who({ cookie: `visitor=${me}; visit=${visit}` }, 1000, past)
    expect(visitor.pagesEver.map(({ page: id, visits, daysAgo }) => [id, visits, daysAgo])).toEqual([
      ['home', 3, 0],
      ['harp', 1, 10],
    ])
    // A clock that was set back makes nothing of the future.
    expect(
      who({ cookie: `visitor=${me}` }, 1000, { visits: 1, pages: [{ ...seen('harp'), day: 20_020 }] }).visitor.pagesEver,
    ).toMatchObject([{ daysAgo: 0 }])
  })

  test('says which visit this is', () => {
    const visit = visitAfter(null, page('home'), 1000, came(''))
    expect(visitsNow(null, null, null)).toBe(1)
    expect(visitsNow(me, visit, { visits: 1, pages: [] })).toBe(1)
    expect(visitsNow(me, null, { visits: 1, pages: [] })).toBe(2)
    // Known, and of before nothing is remembered.
    expect(visitsNow(me, null, null)).toBe(2)
    expect(visitsNow(me, visit, null)).toBe(1)
  })
})

test('what was kept comes back, and what is no id is passed over', () => {
  const kept = new Map([
    ['t-1' as TestId, 'bold' as VersionId],
    ['t-2' as TestId, 'original' as VersionId],
  ])
  const all = { kept, carried: new Set(['t-2' as TestId]), ofVisit: new Set(['t-1' as TestId]) }
  expect(readKept(value(writeKept(all)))).toEqual(all)
  expect(readKept('t-1~bold.<b>~x.t-3').kept).toEqual(new Map([['t-1', 'bold']]))
})

describe('a visitor', () => {
  test.each([
    [computer, 'computer'],
    [phone, 'phone'],
    [tablet, 'tablet'],
  ])('with %s has a %s', (agent, device) => {
    expect(who({ 'user-agent': agent }).visitor.device).toBe(device)
  })

  test('is known again by a cookie of ours and by nothing else', () => {
    const id = newVisitorId()
    expect(who({ cookie: `visitor=${id}` })).toMatchObject({ isNew: false, visitor: { id } })
    expect(who({ cookie: 'visitor=../../etc' })).toMatchObject({
      isNew: true,
      visitor: { id: expect.stringMatching(/^[0-9a-f]{32}$/) },
    })
    expect(new Set(Array.from({ length: 1000 }, newVisitorId)).size).toBe(1000)
  })

  test.each<[string, object, string | null]>([
    ['an ordinary one', {}, null],
    ['a bot', { 'user-agent': 'ExampleBot/2.0' }, 'bot'],
    ['one without a name', { 'user-agent': '' }, 'bot'],
    ['an editor', { cookie: 'sprig_editor=1' }, 'studioUser'],
    ['a prefetch', { 'sec-purpose': 'prefetch;prerender' }, 'prefetch'],
    ['one who objects', { 'sec-gpc': '1' }, 'noConsent'],
  ])('%s is left out because of %s', (_, headers, why) => {
    expect(who(headers).visitor.leftOut).toBe(why)
  })

  test.each<[string, object, Partial<LeavingOut>, string | null]>([
    ['a bot, where bots are let in', { 'user-agent': 'ExampleBot/2.0' }, { bots: false }, null],
    ['an editor, where they are', { cookie: 'sprig_editor=1' }, { studioUsers: false }, null],
    ['a prefetch, where they are', { purpose: 'prefetch' }, { prefetches: false }, null],
    [
      'one who objects, whatever is let in',
      { 'sec-gpc': '1' },
      { bots: false, studioUsers: false, prefetches: false },
      'noConsent',
    ],
    ['a listed address', {}, { addresses: ['203.0.113.1', '198.51.100.7'] }, 'address'],
    ['one within a range', {}, { addresses: ['198.51.100.0/24'] }, 'address'],
    ['one beside a range', {}, { addresses: ['198.51.101.0/24', '2001:db8::/32'] }, null],
  ])('%s', (_, headers, rules, why) => expect(because(headers, rules)).toBe(why))

  test.each(['unknown', '', '::ffff:198.51.100.7', '2001:db8::7'])(
    'an address like “%s” is looked up all the same',
    (address) => {
      const rules = { addresses: ['198.51.100.0/24', '2001:db8::/32'] }
      expect(because({}, rules, address)).toBe(address.includes(':') ? 'address' : null)
    },
  )

  test.each(['300.1.1.1', '10.0.0.0/40', 'localhost', '', '10.0.0.1 ', '::/200', 'constructor'])(
    '“%s” is no address to list',
    (text) => expect(leavingOutSchema.safeParse({ addresses: [text] }).success).toBe(false),
  )

  test('who objects gets no id', () => {
    expect(who({ 'sec-gpc': '1', cookie: `visitor=${newVisitorId()}` }).visitor.id).toBeNull()
  })
})

test.each([
  ['cy-GB, en;q=0.8', 'cy'],
  ['  EN', 'en'],
  ['*', null],
  ['', null],
  ['constructor', null],
  [undefined, null],
])('of what a browser asks for (%s), its first language is known', (header, language) => {
  expect(languageFor(header === undefined ? {} : { 'accept-language': header })).toBe(language)
})

test.each([
  ['visitor=a; kept=b', 'a'],
  ['kept=visitor=x; visitor=a', 'a'],
  ['lastvisitor=x;visitor=a', 'a'],
  ['visitors=x; visitor = y; visitor=a ;', 'a'],
  ['visitor', undefined],
  [`visitor=a; more=${'x'.repeat(9000)}`, undefined],
])('of the cookies %s that of one name is found', (header, value) => expect(cookieIn(header, 'visitor')).toBe(value))
