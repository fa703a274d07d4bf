import type { RoundId } from '../ids'
import { cloudEventSchema, happenedOutside, outsideReportSchema, reportOfCloudEvent } from './from-elsewhere'

const DAY = 86_400_000
const now = Date.parse('2026-03-20T12:00:00Z')
const visitor = 'f'.repeat(32)
const site = {
  currency: 'EUR',
  roundOf: (test: string, version: string) => (test === 't-1' && version === 'original' ? ('r-1' as RoundId) : null),
}
const taken = (report: object) => happenedOutside(outsideReportSchema.parse({ id: 'a', ...report }), now, site)
const faultAt = (report: object) => outsideReportSchema.safeParse({ id: 'a', ...report }).error?.issues[0]?.path

test('a report says what happened and when; now where nothing is said, and never later', () => {
  const when = (at?: string) => taken({ kind: 'event', name: 'tuned', ...(at === undefined ? {} : { at }) })
  const tuned = { happening: { kind: 'event', name: 'tuned', value: null } }
  expect(when()).toEqual({ at: new Date(now), ...tuned })
  expect(when('2026-03-01T13:00:00+01:00')).toEqual({ at: new Date('2026-03-01T12:00:00Z'), ...tuned })
  // A clock that is five minutes ahead is now; more than that is wrong.
  expect(when('2026-03-20T12:05:00Z')).toEqual({ at: new Date(now), ...tuned })
  expect(when('2026-03-20T12:05:01Z')).toMatchObject({ field: 'at' })
  expect(when(new Date(now - 90 * DAY).toISOString())).toMatchObject(tuned)
  expect(when(new Date(now - 90 * DAY - 1).toISOString())).toMatchObject({ field: 'at' })
})

test('an order counts what it brought, a refund takes it back, and an event may be worth something', () => {
  const happening = (report: object) => {
    const found = taken(report)
    return 'happening' in found ? found.happening : found
  }
  expect(happening({ kind: 'order', order: 'P-1', value: 30, currency: 'EUR' })).toEqual({
    kind: 'order',
    order: 'P-1',
    value: 30,
  })
  expect(happening({ kind: 'refund', order: 'P-1', value: 30 })).toEqual({ kind: 'order', order: 'P-1', value: -30 })
  expect(happening({ kind: 'event', name: 'tuned', value: 0 })).toEqual({ kind: 'event', name: 'tuned', value: 0 })
  expect(happening({ kind: 'order', order: 'P-1', value: 30, currency: 'USD' })).toMatchObject({ field: 'currency' })
})

test('a version that was decided elsewhere is seen in the round that is live, by somebody', () => {
  const seen = { kind: 'exposure', visitor, test: 't-1', version: 'original' }
  expect(taken(seen)).toEqual({ at: new Date(now), happening: { kind: 'seen', round: 'r-1', version: 'original' } })
  expect(taken({ ...seen, version: 'other' })).toMatchObject({ field: 'test' })
  expect(faultAt({ ...seen, visitor: undefined })).toEqual(['visitor'])
})

test('what is not well formed is refused at its field', () => {
  expect(faultAt({ kind: 'order', order: 'a b', value: 1 })).toEqual(['order'])
  expect(faultAt({ kind: 'order', order: 'a', value: -1 })).toEqual(['value'])
  expect(faultAt({ kind: 'order', order: 'a', value: 1_000_000 })).toBeUndefined()
  expect(faultAt({ kind: 'order', order: 'a', value: 1_000_000.5 })).toEqual(['value'])
  expect(faultAt({ kind: 'event', name: 'tuned', visitor: 'F'.repeat(32) })).toEqual(['visitor'])
  expect(faultAt({ kind: 'event', name: 'tuned', visitor: `${visitor}f` })).toEqual(['visitor'])
  expect(faultAt({ kind: 'event', name: 'tuned', id: '' })).toEqual(['id'])
  expect(faultAt({ kind: 'event', name: 'tuned', id: 'i'.repeat(121) })).toEqual(['id'])
  expect(faultAt({ kind: 'event', name: 'tuned', currency: 'EURO' })).toEqual(['currency'])
  expect(faultAt({ kind: 'event', name: 'tuned', more: 1 })).toEqual([])
  expect(outsideReportSchema.parse({ id: 'a', kind: 'order', order: `a._-${'9'.repeat(56)}`, value: 0 })).toBeTruthy()
  expect(faultAt({ kind: 'order', order: 'a'.repeat(61), value: 0 })).toEqual(['order'])
})

describe('a CloudEvent', () => {
  const event = (more: object = {}) =>
    cloudEventSchema.parse({ specversion: '1.0', id: '7', source: '/shop', type: 'order', ...more })

  test('is the report that its type, subject, time and data make it', () => {
    const data = { order: 'P-1', value: 30, currency: 'EUR', more: true }
    expect(reportOfCloudEvent(event({ subject: visitor, time: '2026-03-01T12:00:00Z' }), 'one', data)).toEqual({
      ...{ id: 'one', visitor, at: '2026-03-01T12:00:00Z', currency: 'EUR', value: 30, kind: 'order', order: 'P-1' },
    })
    expect(reportOfCloudEvent(event({ type: 'refund' }), 'one', data)).toMatchObject({ kind: 'refund', order: 'P-1' })
    expect(reportOfCloudEvent(event({ type: 'tuned' }), 'one', data)).toEqual({
      ...{ id: 'one', currency: 'EUR', value: 30, kind: 'event', name: 'tuned' },
    })
  })

  test('says nothing more where its data are none, or no object, or not what is asked for', () => {
    const bare = { id: 'one', kind: 'event', name: 'tuned' }
    for (const data of [undefined, null, 'words', 7, [1], { value: 'much' }])
      expect(reportOfCloudEvent(event({ type: 'tuned', subject: null, time: null }), 'one', data)).toEqual(bare)
  })

  test('is of the version that is read, has an id, and carries base64 that is base64', () => {
    const fault = (more: object) =>
      cloudEventSchema.safeParse({ specversion: '1.0', id: '7', source: '/shop', type: 'order', ...more }).error?.issues[0]?.path
    expect(fault({ specversion: '0.3' })).toEqual(['specversion'])
    expect(fault({ id: '' })).toEqual(['id'])
    expect(fault({ source: '' })).toEqual(['source'])
    expect(fault({ type: 't'.repeat(61) })).toEqual(['type'])
    expect(fault({ time: 'yesterday' })).toEqual(['time'])
    expect(fault({ data_base64: 'a+/Z9==' })).toBeUndefined()
    for (const data_base64 of ['*', 'a===', '=a', ' a']) expect(fault({ data_base64 })).toEqual(['data_base64'])
  })
})
