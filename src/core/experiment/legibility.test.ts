import fc from 'fast-check'
import { halfCharacterIn } from '../text'
import { contrast, illegibleAnew, illegibleIn, illegibleWords, type DrawnText, type Illegibility, type Paint } from '.'

const grey = (of: number, covers = 1): Paint => ({ red: of, green: of, blue: of, covers })
const [black, white] = [grey(0), grey(255)]
const text = (more: Partial<DrawnText> = {}): DrawnText => ({
  ...{ words: 'Reserve it', left: 20, right: 200, top: 300, cut: 0, size: 16, bold: false },
  ...{ colour: black, behind: [white] },
  ...more,
})
const found = (more: Partial<DrawnText>) => illegibleIn([text(more)], 390).map(({ code }) => code)

describe('contrast', () => {
  test('is that of WCAG 2.2', () => {
    expect(contrast(black, white)).toBeCloseTo(21, 10)
    expect(contrast(grey(0x76), white)).toBeCloseTo(4.54, 2)
    expect(contrast(grey(0x77), white)).toBeCloseTo(4.48, 2)
    expect(contrast({ red: 255, green: 0, blue: 0, covers: 1 }, white)).toBeCloseTo(4.0, 2)
  })

  const paint = fc.record({
    red: fc.nat(255),
    green: fc.nat(255),
    blue: fc.nat(255),
    covers: fc.constant(1),
  })
  test('is the same either way round, one of a colour with itself, and never more than 21', () => {
    fc.assert(
      fc.property(paint, paint, (one, other) => {
        expect(contrast(one, other)).toBe(contrast(other, one))
        expect(contrast(one, one)).toBe(1)
        expect(contrast(one, other)).toBeLessThanOrEqual(21.000001)
      }),
    )
  })
})

test.each<[string, Partial<DrawnText>, string[]]>([
  ['in order', {}, []],
  ['as far as the edge', { right: 391 }, []],
  ['beyond the edge', { right: 420 }, ['beyond']],
  ['before the beginning', { left: -30 }, ['beyond']],
  ['cut off, wherever it is', { cut: 12, right: 900 }, ['cut']],
  ['grey on white, just readable', { colour: grey(0x76) }, []],
  ['grey on white, just not', { colour: grey(0x77) }, ['faint']],
  ['large, where that is enough', { colour: grey(0x90), size: 24 }, []],
  ['bold and nearly large, where that is enough', { colour: grey(0x90), size: 19, bold: true }, []],
  ['bold and small', { colour: grey(0x90), size: 18, bold: true }, ['faint']],
  ['half transparent', { colour: grey(0, 0.4) }, ['faint']],
  ['on a shade that lets the dark below through', { colour: white, behind: [grey(255, 0.2), black] }, []],
  ['on nothing but the white of the window', { colour: white, behind: [] }, ['faint']],
  ['on a picture, of which nobody can say', { colour: white, behind: null }, []],
])('words that are %s', (_, more, expected) => {
  expect(found(more)).toEqual(expected)
})

describe('what is told of a version', () => {
  const fault = (words: string): Illegibility => ({ code: 'cut', words, top: 0 })
  const faint: Illegibility = { code: 'faint', words: 'Reserve it', top: 0, ratio: 2.149, least: 4.5 }

  test('is what the original has not, once, with the devices', () => {
    const anew = illegibleAnew([
      { device: 'phone', original: [fault('Old')], version: [fault('Old'), fault('New'), faint] },
      { device: 'tablet', original: [], version: [faint, faint] },
      { device: 'computer', original: [], version: [] },
    ])
    expect(anew).toEqual([
      { fault: fault('New'), devices: ['phone'] },
      { fault: faint, devices: ['phone', 'tablet'] },
    ])
    // The same words in order on the original are the version’s own fault.
    expect(illegibleAnew([{ device: 'phone', original: [faint], version: [fault('Reserve it')] }])).toHaveLength(1)
  })

  test('says where, what and how much is missing', () => {
    expect(illegibleWords('Bold', { fault: faint, devices: ['phone', 'tablet'] })).toBe(
      'In ‘Bold’, on phones and tablets, “Reserve it” is hard to read: its colour is too close to what is behind it (2.1 to 1; 4.5 to 1 is the least).',
    )
    const long = { code: 'beyond', words: 'A sentence that goes on and on '.repeat(9), top: 0 } as const
    expect(illegibleWords('Bold', { fault: long, devices: ['computer'] }).length).toBeLessThan(160)
    const violins = { ...long, words: `a${'🎻'.repeat(60)}` } as const
    expect(halfCharacterIn(illegibleWords('Bold', { fault: violins, devices: ['computer'] }))).toBeNull()
  })
})
