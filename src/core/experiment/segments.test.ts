import { ORIGINAL } from '../decide'
import type { VersionId } from '../ids'
import { bySegment, type SegmentCounts } from './segments'

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
