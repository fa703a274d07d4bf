import { ORIGINAL } from '../decide'
import type { RoundId, VersionId } from '../ids'
import { besideOthers, besideWords, type BesideCounts } from './beside'

const [bold, calm, constructor] = ['bold', 'calm', 'constructor'] as VersionId[] as [VersionId, VersionId, VersionId]
const menu = 't-2-1' as RoundId
const row = (version: VersionId, shown: VersionId, exposed: number, converters: number, other = menu): BesideCounts => ({
  ...{ version, other, shown, exposed, converters },
})
const names = { version: (id: VersionId) => (id === ORIGINAL ? 'Original' : id), goal: () => '', page: () => '' }
const grid = (rates: readonly [number, number, number, number], other = menu, shown = calm) => [
  row(ORIGINAL, ORIGINAL, 2000, 2000 * rates[0], other),
  row(ORIGINAL, shown, 2000, 2000 * rates[1], other),
  row(bold, ORIGINAL, 2000, 2000 * rates[2], other),
  row(bold, shown, 2000, 2000 * rates[3], other),
]

test('two tests that each do the same whatever the other shows leave each other alone', () => {
  const [found] = besideOthers(grid([0.1, 0.13, 0.12, 0.15]))
  expect(found).toMatchObject({ other: menu, visitors: 8000, comparable: true, together: [] })
  expect(found && besideWords(found, 'Menu', names, names)).toBe('“Menu”: nothing says that the two tests change each other.')
})

test('a variant that gains alone and loses with the other’s is named, with by how much', () => {
  const [found] = besideOthers(grid([0.1, 0.13, 0.13, 0.1], menu, constructor))
  expect(found?.together).toMatchObject([{ version: bold, shown: constructor }])
  expect(found?.together[0]?.effect).toBeCloseTo(-0.06)
  expect(found && besideWords(found, 'Menu', names, names)).toMatch(
    /‘bold’ with its ‘constructor’ brings less than the two by themselves: between −\d.*points/,
  )
})

test('few converters in any corner say nothing, and the more is asked, the more it takes', () => {
  expect(besideOthers(grid([0.004, 0.13, 0.13, 0.1]))[0]).toMatchObject({ comparable: false, together: [] })
  const hardly = [0.1, 0.1, 0.1, 0.128] as const
  expect(besideOthers(grid(hardly))[0]?.together).toHaveLength(1)
  const many = Array.from({ length: 12 }, (_, at) => grid([0.1, 0.1, 0.1, 0.1], `t-${at + 3}-1` as RoundId)).flat()
  expect(besideOthers([...grid(hardly), ...many]).every(({ together }) => together.length === 0)).toBe(true)
})
