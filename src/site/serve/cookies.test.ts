import { createHash } from 'node:crypto'
import { noUtm, type Attribute } from '@/core/decide'
import type { DocumentId, GoalId, TestId, VersionId } from '@/core/ids'
import type { Signer } from '@/core/letter'
import {
  cookieIn,
  readAbout,
  readKept,
  readPast,
  readReached,
  readVisit,
  readVisitorId,
  visitAfter,
  writeAbout,
  writeKept,
  writePast,
  writeReached,
  writeVisit,
  writeVisitor,
  type Visit,
} from './cookies'

const signer: Signer = {
  sign: (text) => createHash('sha256').update(text).digest('base64url').slice(0, 22),
  fits: (text, signature) => signer.sign(text) === signature,
}
const [me, you] = ['a'.repeat(32), 'b'.repeat(32)]
/** The value alone, as a browser says it again. */
const said = (line: string) => line.slice(line.indexOf('=') + 1, line.indexOf(';'))
/** What has been read is remembered by its text: each test, and each time that it runs, has another. */
let run = 0
const anew = () => `n${(run++).toString(36)}`

describe('a browser’s cookies', () => {
  test.each<[string, string | undefined, string | undefined]>([
    ['the only one', 'visitor=1', '1'],
    ['the first', 'visitor=1; past=2', '1'],
    ['the last', 'past=2; visitor=1', '1'],
    ['one without a space before it', 'past=2;visitor=1', '1'],
    ['one behind another whose name ends alike', 'xvisitor=2; visitor=1', '1'],
    ['one behind another whose value holds its name', 'past=visitor=3; visitor=1', '1'],
    ['one behind another that goes on', 'visitors=2; visitor=1', '1'],
    ['none', 'past=2', undefined],
    ['a name alone', 'visitor', undefined],
    ['an empty one', 'visitor=; past=2', ''],
    ['one with spaces', 'visitor= 1 ; past=2', '1'],
    ['no header', undefined, undefined],
  ])('are looked through for a name: %s', (_, header, found) => expect(cookieIn(header, 'visitor')).toBe(found))

  test('are not looked through where they are endless', () => {
    const header = (long: number) => `visitor=1; x=${'y'.repeat(long - 13)}`
    expect([cookieIn(header(8192), 'visitor'), cookieIn(header(8193), 'visitor')]).toEqual(['1', undefined])
  })

  test('say how long they are kept, and are for this site over TLS alone where it is', () => {
    expect(writeVisitor(me)).toBe(`visitor=${me}; Max-Age=31536000; Path=/; HttpOnly; SameSite=Lax`)
    expect(writeVisitor(me, true)).toMatch(/; Secure$/)
    const visit: Visit = { startedAt: 1, lastAt: 1, pages: [], utm: noUtm, referrer: '' }
    const kept = { kept: new Map(), carried: new Set<TestId>(), ofVisit: new Set<TestId>() }
    for (const line of [
      writeVisit(visit, true),
      writePast({ visits: 1, pages: [] }, me, signer, true),
      writeReached([], me, signer, true),
      writeAbout(new Map(), me, signer, true),
      writeKept(kept, true),
    ])
      expect(line).toMatch(/; Path=\/; HttpOnly; SameSite=Lax; Secure$/)
    // A visit ends with the browser; what the site said is forgotten after thirty days.
    expect(writeVisit(visit)).not.toContain('Max-Age')
    expect(writeAbout(new Map(), me, signer)).toContain('; Max-Age=2592000;')
  })

  test.each([
    [me, me],
    [me.slice(1), null],
    [`${me}0`, null],
    ['A'.repeat(32), null],
    [undefined, null],
  ])('name a visitor by 128 bits and nothing else: %s', (cookie, id) => expect(readVisitorId(cookie)).toBe(id))
})

describe('a visit', () => {
  const visit = (lastAt: number, more: Partial<Visit> = {}): Visit => ({
    ...{ startedAt: 900, lastAt, pages: ['home', 'plans'] as DocumentId[], utm: noUtm, referrer: '' },
    ...more,
  })
  test.each([
    [999, true],
    [1000, true],
    [1001, true],
    [1002, false],
    [970, true],
    [969, false],
  ])('whose last page was at %i is going on at 1000: %s', (lastAt, goesOn) => {
    expect(readVisit(said(writeVisit(visit(lastAt))), 1000) !== null).toBe(goesOn)
  })

  test('comes back as it was, marks with signs and strange letters too', () => {
    const utm = { source: `süß|${anew()}`, medium: 'mail', campaign: '', term: 'a~b.c', content: '%' }
    const of = visit(1000, { utm, referrer: 'seek.example' })
    expect(readVisit(said(writeVisit(of)), 1000)).toEqual(of)
    expect(readVisit(said(writeVisit(visit(1000, { pages: [] }))), 1000)).toMatchObject({ pages: [] })
  })

  test('says as much of each mark as has room', () => {
    const long = (anew() + 'ü'.repeat(400)).slice(0, 400)
    const utm = { source: long, medium: long, campaign: long, term: long, content: long }
    const text = said(writeVisit(visit(1000, { utm, referrer: long })))
    expect(text.length).toBeLessThan(1300)
    const back = readVisit(text, 1000)?.utm.source ?? ''
    expect(back.length).toBeGreaterThan(10)
    expect(long.startsWith(back)).toBe(true)
  })

  test.each(['', '1.2.3', 'a.b.home', '1.1.HOME.', '1.1.home.<', '123456789.1.home.', undefined])('is none in %s', (cookie) =>
    expect(readVisit(cookie, 1)).toBeNull(),
  )

  test('of which half a character was written has that mark empty', () => {
    expect(readVisit('po.rs.home.%E0|web', 1000)?.utm).toMatchObject({ campaign: '', source: 'web' })
  })

  test('begins with its first page, goes on with others, and remembers the last forty', () => {
    const came = { utm: { ...noUtm, source: 'x' }, referrer: 'y' }
    expect(visitAfter(null, 'home' as DocumentId, 5, came)).toEqual({ startedAt: 5, lastAt: 5, pages: ['home'], ...came })
    const known = visit(1000)
    expect(visitAfter(known, 'plans' as DocumentId, 1001, came)).toEqual({ ...known, lastAt: 1001 })
    expect(visitAfter(known, 'more' as DocumentId, 1001, came).pages).toEqual(['home', 'plans', 'more'])
    const many = visit(1000, { pages: Array.from({ length: 40 }, (_, index) => `p-${index}` as DocumentId) })
    const { pages } = visitAfter(many, 'more' as DocumentId, 1001, came)
    expect([pages.length, pages[0], pages.at(-1)]).toEqual([40, 'p-1', 'more'])
  })
})

