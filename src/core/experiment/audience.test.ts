import { noUtm, stranger, type Condition, type Visitor } from '../decide'
import type { RoundId, TestId } from '../ids'
import { rememberedVisitor, unknownVisitor, visitorSchema, type VisitorState } from '../ledger'
import { audienceByDay, audienceSize, shareOf } from '.'

const phone: Condition = { kind: 'device', device: 'phone' }
const people = (phones: number, of: number): Visitor[] =>
  Array.from({ length: of }, (_, n) => ({ ...stranger, device: n < phones ? 'phone' : 'computer' }))

test('of those who came lately, the share that a condition would have held for', () => {
  const size = audienceSize(phone, [], people(250, 1000))
  expect(size).toMatchObject({ kind: 'share', share: 0.25, of: 1000 })
  // Wilson, worked out by hand: 0.25 ± 0.0268, drawn to the middle.
  expect(size.kind === 'share' && size.interval.map((limit) => Math.round(limit * 1000))).toEqual([224, 278])
  expect(shareOf(size)).toBe(0.25)
})

test.each<[string, Condition, number, string]>([
  ['everybody takes part', { kind: 'all', of: [] }, 1000, 'everybody'],
  ['what lies ahead is not remembered', { kind: 'dates', from: '2026-03-01', until: null }, 1000, 'unknown'],
  [
    'nor are they deep inside',
    { kind: 'any', of: [phone, { kind: 'none', of: [{ kind: 'onPageType', pageType: 'x' }] }] },
    1000,
    'unknown',
  ],
  ['too few came to say so', phone, 29, 'unknown'],
])('%s', (_, condition, came, kind) => {
  const size = audienceSize(condition, [], people(came, came))
  expect([size.kind, shareOf(size)]).toEqual([kind, 1])
})

test('when they came last, day by day', () => {
  const days = ['2026-03-01', '2026-03-02', '2026-03-03']
  const came = people(40, 60).map((visitor, n) => ({ ...visitor, moment: { day: days[n % 2] ?? '', weekday: 7, hour: 9 } }))
  expect(audienceByDay(phone, [], came, days)).toEqual([20, 20, 0])
  expect(audienceByDay({ kind: 'onPageType', pageType: 'x' }, [], came, days)).toBeNull()
})

/** Somebody who takes part in these rounds, as it is kept. */
const enrolledIn = (versions: Readonly<Record<string, string>>) => {
  const v = Object.values(versions).map((version) => ({ version, assignedAt: 0, exposedAt: 0, progress: {} }))
  return visitorSchema.shape.enrolments.decode({ k: Object.keys(versions), v } as never)
}

describe('a visitor as counting remembers them', () => {
  const state: VisitorState = {
    ...unknownVisitor(),
    visit: {
      ...{ number: 2, beganAt: 0, lastAt: 60_000, document: 'home', lastDocument: 'harp', documents: ['home', 'harp'] },
      ...{ stayed: true, source: 'search', device: 'phone', language: 'cy', region: 'XP-FE' },
      ...{
        utm: { campaign: 'First notes' },
        referrer: 'guild.example',
        attributes: [['membership', 'family'] as [string, string]],
      },
    },
    enrolments: enrolledIn({ 't-3-r2': 'bold', 'home.title-r1': 'v-rule' }),
    presence: { day: '1970-01-01', known: new Set(['home', 'harp', 'plans', '*', 'u:*', 'g:reserved', 'from:search']) },
  }
  const around = {
    pageTypeOf: (page: string) => (page === 'harp' ? 'Instrument' : undefined),
    clockOf: () => ({ day: '2026-03-05', weekday: 4, hour: 0 }),
    testOf: (round: RoundId) => (round.startsWith('t-3-') ? ('t-3' as TestId) : null),
  }

  test('is on the visit they made last, with the pages of before', () => {
    const visitor = rememberedVisitor(state, around)
    expect(visitor).toMatchObject({
      ...{ device: 'phone', visits: 2, language: 'cy', region: 'XP-FE', moment: { day: '2026-03-05', weekday: 4, hour: 0 } },
      beginning: { source: 'search', utm: { ...noUtm, campaign: 'First notes' }, referrer: 'guild.example' },
      attributes: new Map([['membership', 'family']]),
      goalsReached: ['reserved'],
      kept: new Map([['t-3', 'bold']]),
      pagesSeen: [{ page: 'home' }, { page: 'harp', pageType: 'Instrument' }],
    })
    expect(visitor?.pagesEver.map(({ page }) => page)).toEqual(['home', 'harp', 'plans'])
  })

  test('is nobody where no visit is remembered', () => expect(rememberedVisitor(unknownVisitor(), around)).toBeNull())
})
