import { ORIGINAL, stranger, type Condition, type Segment, type Visitor } from '../decide'
import type { SegmentId, VersionId } from '../ids'
import { SEGMENT } from '../ledger'
import { MOST_NOTED, notedSegments, noteOfSegments } from './noted-segments'
import { byNamedSegment, bySegment, type SegmentCounts } from './segments'

const bold = 'bold' as VersionId
const of = (
  value: string,
  version: VersionId,
  exposed: number,
  converters: number,
  trait: SegmentCounts['trait'] = 'device',
) => ({
  trait,
  value,
  version,
  exposed,
  converters,
})
const versions = [ORIGINAL, bold]

test('counts of several days are added up, and the value with most visitors comes first', () => {
  const [device] = bySegment([of('phone', bold, 10, 1), of('computer', ORIGINAL, 900, 90), of('phone', bold, 20, 4)], versions)
  expect(device?.values.map(({ value }) => value)).toEqual(['computer', 'phone'])
  expect(device?.values[1]?.arms[1]).toMatchObject({ version: bold, exposed: 30, converters: 5, rate: 5 / 30 })
  expect(device?.values[1]?.arms[0]).toMatchObject({ exposed: 0, rate: null, interval: null })
})

test('a variant that gains with some and loses with others is named; one that works alike is not', () => {
  const apart = [
    of('phone', ORIGINAL, 1000, 100),
    of('phone', bold, 1000, 160),
    of('computer', ORIGINAL, 1000, 100),
    of('computer', bold, 1000, 60),
  ]
  expect(bySegment(apart, versions)).toMatchObject([{ differing: [bold], comparable: true }])
  const alike = [
    of('phone', ORIGINAL, 1000, 100),
    of('phone', bold, 1000, 130),
    of('computer', ORIGINAL, 500, 50),
    of('computer', bold, 500, 64),
  ]
  expect(bySegment(alike, versions)).toMatchObject([{ differing: [], comparable: true }])
})

test('where too few reached the goal, nothing is said of a difference', () => {
  const few = [
    of('phone', ORIGINAL, 1000, 9),
    of('phone', bold, 1000, 90),
    of('computer', ORIGINAL, 1000, 90),
    of('computer', bold, 1000, 9),
  ]
  expect(bySegment(few, versions)).toMatchObject([{ differing: [], comparable: false }])
})

test('the more is asked, the more it takes', () => {
  const hardly = (trait: SegmentCounts['trait']) => [
    of('a', ORIGINAL, 1000, 100, trait),
    of('a', bold, 1000, 135, trait),
    of('b', ORIGINAL, 1000, 100, trait),
    of('b', bold, 1000, 91, trait),
  ]
  const nothing = (trait: SegmentCounts['trait']) => hardly(trait).map((one) => ({ ...one, converters: 100 }))
  expect(bySegment(hardly('device'), versions)[0]?.differing).toEqual([bold])
  const among = bySegment([...hardly('device'), ...nothing('source'), ...nothing('language'), ...nothing('returning')], versions)
  expect(among.map(({ differing }) => differing.length)).toEqual([0, 0, 0, 0])
})

describe('by segments that have a name', () => {
  const segment = (id: string, condition: Condition): Segment => ({ id: id as SegmentId, name: id, condition })
  const near = segment('near', {
    kind: 'any',
    of: [
      { kind: 'region', region: 'XP-FE' },
      { kind: 'region', region: 'XP-HA' },
    ],
  })
  const counts = ['XP-FE', 'XP-HA', 'XP-ST', 'XP-OS'].flatMap((region, at) => [
    of(region, ORIGINAL, 1000, 100, 'region'),
    of(region, bold, 1000, at < 2 ? 160 : 70, 'region'),
  ])

  test('what those whom it fits did is added up, beside all others of whom it is known', () => {
    const [found, ...more] = byNamedSegment([...counts, of('phone', bold, 500, 1)], versions, [near])
    expect(more).toEqual([])
    expect(found?.values[0]?.arms.map(({ exposed, converters }) => [exposed, converters])).toEqual([
      [2000, 200],
      [2000, 320],
    ])
    expect(found?.values[1]?.arms.map(({ converters }) => converters)).toEqual([200, 140])
    expect(found?.differing).toEqual([bold])
  })

  const both = segment('both', { kind: 'all', of: [near.condition, { kind: 'device', device: 'phone' }] })

  test('of one that asks more, what was written down of each visitor counts, as long as it asks the same', () => {
    const note = noteOfSegments([near, both])
    const visitor = (device: 'phone' | 'tablet'): Visitor => ({ ...stranger, region: 'XP-HA', device })
    // Of one that asks a trait alone nothing has to be written down.
    const [[fits, ...more], [fitsNot]] = [note(visitor('phone')), note(visitor('tablet'))] as const
    expect(more).toEqual([])
    const noted = [of(fits ?? '', bold, 70, 21, SEGMENT), of(fitsNot ?? '', bold, 40, 4, SEGMENT)]
    const [found] = byNamedSegment(noted, versions, [both])
    expect([found?.values[0]?.arms[1], found?.values[1]?.arms[1]]).toMatchObject([
      { exposed: 70, converters: 21 },
      { exposed: 40, converters: 4 },
    ])
    const changed = { ...both, condition: { kind: 'all', of: [near.condition] } as Condition }
    expect(byNamedSegment(noted, versions, [{ ...both, condition: { kind: 'none', of: [both.condition] } }, changed])).toEqual([])
    expect(byNamedSegment(noted, versions, [{ ...both, name: 'Another name' }])).toHaveLength(1)
  })

  test('the first twenty by name are written down', () => {
    const many = Array.from({ length: 30 }, (_, n) =>
      segment(`s-${String(n).padStart(2, '0')}`, { kind: 'campaign', campaign: `c${n}` }),
    )
    expect(notedSegments([...many].reverse()).map(({ id }) => id)).toEqual(many.slice(0, MOST_NOTED).map(({ id }) => id))
  })

  test.each<[string, Segment]>([
    ['asks two things at once, where nothing was written down', both],
    ['asks what is not known of them', segment('campaign', { kind: 'campaign', campaign: 'x' })],
    ['asks nothing', segment('all', { kind: 'all', of: [] })],
    ['fits nobody who came', segment('far', { kind: 'region', region: 'FR' })],
  ])('nothing is said by one that %s', (_, one) => expect(byNamedSegment(counts, versions, [one])).toEqual([]))

  test('those who came again are told from those who came first', () => {
    const again = segment('again', { kind: 'returning', returning: true })
    const [found] = byNamedSegment([of('new', bold, 70, 7, 'returning'), of('returning', bold, 30, 9, 'returning')], versions, [
      again,
    ])
    expect([found?.values[0]?.arms[1]?.exposed, found?.values[1]?.arms[1]?.exposed]).toEqual([30, 70])
  })
})
