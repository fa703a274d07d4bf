import type { DocumentId } from '../ids'
import { reactionOf, readerOf, type ReadersPlan } from './readers'

const plan: ReadersPlan = { opens: 0.4, follows: { original: 0.1, variant: 0.2 }, buys: 0.25 }
const call = (id: string, isVariant = false) => ({ call: id as DocumentId, isVariant })
const list = Array.from({ length: 20_000 }, (_, number) => readerOf(number))
const share = (part: number, whole: number) => part / whole

describe('the readers of a newsletter', () => {
  test('are other people each, with ids of visitors', () => {
    expect(new Set(list.map(({ visitor }) => visitor)).size).toBe(list.length)
    expect(list.every(({ visitor }) => /^[0-9a-f]{32}$/.test(visitor))).toBe(true)
  })

  test('do what is true of them, to within chance', () => {
    const reactions = list.map((reader) => reactionOf(plan, 3, reader, [call('a', reader.number % 2 === 1)]))
    const opened = reactions.filter(({ opens }) => opens !== null)
    expect(share(opened.length, list.length)).toBeCloseTo(0.4, 1)
    const followed = (odd: number) => {
      const mine = reactions.filter(({ opens }, number) => opens !== null && number % 2 === odd)
      return share(mine.filter(({ follows }) => follows !== null).length, mine.length)
    }
    expect(followed(0)).toBeGreaterThan(0.08)
    expect(followed(0)).toBeLessThan(0.12)
    expect(followed(1)).toBeGreaterThan(0.17)
    expect(followed(1)).toBeLessThan(0.23)
    const soon = opened.filter(({ opens }) => opens !== null && opens < 4)
    expect(share(soon.length, opened.length)).toBeCloseTo(0.5, 1)
  })

  test('open before they follow and follow before they buy, the same way every time', () => {
    for (const reader of list.slice(0, 3000)) {
      const reaction = reactionOf({ ...plan, buys: 1 }, 3, reader, [call('a'), call('b')])
      const { opens, follows, buys } = reaction
      expect(reactionOf({ ...plan, buys: 1 }, 3, reader, [call('a'), call('b')])).toEqual(reaction)
      if (follows === null) continue
      expect(opens).toBeLessThan(follows.after)
      expect(follows.after).toBeLessThan(buys ?? 0)
    }
  })

  test('follow nothing where nothing is asked', () => {
    expect(list.some((reader) => reactionOf(plan, 1, reader, []).follows !== null)).toBe(false)
  })
})