describe('what a browser remembers', () => {
  const page = (name: string, visits = 2, day = 20_000) => ({ page: name as DocumentId, visits, day })
  const past = { visits: 7, pages: [page('home'), page('plans', 1, 1)] }

  test('of the past comes back to its visitor, and to nobody else', () => {
    const cookie = said(writePast(past, me, signer))
    expect(readPast(cookie, me, signer)).toEqual(past)
    expect(readPast(cookie, you, signer)).toBeNull()
    expect(readPast(cookie.replace(/^7/, '8'), me, signer)).toBeNull()
    for (const none of [undefined, '', 'x', `${cookie} `, `.${cookie}`]) expect(readPast(none, me, signer)).toBeNull()
    expect(readPast(said(writePast({ visits: 1, pages: [] }, me, signer)), me, signer)).toEqual({ visits: 1, pages: [] })
  })

  test('of the past has its limits', () => {
    const many = Array.from({ length: 60 }, (_, index) => page(`p-${index}`, 5000))
    const found = readPast(said(writePast({ visits: 123_456, pages: many }, me, signer)), me, signer)
    expect(found?.visits).toBe(9999)
    expect(found?.pages).toHaveLength(50)
    expect(found?.pages[0]).toEqual(page('p-10', 999))
    // As it was written before visits and days were.
    const old = `1.home~.`
    expect(readPast(`${old.slice(0, -1)}.${signer.sign(`past ${me} 1.home~`)}`, me, signer)?.pages).toEqual([page('home', 1, 0)])
  })

  test('of goals comes back to its visitor alone, the last forty of them', () => {
    const goals = Array.from({ length: 45 }, (_, index) => `g-${index}` as GoalId)
    const cookie = said(writeReached(goals, me, signer))
    expect(readReached(cookie, me, signer)).toEqual(goals.slice(5))
    for (const [text, who] of [
      [cookie, you],
      [undefined, me],
      [`x${cookie}`, me],
      [`${cookie}x`, me],
    ] as const)
      expect(readReached(text, who, signer)).toEqual([])
    expect(readReached(said(writeReached([], me, signer)), me, signer)).toEqual([])
  })

  test('of what the site said comes back to its visitor, as far as it may still be said', () => {
    const allowed: Attribute[] = [{ name: 'member', values: ['yes', 'no'] }] as never
    const cookie = said(
      writeAbout(
        new Map([
          ['member', 'yes'],
          ['other', 'x'],
        ]),
        me,
        signer,
      ),
    )
    expect([...readAbout(cookie, me, signer, allowed)]).toEqual([['member', 'yes']])
    for (const [text, who] of [
      [cookie, you],
      [undefined, me],
      [`x${cookie}`, me],
    ] as const)
      expect(readAbout(text, who, signer, allowed).size).toBe(0)
  })

  test('of versions comes back with how they were given, the newest thirty', () => {
    const [own, carried, visit] = [anew(), anew(), anew()] as TestId[] as [TestId, TestId, TestId]
    const of = {
      kept: new Map([own, carried, visit].map((test) => [test, 'bold' as VersionId])),
      carried: new Set([carried]),
      ofVisit: new Set([visit]),
    }
    expect(said(writeKept(of))).toBe(`${own}~bold.${carried}~bold~c.${visit}~bold~v`)
    expect(readKept(said(writeKept(of)))).toEqual(of)
    expect(readKept(undefined).kept.size).toBe(0)
    expect([...readKept(`!!.${own}~bold.x y~z.${visit}~~c`).kept]).toEqual([[own, 'bold']])
    const many = new Map(Array.from({ length: 35 }, (_, index) => [`${own}-${index}` as TestId, 'b' as VersionId]))
    const kept = [...readKept(said(writeKept({ ...of, kept: many }))).kept.keys()]
    expect([kept.length, kept[0], kept.at(-1)]).toEqual([30, `${own}-5`, `${own}-34`])
  })

  test('is read once where many say the same, unless it is very long', () => {
    const cookie = `${anew()}~bold`
    expect(readKept(cookie)).toBe(readKept(cookie))
    const long = Array.from({ length: 40 }, () => `${anew()}-long~bold`).join('.')
    expect(readKept(long)).not.toBe(readKept(long))
  })
})
