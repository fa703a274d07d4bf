import { unitOf } from '@/core/decide'
import { Noted } from './noted'

const unit = (n: number) => unitOf(n.toString(16).padStart(32, '0'))

test('who was written down is known by what they were given, until that is lost', () => {
  const noted = new Noted()
  noted.add({ number: 1, unit: unit(1) })
  expect([noted.has(1, unit(1)), noted.has(2, unit(1)), noted.has(1, unit(2))]).toEqual([true, false, false])
  noted.forget({ number: 1, unit: unit(1) })
  noted.forget({ number: 1, unit: unit(2) })
  expect(noted.has(1, unit(1))).toBe(false)
})

test('of a few hundred thousand nearly all are known, and nobody who never came', () => {
  const noted = new Noted()
  for (let n = 0; n < 300_000; n++) noted.add({ number: n % 7, unit: unit(n) })
  let known = 0
  for (let n = 0; n < 300_000; n++) if (noted.has(n % 7, unit(n))) known++
  expect(known / 300_000).toBeGreaterThan(0.998)
  for (let n = 300_000; n < 400_000; n++) expect(noted.has(n % 7, unit(n))).toBe(false)
})
