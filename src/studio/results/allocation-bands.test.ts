import { allocationGeometry, bandsOf } from './allocation-bands'

const at = (day: number) => new Date(Date.UTC(2026, 10, day)).toISOString()
const epochs = [
  {
    since: at(1),
    arms: [
      { version: 'original', weight: 5000 },
      { version: 'bold', weight: 5000 },
    ],
  },
  {
    since: at(6),
    arms: [
      { version: 'original', weight: 2000 },
      { version: 'bold', weight: 8000 },
    ],
  },
  {
    since: at(9),
    arms: [
      { version: 'original', weight: 4000 },
      { version: 'calm', weight: 6000 },
    ],
  },
]
const bands = bandsOf(epochs, ['original', 'bold', 'calm'], Date.UTC(2026, 10, 11))

test('every stretch is filled from below to the top, by those who were drawn in it', () => {
  expect(bands.filter(({ from }) => from === 0)).toEqual([
    { version: 'original', from: 0, to: 0.5, low: 0, high: 0.5 },
    { version: 'bold', from: 0, to: 0.5, low: 0.5, high: 1 },
  ])
  for (const from of [0, 0.5, 0.8]) {
    const own = bands.filter((band) => band.from === from)
    expect(own.map(({ low }) => low)).toEqual([0, ...own.slice(0, -1).map(({ high }) => high)])
    expect(own.at(-1)?.high).toBeCloseTo(1, 12)
  }
  expect(bands.at(-1)).toMatchObject({ version: 'calm', to: 1 })
})

test('an epoch that begins as the time ends is none yet', () => {
  expect(bandsOf(epochs, ['original', 'bold', 'calm'], Date.UTC(2026, 10, 9)).some(({ version }) => version === 'calm')).toBe(
    false,
  )
  expect(bandsOf(epochs.slice(0, 1), ['original', 'bold'], Date.UTC(2026, 10, 1))).toEqual([])
})

test('as a picture nothing is beyond its frame, stretches join, and each day is written once', () => {
  expect(allocationGeometry(epochs.slice(0, 1), ['original', 'bold'], Date.UTC(2026, 10, 11))).toBeNull()
  const drawn = allocationGeometry(epochs, ['original', 'bold', 'calm'], Date.UTC(2026, 10, 11))
  const right = Math.max(...(drawn?.bands ?? []).map(({ x, width }) => x + width))
  expect([drawn?.bands[0]?.x, right]).toEqual([58, 740])
  const [below, above] = drawn?.bands ?? []
  expect((below?.y ?? 0) + (below?.height ?? 0)).toBeCloseTo(above?.y ?? 0, 9)
  for (const { y, height } of drawn?.bands ?? []) expect(y + height).toBeLessThanOrEqual(162.001)
  // Each version is marked once, where most of it is; a sliver holds no mark.
  const [, , , , , calm] = drawn?.bands ?? []
  expect(drawn?.marks.map(({ version }) => version)).toEqual(['original', 'bold', 'calm'])
  expect(drawn?.marks[2]).toEqual({
    version: 'calm',
    x: (calm?.x ?? 0) + (calm?.width ?? 0) / 2,
    y: (calm?.y ?? 0) + (calm?.height ?? 0) / 2,
  })
  const thin = epochs.map((epoch) => ({
    ...epoch,
    arms: epoch.arms.map((arm, at) => ({ ...arm, weight: at === 0 ? 9900 : 100 })),
  }))
  expect(allocationGeometry(thin, ['original', 'bold', 'calm'], Date.UTC(2026, 10, 11))?.marks).toHaveLength(1)

  // In two days an axis has places by the hour.
  const short = allocationGeometry(epochs.slice(0, 2), ['original', 'bold'], Date.UTC(2026, 10, 7))
  const hours = allocationGeometry(
    epochs.slice(0, 2).map((one, at) => ({ ...one, since: at === 0 ? '2026-11-05T09:00:00Z' : '2026-11-06T09:00:00Z' })),
    ['original', 'bold'],
    Date.UTC(2026, 10, 7, 9),
  )
  for (const { days } of [short, hours].flatMap((one) => one ?? []))
    expect(new Set(days.map(({ day }) => day.toISOString().slice(0, 10))).size).toBe(days.length)
  expect(hours?.days.map(({ day }) => day.getUTCDate())).toEqual([6, 7])
})
