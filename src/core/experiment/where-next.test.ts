import { stakeOf } from './where-next'

const place = { came: 4000, lost: 1000, worth: 2, brought: 10_000 }

describe('what lies in a place where visitors are lost', () => {
  test('is visitors × share lost × worth, and its share of all that was brought', () => {
    expect(stakeOf(place)).toMatchObject({ atStake: 4000 * 0.25 * 2, share: 0.2 })
  })

  test('a test there finds the gain that four weeks of its visitors can show, and that is worth so much', () => {
    const stake = stakeOf(place)
    expect(stake?.seen).toBeGreaterThan(0.03)
    expect(stake?.seen).toBeLessThan(0.12)
    expect(stake?.brings).toBeCloseTo(4000 * 0.75 * (stake?.seen ?? 0) * 2, 9)
  })

  test('more visitors show smaller gains', () => {
    expect(stakeOf({ ...place, came: 40_000, lost: 10_000 })?.seen).toBeLessThan(stakeOf(place)?.seen ?? 0)
  })

  test.each([
    ['few came', { came: 99 }],
    ['nobody was lost', { lost: 0 }],
    ['nothing is worth anything', { worth: 0 }],
    ['nothing was brought', { brought: 0 }],
  ])('there is none where %s', (_, change) => {
    expect(stakeOf({ ...place, ...change })).toBeNull()
  })

  test('is never more than all that was brought', () => {
    expect(stakeOf({ ...place, worth: 20 })).toMatchObject({ atStake: 10_000, share: 1 })
  })

  test('where everybody is lost, there is a stake but nobody to begin from', () => {
    expect(stakeOf({ ...place, lost: 4000 })).toMatchObject({ atStake: 8000, seen: null, brings: null })
  })
})
