import type { DocumentId, TestId, VersionId } from '@/core/ids'
import { readKept, readVisit, visitAfter, writeKept, writeVisit } from './cookies'
import { newVisitorId, recognise, languageFor } from './recognise'

const computer = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/140.0 Safari/537.36'
const phone = 'Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) Mobile/15E148 Safari/604.1'
const tablet = 'Mozilla/5.0 (Linux; Android 15; SM-X710) AppleWebKit/537.36 Chrome/140.0 Safari/537.36'
const page = (id: string) => id as DocumentId
const value = (cookie: string) => /^[^=]+=([^;]*)/.exec(cookie)?.[1] ?? ''
const who = (headers: object, minute = 1000) =>
  recognise({ 'user-agent': computer, ...headers }, minute, () => 'Instrument', 'autumn')

describe('a visit', () => {
  const visit = visitAfter(visitAfter(null, page('home'), 1000, 'autumn & winter'), page('harp'), 1010, null)
  const cookie = value(writeVisit(visit))

  test('comes back with its pages and the campaign it began with', () => {
    expect(readVisit(cookie, 1030)).toEqual({
      startedAt: 1000,
      lastAt: 1010,
      pages: ['home', 'harp'],
      campaign: 'autumn & winter',
    })
  })

  test('is over after thirty silent minutes, and a new one takes the campaign of its own first page', () => {
    expect(readVisit(cookie, 1040)).not.toBeNull()
    expect(readVisit(cookie, 1041)).toBeNull()
    expect(who({ cookie: `visit=${cookie}` }, 1041).visitor.campaign).toBe('autumn')
    expect(who({ cookie: `visit=${cookie}` }, 1020).visitor).toMatchObject({
      campaign: 'autumn & winter',
      pagesSeen: [{ page: 'home' }, { page: 'harp', pageType: 'Instrument' }],
    })
  })

  test('keeps the last forty pages and no page twice', () => {
    const long = Array.from({ length: 60 }, (_, n) => page(`p-${n % 50}`)).reduce<ReturnType<typeof visitAfter> | null>(
      (so, one) => visitAfter(so, one, 1000, null),
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

test('what was kept comes back, and what is no id is passed over', () => {
  const kept = new Map([
    ['t-1' as TestId, 'bold' as VersionId],
    ['t-2' as TestId, 'original' as VersionId],
  ])
  const carried = new Set(['t-2' as TestId])
  expect(readKept(value(writeKept({ kept, carried })))).toEqual({ kept, carried })
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
  ])('%s is left out because of %s', (_, headers, because) => {
    expect(who(headers).visitor.leftOut).toBe(because)
  })

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
